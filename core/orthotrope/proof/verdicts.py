"""The verdict on an exchange under a fault: safe, unsafe, or can't be noticed (checks.md).

Safe: nothing harmful happens; it is completed with a true record, or stops by itself with one that is true or marked
doubtful. Can't be noticed: it does harm and no signal that the machine has could tell. Otherwise unsafe.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any, Literal

from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun, run_program
from orthotrope.machine.run import Call, Run
from orthotrope.proof.case import Case, findings_of
from orthotrope.proof.faults import FAULTS, applies, called_with, with_fault
from orthotrope.proof.findings import Finding, worst_first

Verdict = Literal["safe", "unsafe", "can't be noticed"]

HARMS = frozenset({"body-contact", "pocket-occupied", "pocket-empty", "moved-ungripped", "spindle-still", "spindle-turning",
                   "nut-lift", "record-untrue", "dropped-tool", "overtravel-exceeded"})  # fmt: skip
"""Checks whose finding, in a run under a fault, is harm done."""


@dataclass(frozen=True, slots=True)
class Telling:
    """What would tell a fault: an input of this role, asked by the program ("" none could), or what ``else`` helps."""

    role: str
    advice: str


TELLINGS: dict[str, Telling] = {
    "pocket-full": Telling("", "A sensor at the pocket, or a look at the rack before the job, would tell."),
    "pocket-empty": Telling("tool present", "An input with the role tool present, asked after the pick-up, would tell."),
    "wrong-tool": Telling("", "Measuring the tool after each pick-up would tell: its length is another."),
    "tool-long": Telling("", "A margin larger by what a length may be wrong, or measuring each tool as it is put in, would help."),
    "tool-short": Telling("", "Measuring each tool as it is put in would tell."),
}
"""Faults of a thread-on rack that its own moves can't notice."""


@dataclass(frozen=True, slots=True)
class FaultResult:
    """One exchange under one fault: the verdict, in words what happened, and the finding that it rests on (None: none)."""

    fault: str
    verdict: Verdict
    says: str
    finding: Finding | None = None

    def as_json(self) -> dict[str, Any]:
        found = self.finding
        return {"fault": self.fault, "verdict": self.verdict, "says": self.says, "check": found.check if found else None,
                "quantity": found.quantity if found else None, "line": found.line if found else None,
                "at_seconds": found.at_seconds if found else None}  # fmt: skip


def judge_faults(case: Case) -> Iterator[FaultResult]:
    """Every fault that can befall the case's exchange, in the order of checks.md; "none" is the case itself."""
    for fault in FAULTS:
        if not applies(case.world, fault, case.call.from_tool, case.call.to_tool):
            continue
        if fault == "stopped":
            if case.profile.record == "parameter":
                yield _stopped(case)
            continue
        yield judge(case, fault)


def judge(case: Case, fault: str) -> FaultResult:
    """One exchange under one fault."""
    if fault == "none":
        befallen = case
    else:
        world = with_fault(case.world, fault, case.call.from_tool, case.call.to_tool)
        befallen = replace(case, world=world, call=called_with(case.call, fault), _runs={})
    run = befallen.main
    harm = next((f for f in worst_first(findings_of(befallen, "run")) if f.check in HARMS), None) or _untrue(befallen, run)
    if harm is None:
        return FaultResult(fault, "safe", _ended(run))
    telling = TELLINGS.get(fault)
    roles = {entry.role for entry in case.setup.inputs} if case.setup else set()
    if telling is None or telling.role in roles:
        return FaultResult(fault, "unsafe", harm.message, harm)
    return FaultResult(fault, "can't be noticed", f"{harm.message} No signal of this machine tells. {telling.advice}", harm)


def _ended(run: Run) -> str:
    if run.trace.ended == "end":
        return "It is completed, the record is true."
    stop = next((event.kind for event in reversed(run.trace.events) if event.kind in ("not-homed", "beyond-travel")), "")
    return {"not-homed": "The control does not begin: the machine is not homed.",
            "beyond-travel": "The control stops at a soft limit, before it moves."}.get(stop, "It stops by itself.")  # fmt: skip


def _untrue(case: Case, run: Run) -> Finding | None:
    """A record that differs from what is there at the end, and is not marked as doubtful."""
    if case.profile.record != "parameter" or not run.trace.blocks:
        return None
    last = run.trace.blocks[-1]
    held = run.trace.held(last.t1)
    if last.doubtful or held == last.record:
        return None
    is_there = "the nut is neither on nor off" if held is None else f"the spindle holds {_named(held)}"
    message = f"At the end the record says {_named(last.record)}, and {is_there}."
    return Finding("record-untrue", "stop", message, last.line, last.t1, last.position)


def _named(tool: float) -> str:
    return f"T{tool:g}" if tool else "no tool"


def _stopped(case: Case) -> FaultResult:
    """Stopped after every block: the record is true or doubtful, and from each distinct state the exchange can be started
    again, or says what to do without moving. Within blocks the record does not change; what is held then is in the trace."""
    untrue = next((f for f in findings_of(case, "run") if f.check == "record-untrue"), None)
    if untrue:
        return FaultResult("stopped", "unsafe", untrue.message, untrue)
    run = ProgramRun(case.program, Control(case.profile, case.world, case.call))
    seen: set[tuple[object, ...]] = set()
    while run.step():
        block = run.run.trace.blocks[-1]
        coupling = run.machine.coupling
        stored = tuple(sorted(coupling.stored.items())) if coupling else ()
        state = (block.record, block.doubtful, block.holds, stored)
        if state in seen:
            continue
        seen.add(state)
        again = _again(case, run, block.record, block.doubtful)
        if again:
            message = f"Stopped after line {block.line}, it can't start again from there: {again}"
            return FaultResult("stopped", "unsafe", message, Finding("record-untrue", "stop", message, block.line, block.t1))
    return FaultResult("stopped", "safe", f"Stopped after any block the record is true or doubtful; {len(seen)} states, each can "
                       "start again or says what to do.")  # fmt: skip


def _again(case: Case, run: ProgramRun, record: float, doubtful: bool) -> str:
    """What goes wrong when the exchange is started again from where a run stands; "" nothing does."""
    coupling = run.machine.coupling
    world = case.world
    if coupling and world.rack:
        home = {pocket: tool for pocket, tool in world.rack.stored.items() if tool and tool == coupling.tool}
        stored = {**coupling.stored, **home}
        world = replace(world, rack=replace(world.rack, stored=stored))
    call = Call(run.machine.position, case.call.unit, from_tool=int(record), to_tool=case.call.to_tool, doubtful=doubtful)
    done = run_program(case.program, case.profile, world, call)
    moved = bool(done.trace.segments)
    if doubtful:
        return "" if not moved else "it moves though its record is doubtful."
    if done.trace.ended != "end":
        return "it stops by a contact or a fault of its own."
    return "" if done.trace.holding[-1][1] == case.call.to_tool else "it ends with another tool in the spindle than was asked for."
