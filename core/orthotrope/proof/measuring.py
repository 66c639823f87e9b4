"""The proof of measuring: every tool at the setter, as it should go, under every fault, and from every caller."""

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from orthotrope.calc.derived import derive
from orthotrope.calc.setters import setter_for
from orthotrope.machine.run import Call
from orthotrope.program.reader import read_text
from orthotrope.program.writer import write
from orthotrope.proof.callers import called_after_others, called_from_elsewhere, called_in_combination, called_otherwise
from orthotrope.proof.case import Case, MeasuredValue, findings_of
from orthotrope.proof.completing import refused
from orthotrope.proof.conflicts import device_findings
from orthotrope.proof.fault_runs import SharedRun
from orthotrope.proof.findings import SEVERITIES, worst_first
from orthotrope.proof.review import called_at
from orthotrope.proof.sequences.registry import SequenceRef, SequenceResult
from orthotrope.proof.verdicts import judge_faults, judge_faults_called
from orthotrope.proof.worlds import nominal_world
from orthotrope.sequence.allotment import Allotment
from orthotrope.sequence.measuring import plan_measuring
from orthotrope.sequence.measuring.plate import USUAL_OFFSET
from orthotrope.sequence.measuring.registry import MEASURING, MeasuringKind
from orthotrope.setup import Setup
from orthotrope.setup.control import ControlProfile
from orthotrope.setup.setters import Setter
from orthotrope.setup.tools import Tool


class MeasuringRef(SequenceRef):
    """A measuring sequence by its name, of these tools, at a setter by its name (None: the one that is usual)."""

    kind: Literal["measuring"] = "measuring"
    name: str = "measure"
    tools: Annotated[tuple[int, ...], Field(strict=False, min_length=1)]
    setter: str | None = None


def measurable(setup: Setup) -> list[int]:
    """The tools that are measured, in their order; none without a setter."""
    return [tool.number for tool in setup.measured()] if any(not setter.lies_on for setter in setup.setters) else []


def measuring_case(
    setup: Setup, profile: ControlProfile, name: str, tools: tuple[int, ...], setter: str | None = None
) -> tuple[str, Case]:
    """Text and case of a measuring sequence in the nominal world, with its first tool in the spindle.

    Raises:
        InputError: see :func:`plan_measuring`.
    """
    at = called_at(setup)
    text = write(plan_measuring(setup, name, tools, profile, setter, at[:2]), profile)
    kind, derived = MEASURING[name], derive(setup)
    on = None if kind.finds == "nothing" else setter_for(setup, derived, setter, kind.is_laid).setter
    held = tools[0] if tools else 0
    call = Call(at, from_tool=held, to_tool=tools[-1] if tools else held)
    world = nominal_world(setup, on if kind.is_laid else None)
    measured = _to_be_found(
        kind, on, Allotment(profile.parameters).number("result"), setup.tool(held) if held else None
    )
    return text, Case(read_text(text), profile, "measure", world, call, setup, derived, measured=measured)


def _to_be_found(kind: MeasuringKind, on: Setter | None, result: int, tool: Tool | None) -> MeasuredValue | None:
    """What a sequence is for on its setter; None: to set a length."""
    if kind.finds == "length":
        return None
    if tool is None:
        return None
    if on is None:
        return MeasuredValue("length in force", "length-active", tool.number, tool.whole_length)
    if kind.finds == "plane":
        return MeasuredValue(f"plane height of {on.name}", "set", result, on.plane_z)
    if kind.finds == "deviation":
        return MeasuredValue("deviation of the tool", "set", result, 0.0, tool.breakage)
    offset = on.work_offset or USUAL_OFFSET
    return MeasuredValue(f"Z of work offset {offset}", "zero-set", offset, on.plane_z - on.lies_on)


def prove_tool(setup: Setup, number: int, imported: str | None = None) -> SequenceResult:
    """What measuring a tool comes to; ``imported``: with another text that is to measure it."""
    return prove_measuring(setup, MeasuringRef(tools=(number,)), imported)


def prove_measuring(setup: Setup, ref: MeasuringRef, imported: str | None = None) -> SequenceResult:
    """What a measuring sequence comes to; ``imported``: with another text in its place.

    Raises:
        InputError: see :func:`plan_measuring`.
    """
    _, case = measuring_case(setup, setup.profile, ref.name, ref.tools, ref.setter)
    if imported is not None:
        case = replace(case, program=read_text(imported), _runs={})
    if not case.program.readable:
        return SequenceResult(ref, "stop", tuple(worst_first(findings_of(case, "static"))), 0.0)
    kind = MEASURING[ref.name]
    touches = kind.finds != "nothing"
    whole = ref.name != "measure" or not representatives(setup).isdisjoint(ref.tools)
    shared = SharedRun(case, looks=True)
    on = setter_for(setup, derive(setup), ref.setter, kind.is_laid).index if touches else None
    findings = worst_first(
        [
            *(device_findings(setup, f"/setters/{on}") if on is not None else ()),
            *findings_of(case, "static", "text", "run"),
            *called_from_elsewhere(case, whole),
            *(called_otherwise(case) if whole else ()),
            *(called_after_others(case) if whole else ()),
            *(called_in_combination(case) if whole else ()),
        ]
    )
    if not any(finding.severity == "stop" for finding in findings):
        findings += refused(case)
    judged = () if case.main.endless else tuple(judge_faults(case, shared))
    if whole and judged:
        findings = worst_first([*findings, *judge_faults_called(case, judged)])
    worst = next((severity for severity in SEVERITIES if any(f.severity == severity for f in findings)), None)
    left = tuple(case.unreached()) if whole and judged else None  # others have the same blocks, and are called less
    return SequenceResult(
        ref, worst, tuple(findings), case.main.trace.seconds, judged, closest=case.closest, unreached=left
    )


def representatives(setup: Setup) -> set[int]:
    """The tools that are called in every way: of those whose texts have the same blocks the longest and the shortest, which
    between them run all that the others do."""
    alike: dict[tuple[bool, ...], list[Tool]] = {}
    for tool in sorted(setup.tools, key=lambda tool: tool.whole_length):
        shape = tool.turns_backwards, tool.edge_height is not None, tool.off_axis > 0
        alike.setdefault(shape, []).append(tool)
    return {tool.number for tools in alike.values() for tool in (tools[0], tools[-1])}
