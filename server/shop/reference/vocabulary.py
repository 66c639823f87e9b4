"""The core's words, for the screen to offer: what is in a registry is on the screen."""

from dataclasses import dataclass
from functools import cache
from typing import get_args

from orthotrope.proof.case import PURPOSES, Purpose
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.judging import VERDICTS, Verdict
from orthotrope.proof.starting import MACHINE_KINDS
from orthotrope.setup import setup_schema
from orthotrope.setup.changer import CHANGERS
from orthotrope.setup.keys import KEYS
from orthotrope.setup.probes import PROBES
from orthotrope.setup.quantities import QUANTITIES, UNKEYED, units
from orthotrope.setup.roles import INPUT_ROLES, OUTPUT_ROLES
from orthotrope.setup.setters import SETTERS
from orthotrope.setup.tools import ToolType


@dataclass(frozen=True, slots=True)
class StyleWords:
    """A style of changer: the roles of the signals that its exchanges use, and its own words for the heights."""

    sensors: tuple[str, ...]
    switches: tuple[str, ...]
    words: dict[str, str]


@dataclass(frozen=True, slots=True)
class QuantityWords:
    """What a quantity is called, what it is, how it is found and what is usual ("": nothing is to be said); the core's ``unit`` ("": none)."""

    name: str
    what: str
    how: str
    usual: str
    unit: str


@dataclass(frozen=True, slots=True)
class DeviceWords:
    """A kind of setter or probe: the roles of the inputs that it usually makes, the most usual first, and the type that its tool must
    have ("": any)."""

    roles: tuple[str, ...]
    tool_type: str = ""


@dataclass(frozen=True, slots=True)
class Vocabulary:
    """``quantities``: by the end of their pointers, where `*` is an entry of a list in ``keys`` or ``unkeyed``. ``machine_kinds``: the kinds of machine that one begins with, and the travel that is offered of X, Y and Z, mm. Roles of signals (``touch_roles``: of inputs that a touch makes), faults, verdicts, purposes of programs, types of tools and styles of changer with what they are called; ``keys``: the field that
    tells the entries of a list apart."""

    input_roles: list[str]
    touch_roles: list[str]
    output_roles: list[str]
    keys: dict[str, str]
    verdicts: dict[Verdict, str]
    faults: dict[str, str]
    purposes: dict[Purpose, str]
    styles: dict[str, StyleWords]
    setter_kinds: dict[str, DeviceWords]
    probe_kinds: dict[str, DeviceWords]
    tool_types: list[str]
    machine_kinds: dict[str, tuple[float, float, float]]
    quantities: dict[str, QuantityWords]
    unkeyed: list[str]


@cache
def _quantities() -> dict[str, QuantityWords]:
    found = units(setup_schema())
    return {end: QuantityWords(*quantity, found.get(end, "")) for end, quantity in QUANTITIES.items()}


def vocabulary() -> Vocabulary:
    """All of it, as it is registered now."""
    return Vocabulary(
        input_roles=list(INPUT_ROLES),
        touch_roles=[role.name for role in INPUT_ROLES.values() if role.touch],
        output_roles=list(OUTPUT_ROLES),
        keys=KEYS,
        verdicts=VERDICTS,
        faults={name: fault.label for name, fault in FAULTS.items()},
        purposes=PURPOSES,
        styles={name: StyleWords(style.sensors, style.switches, style.words) for name, style in CHANGERS.items()},
        setter_kinds={name: DeviceWords(kind.usual_roles) for name, kind in SETTERS.items()},
        probe_kinds={name: DeviceWords(kind.usual_roles, kind.tool_type or "") for name, kind in PROBES.items()},
        tool_types=list(get_args(ToolType)),
        quantities=_quantities(),
        unkeyed=sorted(UNKEYED),
        machine_kinds={name: kind.travel for name, kind in MACHINE_KINDS.items()},
    )
