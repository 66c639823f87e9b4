"""The proof of exchanges: every ordered pair of the stored tools and the empty spindle, run in the nominal world."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from typing import Any

from orthotrope.calc.derived import derive
from orthotrope.errors import InputError
from orthotrope.machine.run import Call
from orthotrope.program.reader import read_text
from orthotrope.program.writer import write
from orthotrope.proof.callers import called_otherwise
from orthotrope.proof.case import Case, findings_of
from orthotrope.proof.cures import tried
from orthotrope.proof.findings import SEVERITIES, Finding, worst_first
from orthotrope.proof.judging import FaultResult
from orthotrope.proof.review import called_at
from orthotrope.proof.sharing import SharedRun
from orthotrope.proof.timing import Spending, spent
from orthotrope.proof.verdicts import judge_faults
from orthotrope.proof.worlds import nominal_world
from orthotrope.sequence.exchanges import Exchange, plan_every, plan_one
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.control import ControlProfile
from orthotrope.units import shown_in

MOST_MOVES = 50_000
"""Moves of an exchange in a proof; one has some dozens."""


@dataclass(frozen=True, slots=True)
class PairResult:
    """One exchange, run: the worst severity found (None: nothing), its findings, its seconds, and its verdict under each
    fault."""

    from_tool: int
    to_tool: int
    worst: str | None
    findings: tuple[Finding, ...]
    seconds: float
    faults: tuple[FaultResult, ...] = ()
    spent: dict[Spending, float] = field(default_factory=dict)

    def as_json(self) -> dict[str, Any]:
        return {"from": self.from_tool, "to": self.to_tool, "worst": self.worst, "seconds": self.seconds,
                "findings": [finding_json(finding) for finding in self.findings],
                "faults": [fault.as_json() for fault in self.faults], "spent": self.spent}  # fmt: skip


def finding_json(finding: Finding) -> dict[str, Any]:
    """A finding with its cure, for the interface."""
    cure = finding.cure
    return {"check": finding.check, "severity": finding.severity, "message": finding.message, "line": finding.line,
            "at_seconds": finding.at_seconds, "position": list(finding.position) if finding.position else None,
            "quantity": finding.quantity,
            "cure": {"says": cure.says, "where": cure.where, "value": cure.value} if cure else None}  # fmt: skip


def pairs(setup: Setup) -> list[tuple[int, int]]:
    """Every ordered pair of different tools that are stored, and the empty spindle (0)."""
    numbers = [0, *(tool.number for tool in setup.exchangeable())]
    return [(one, other) for one in numbers for other in numbers if one != other]


def exchange_text(setup: Setup, profile: ControlProfile, from_tool: int, to_tool: int) -> str:
    """The text of an exchange: the one program of all pairs where the control does arithmetic, else the one of this pair."""
    if profile.arithmetic and profile.conditions:
        return write(plan_every(setup), profile)
    return write(plan_one(setup, Exchange(from_tool, to_tool, called_at(setup)[:2])), profile)


def exchange_case(setup: Setup, profile: ControlProfile, from_tool: int, to_tool: int) -> tuple[str, Case]:
    """Text and case of one exchange in the nominal world.

    Raises:
        InputError: where a tool is not there, or in no pocket.
    """
    for number in (from_tool, to_tool):
        if number and setup.tool(number) not in setup.exchangeable():
            raise InputError.at("/tools", f"T{number} has no pocket; give it one on the Tools stage.")
    text = exchange_text(setup, profile, from_tool, to_tool)
    call = Call(called_at(setup), from_tool=from_tool, to_tool=to_tool)
    return text, Case(read_text(text), profile, "exchange", nominal_world(setup), call, setup, derive(setup))


def of_changed(case: Case, written: bool) -> Callable[[Setup], Case]:
    """What makes the same exchange for a changed Setup: with the text that is ``written`` for it, or with the case's own program
    that was brought."""

    def again(changed: Setup) -> Case:
        one, other = case.call.from_tool, case.call.to_tool
        if written:
            return exchange_case(changed, changed.profile_named(case.profile.name), one, other)[1]
        call = replace(case.call, at=called_at(changed))
        return Case(case.program, case.profile, "exchange", nominal_world(changed), call, changed, derive(changed))

    return again


def prove_exchanges(setup: Setup, first: int = 0, count: int | None = None, faults: bool = False,
                    brought: str | None = None) -> Iterator[PairResult]:  # fmt: skip
    """Run the pairs (``count`` of them from the ``first`` on; all where none is said) through the text of the Setup's
    control profile, or through one that was ``brought``, one by one; with ``faults`` under each of them as well. What the
    checks say of the Setup and of the one text of all pairs stands with each."""
    profile, world, derived = setup.profile, nominal_world(setup), derive(setup)
    at = called_at(setup)
    one_text = brought or (exchange_text(setup, profile, 0, 0) if profile.arithmetic and profile.conditions else None)
    every = read_text(one_text) if one_text else None

    def case_of(one: int, other: int) -> Case:
        program = every or read_text(exchange_text(setup, profile, one, other))
        return Case(
            program, profile, "exchange", world, Call(at, from_tool=one, to_tool=other, most_moves=MOST_MOVES), setup, derived
        )

    everything = pairs(setup)
    if not everything:
        return
    of_all = case_of(*everything[0])  # always the same pair, so that it does not matter where a part of the proof begins
    shared = findings_of(of_all, "setup", "static", "text") if every else findings_of(of_all, "setup")
    if every and every.readable and not of_all.main.endless:
        shared += called_otherwise(of_all)
    if any(finding.cure for finding in shared):
        beside = findings_of(of_all, "run") if of_all.program.readable else []
        shared = tried(shared, setup, of_changed(of_all, brought is None), beside)
    last = None if count is None else first + count
    for one, other in everything[first:last]:
        case = case_of(one, other)
        shared_run = SharedRun(case) if faults and case.program.readable else None
        own = findings_of(case, "run") if every else findings_of(case, "static", "text", "run")
        if not every:
            own += called_otherwise(case)
        findings = worst_first([*shared, *tried(own, setup, of_changed(case, brought is None), shared)])
        worst = next((severity for severity in SEVERITIES if any(f.severity == severity for f in findings)), None)
        judges = shared_run and not case.main.endless  # one without an end has none under a fault
        judged = tuple(judge_faults(case, shared_run)) if judges else ()
        seconds = case.main.trace.seconds if case.program.readable else 0.0
        yield PairResult(one, other, worst, tuple(findings), seconds, judged, spent(case.main.trace) if judged else {})


def prove_chunk(document: dict[str, Any], first: int, count: int, brought: str | None = None) -> list[dict[str, Any]]:
    """Results of ``count`` pairs from the ``first`` on, as plain values: what a process of a pool is given and returns."""
    setup = read_setup(document)
    with shown_in(setup.machine.unit):
        return [result.as_json() for result in prove_exchanges(setup, first, count, True, brought)]


def not_proven(one: int, other: int, why: str) -> dict[str, Any]:
    """The result of a pair that could not be run to its end within its limits."""
    message = f"T{one} to T{other} could not be proven. {why}" if one and other else f"This exchange could not be proven. {why}"
    return PairResult(one, other, "stop", (Finding("unbounded-loop", "stop", message),), 0.0).as_json()
