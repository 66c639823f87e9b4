"""Measuring a tool at the setter."""

from collections.abc import Callable, Iterable, Iterator
from typing import Any

from orthotrope.errors import OrthotropeError
from orthotrope.proof.case import Case
from orthotrope.proof.digest import digest_of, plain
from orthotrope.proof.measuring import MeasuringRef, measurable, measuring_case, prove_tool
from orthotrope.proof.sequences.registry import REFS, SEQUENCES, SequenceKind, SequenceResult, no_text
from orthotrope.setup import Setup, read_setup
from orthotrope.units import shown_in

FOR_PEOPLE = {
    "name",
    "in_use",
    "greatest_wear",
    "notes",
    "fetched_a_shift",
    "cutting",
    "flutes",
    "cutting_length",
    "corner_radius",
    "angle_deg",
}
"""The fields of a tool that no program and no check uses."""

MEASURE = "measure "


def _every(setup: Setup) -> list[MeasuringRef]:
    return [MeasuringRef(tools=(number,)) for number in measurable(setup)]


def _cases(setup: Setup) -> Callable[[MeasuringRef], Case | None]:
    return lambda ref: measuring_case(setup, setup.profile, ref.name, ref.tools, ref.setter)[1]


def _prove(
    document: dict[str, Any], refs: list[MeasuringRef], imported: str | None, prepared: Any
) -> list[SequenceResult]:
    setup = read_setup(document)

    def result(ref: MeasuringRef) -> SequenceResult:
        try:
            return prove_tool(setup, ref.tools[0], imported)
        except OrthotropeError as none:
            return no_text(ref, none)

    with shown_in(setup.machine.unit):
        return [result(ref) for ref in refs]


def _digests(setup: Setup, imported: str) -> dict[str, str]:
    """The setters and the tool: beside what is shared its text is written from nothing else. Writing every text on every save would
    take longer than the save."""
    tools = measurable(setup) if not imported else []
    setters = plain([[setter.model_dump(exclude={"name"}) for setter in setup.setters]]) if tools else ""
    return {
        f"{MEASURE}{number}": digest_of([setters, setup.tool(number).model_dump(exclude=FOR_PEOPLE)])
        for number in tools
    }


def _addressed(names: Iterable[str]) -> Iterator[MeasuringRef]:
    numbers = (int(name.removeprefix(MEASURE)) for name in names if name.startswith(MEASURE))
    return (MeasuringRef(tools=(number,)) for number in numbers)


def _as_case(ref: MeasuringRef) -> dict[str, Any]:
    (tool,) = ref.tools
    return {"sequence": ref.name, "tool": tool, "from": tool, "to": tool}


REFS.add("measuring", MeasuringRef)
SEQUENCES.add(
    "measuring",
    SequenceKind(
        ref=MeasuringRef,
        option="measuring",
        needs="A setter and a tool are needed",
        every=_every,
        once=_every,
        cases=_cases,
        prove=_prove,
        digests=_digests,
        address=lambda ref: (f"{MEASURE}{ref.tools[0]}",),
        addressed=_addressed,
        in_words=lambda ref: f"measuring {', '.join(f'T{tool}' for tool in ref.tools)}",
        as_case=_as_case,
        tools=lambda ref: frozenset(ref.tools),
        concerns=lambda setup, ref, section, index: section not in ("routines", "probes"),
    ),
)
