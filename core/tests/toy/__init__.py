"""A style of changer that is nowhere else, with its own roles, a fault, a check, a type of step and a calculation: a
row of pins from which a magnet in the spindle takes its tools. It shows that a kind is added by what is in its
folder."""

import importlib
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from orthotrope.calc import CALCULATIONS
from orthotrope.calc.derived import DERIVING
from orthotrope.proof.case import CHECKS
from orthotrope.proof.conflicts import CONFLICTS
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.judging import DETECTION
from orthotrope.proof.worlds import WORLDS
from orthotrope.registry import Registry
from orthotrope.sequence.exchanges.registry import PLANNERS
from orthotrope.setup.changer import CHANGERS
from orthotrope.setup.roles import INPUT_ROLES, OUTPUT_ROLES
from orthotrope.setup.templates import bare_setup, changer_template

REGISTRIES: tuple[Registry[Any], ...] = (
    CALCULATIONS,
    CHANGERS,
    CHECKS,
    CONFLICTS,
    DERIVING,
    FAULTS,
    INPUT_ROLES,
    OUTPUT_ROLES,
    PLANNERS,
    DETECTION,
    WORLDS,
)
MODULES = (
    "calculation",
    "checks",
    "conflicts",
    "derive",
    "fault",
    "machine",
    "model",
    "plan",
    "step",
    "detection",
    "world",
)

_own: list[dict[str, Any]] = []


@contextmanager
def present() -> Iterator[None]:
    """The toy kinds are registered in this context, and in no other."""
    if not _own:
        before = [set(registry) for registry in REGISTRIES]
        for module in MODULES:
            importlib.import_module(f"toy.{module}")
        _own.extend(
            {n: entry for n, entry in r.items() if n not in known} for r, known in zip(REGISTRIES, before, strict=True)
        )
    else:
        for registry, entries in zip(REGISTRIES, _own, strict=True):
            for name, entry in entries.items():
                registry.add(name, entry)
    try:
        yield
    finally:
        for registry, entries in zip(REGISTRIES, _own, strict=True):
            for name in entries:
                registry.remove(name)


def document() -> dict[str, Any]:
    """A machine with this changer, two tools on their pins, and the signals of the magnet."""
    setup = bare_setup("Toy")
    tools = [
        {"number": n, "name": f"cutter {n}", "diameter": 6.0, "length": 50.0 + n, "stick_out": 25.0, "pocket": n}
        for n in (1, 2, 3)
    ]
    wired = {"terminal": "A", "wiring": "normally open", "level": "low"}
    return {
        **setup.as_json(),
        "changer": changer_template(setup, "magnet row").model_dump(mode="json"),
        "tools": tools,
        "inputs": [{"number": 1, "name": "held", "role": "tool held", **wired}],
        "outputs": [
            {
                "number": 1,
                "name": "magnet",
                "role": "magnet",
                "terminal": "B",
                "word_on": "M8",
                "word_off": "M9",
                "seconds": 0.2,
            }
        ],
    }
