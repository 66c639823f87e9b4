"""The proof of measuring: every tool at the setter, as it should go, under every fault, and from every caller."""

from dataclasses import dataclass, replace
from typing import Any

from orthotrope.calc.derived import derive
from orthotrope.calc.setters import setter_for
from orthotrope.machine.passing import Passing
from orthotrope.machine.run import Call
from orthotrope.program.reader import read_text
from orthotrope.program.writer import write
from orthotrope.proof.callers import called_after_others, called_from_elsewhere, called_otherwise
from orthotrope.proof.case import Case, findings_of
from orthotrope.proof.completing import refused
from orthotrope.proof.conflicts import device_findings
from orthotrope.proof.findings import FINDING, SEVERITIES, Finding, Severity, worst_first
from orthotrope.proof.judging import FaultResult
from orthotrope.proof.review import called_at
from orthotrope.proof.sharing import SharedRun
from orthotrope.proof.verdicts import judge_faults
from orthotrope.proof.worlds import nominal_world
from orthotrope.sequence.measuring import plan_measuring
from orthotrope.sequence.measuring.registry import LAID
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.control import ControlProfile
from orthotrope.setup.tools import Tool
from orthotrope.units import shown_in


@dataclass(frozen=True, slots=True)
class ToolResult:
    """A tool's measuring, run: the worst severity found (None: nothing), its findings, its seconds, and its verdict
    under each fault; ``closest``: what it passes closest; ``unreached``: lines
    of its text that none of its cases reached (None: that was not looked at)."""

    tool: int
    worst: Severity | None
    findings: tuple[Finding, ...]
    seconds: float
    faults: tuple[FaultResult, ...] = ()
    closest: Passing | None = None
    unreached: tuple[int, ...] | None = None

    def as_json(self) -> dict[str, Any]:
        return {
            "tool": self.tool,
            "worst": self.worst,
            "seconds": self.seconds,
            "findings": [FINDING.dump_python(finding, mode="json") for finding in self.findings],
            "faults": [fault.as_json() for fault in self.faults],
            "closest": self.closest.as_json() if self.closest else None,
            "unreached": None if self.unreached is None else list(self.unreached),
        }


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
    laid = setter_for(setup, derive(setup), setter, True).setter if name in LAID else None
    held = tools[0] if tools else 0
    call = Call(at, from_tool=held, to_tool=tools[-1] if tools else held)
    return text, Case(read_text(text), profile, "measure", nominal_world(setup, laid), call, setup, derive(setup))


def prove_tool(setup: Setup, number: int, brought: str | None = None) -> ToolResult:
    """What measuring a tool comes to; ``brought``: with another text that is to measure it."""
    _, case = measuring_case(setup, setup.profile, "measure", (number,))
    if brought is not None:
        case = replace(case, program=read_text(brought), _runs={})
    if not case.program.readable:
        return ToolResult(number, "stop", tuple(worst_first(findings_of(case, "static"))), 0.0)
    shared, whole = SharedRun(case, looks=True), number in _representatives(setup)
    findings = worst_first(
        [
            *device_findings(setup, f"/setters/{setter_for(setup, derive(setup), None, False).index}"),
            *findings_of(case, "static", "text", "run"),
            *called_from_elsewhere(case, whole),
            *(called_otherwise(case) if whole else ()),
            *(called_after_others(case) if whole else ()),
        ]
    )
    if not any(finding.severity == "stop" for finding in findings):
        findings += refused(case)
    worst = next((severity for severity in SEVERITIES if any(f.severity == severity for f in findings)), None)
    judged = () if case.main.endless else tuple(judge_faults(case, shared))
    left = tuple(case.unreached()) if whole and judged else None  # others have the same blocks, and are called less
    return ToolResult(number, worst, tuple(findings), case.main.trace.seconds, judged, case.closest, left)


def _representatives(setup: Setup) -> set[int]:
    """The tools that are called in every way: of those whose texts have the same blocks the longest and the shortest, which
    between them run all that the others do."""
    alike: dict[tuple[bool, ...], list[Tool]] = {}
    for tool in sorted(setup.tools, key=lambda tool: tool.whole_length):
        shape = tool.turns_backwards, tool.edge_height is not None, tool.off_axis > 0
        alike.setdefault(shape, []).append(tool)
    return {tool.number for tools in alike.values() for tool in (tools[0], tools[-1])}


def prove_tools(document: dict[str, Any], tools: list[int], brought: str | None = None) -> list[dict[str, Any]]:
    """Results of measuring these tools, as plain values: what a process of a pool is given and returns."""
    setup = read_setup(document)
    with shown_in(setup.machine.unit):
        return [prove_tool(setup, number, brought).as_json() for number in tools]
