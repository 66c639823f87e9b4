"""Measuring a tool at the setter."""

from collections.abc import Callable, Iterable, Iterator
from typing import Any

from orthotrope.errors import OrthotropeError
from orthotrope.proof.case import Case
from orthotrope.proof.digest import digest_of, plain
from orthotrope.proof.measuring import MeasuringRef, measurable, measuring_case, prove_measuring
from orthotrope.proof.sequences.registry import REFS, SEQUENCES, Choice, SequenceKind, SequenceResult, no_text
from orthotrope.sequence.measuring.registry import MEASURING, USUAL
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


def _every(setup: Setup) -> list[MeasuringRef]:
    """The length of each tool; of the other sequences one with the longest tool, which has the least room."""
    tools = [setup.tool(number) for number in measurable(setup)]
    lengths = [MeasuringRef(tools=(tool.number,)) for tool in tools]
    return [*lengths, *_others(setup)]


def _others(setup: Setup) -> list[MeasuringRef]:
    longest = max(setup.measured(), key=lambda tool: tool.whole_length, default=None)
    if longest is None:
        return []
    laid = {setter.lies_on > 0 for setter in setup.setters}
    return [
        MeasuringRef(name=name, tools=(longest.number,))
        for name, kind in MEASURING.items()
        if name != USUAL and kind.is_laid in laid
    ]


def _cases(setup: Setup) -> Callable[[MeasuringRef], Case | None]:
    return lambda ref: measuring_case(setup, setup.profile, ref.name, ref.tools, ref.setter)[1]


def _prove(
    document: dict[str, Any], refs: list[MeasuringRef], imported: str | None, prepared: Any
) -> list[SequenceResult]:
    setup = read_setup(document)

    def result(ref: MeasuringRef) -> SequenceResult:
        try:
            return prove_measuring(setup, ref, imported)
        except OrthotropeError as none:
            return no_text(ref, none)

    with shown_in(setup.machine.unit):
        return [result(ref) for ref in refs]


def _digests(setup: Setup, imported: str) -> dict[str, str]:
    """The setters and the tool: beside what is shared its text is written from nothing else. Writing every text on every save would
    take longer than the save."""
    every = [] if imported else _every(setup)
    setters = plain([[setter.model_dump(exclude={"name"}) for setter in setup.setters]]) if every else ""
    tools = plain([[tool.model_dump(exclude=FOR_PEOPLE) for tool in setup.tools]]) if every else ""
    return {
        _part(ref): digest_of(
            [setters, setup.tool(ref.tools[0]).model_dump(exclude=FOR_PEOPLE) if ref.name == USUAL else tools]
        )
        for ref in every
    }


def _part(ref: MeasuringRef) -> str:
    return f"{ref.name} {ref.tools[0]}"


def _addressed(names: Iterable[str]) -> Iterator[MeasuringRef]:
    for part in names:
        name, _, number = part.rpartition(" ")
        if name in MEASURING and number.isdecimal():
            yield MeasuringRef(name=name, tools=(int(number),))


def _in_words(ref: MeasuringRef) -> str:
    tools = ", ".join(f"T{tool}" for tool in ref.tools)
    return f"measuring {tools}" if ref.name == USUAL else f"{ref.name} with {tools}"


def _as_case(ref: MeasuringRef) -> dict[str, Any]:
    (tool,) = ref.tools
    return {"sequence": ref.name, "tool": tool, "from": tool, "to": tool}


def _chosen(every: list[MeasuringRef], choice: Choice) -> list[MeasuringRef]:
    """A sequence is proven with any tool that is named, also one that it is not proven with usually."""
    if choice.name is not None or choice.from_tool is not None or choice.to_tool is not None:
        return []
    name, tool = choice.sequence, choice.tool
    if name is not None and tool is not None:
        return [MeasuringRef(name=name, tools=(tool,))]
    return [ref for ref in every if name in (None, ref.name) and (tool is None or tool in ref.tools)]


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
        written=lambda setup, ref: measuring_case(setup, setup.profile, ref.name, ref.tools, ref.setter)[0],
        prove=_prove,
        digests=_digests,
        address=lambda ref: (_part(ref),),
        addressed=_addressed,
        in_words=_in_words,
        as_case=_as_case,
        chosen=_chosen,
        tools=lambda ref: frozenset(ref.tools),
        concerns=lambda setup, ref, section, index: section not in ("routines", "probes"),
    ),
)
