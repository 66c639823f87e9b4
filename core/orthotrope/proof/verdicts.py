"""The verdict on an exchange under a fault: safe, unsafe, or can't be noticed (checks.md).

Safe: nothing harmful happens; it is completed with a true record, or stops by itself with one that is true or marked
doubtful. Can't be noticed: it does harm and no signal that the machine has could tell. Otherwise unsafe.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any, Literal

from orthotrope.machine.control import Control
from orthotrope.machine.discs import ArmGripping, DiscGripping
from orthotrope.machine.executor import ProgramRun, run_program
from orthotrope.machine.gripping import Gripping
from orthotrope.machine.run import Call, Run
from orthotrope.machine.virtual import VirtualMachine
from orthotrope.machine.world import GripPockets, World
from orthotrope.proof.case import Case, findings_of
from orthotrope.proof.faults import FAULTS, applies, called_with, sensors, with_fault
from orthotrope.proof.findings import Finding, worst_first
from orthotrope.setup.signals import InputRole

Verdict = Literal["safe", "unsafe", "can't be noticed"]

HARMS = frozenset({"body-contact", "pocket-occupied", "pocket-empty", "moved-ungripped", "spindle-still", "spindle-turning",
                   "nut-lift", "record-untrue", "dropped-tool", "not-oriented", "overtravel-exceeded"})  # fmt: skip
"""Checks whose finding, in a run under a fault, is harm done."""


@dataclass(frozen=True, slots=True)
class Telling:
    """What would tell a fault: an input of one of these roles, asked by the program (none could), or what ``advice`` helps."""

    roles: tuple[InputRole, ...]
    advice: str


TELLINGS: dict[str, Telling] = {
    "pocket-full": Telling((), "A sensor at the pocket, or a look at the pockets before the job, would tell."),
    "wrong-tool": Telling((), "Measuring the tool after each pick-up would tell: its length is another."),
    "tool-long": Telling((), "A margin larger by what a length may be wrong, or measuring each tool as it is put in, would help."),
    "tool-short": Telling((), "Measuring each tool as it is put in would tell."),
}
"""Faults that no style's own moves notice."""

THREADED: dict[str, Telling] = {
    **TELLINGS,
    "pocket-empty": Telling(("tool present",), "An input with the role tool present, asked after the pick-up, would tell."),
}
GRIPPED: dict[str, Telling] = {
    **TELLINGS,
    "pocket-empty": Telling(("grip closed", "tool present"), "An input with the role grip closed (made on a tool only), waited for "
                            "after closing, would tell."),
    "grip-stays-shut": Telling(("grip open",), "An input with the role grip open, waited for before the spindle rises, "
                               "would tell."),
    "grip-stays-open": Telling(("grip closed",), "An input with the role grip closed, waited for before the tool is carried off, "
                               "would tell."),
    "air-low": Telling(("air", "grip open"), "An input with the role air, asked before the exchange, would tell."),
}  # fmt: skip
TOLD: dict[str, dict[str, Telling]] = {"thread-on": THREADED, "by hand": TELLINGS}
"""What each style's signals can't notice, and what would; a style with a grip has those of the grip."""


@dataclass(frozen=True, slots=True)
class FaultResult:
    """One exchange under one fault: the verdict, in words what happened, and the finding that it rests on (None: none);
    ``sensor``: the number of the input that is dead in it."""

    fault: str
    verdict: Verdict
    says: str
    finding: Finding | None = None
    sensor: int | None = None

    def as_json(self) -> dict[str, Any]:
        found = self.finding
        return {"sensor": self.sensor, "fault": self.fault, "verdict": self.verdict, "says": self.says, "check": found.check if found else None,
                "quantity": found.quantity if found else None, "line": found.line if found else None,
                "at_seconds": found.at_seconds if found else None}  # fmt: skip


def judge_faults(case: Case) -> Iterator[FaultResult]:
    """Every fault that can befall the case's exchange, in the order of checks.md; "none" is the case itself. What goes wrong
    without a fault is no fault's doing: it is unsafe under each in which it comes again."""
    own = judge(case, "none")
    for fault in FAULTS:
        if not applies(case.world, fault, case.call.from_tool, case.call.to_tool):
            continue
        if fault == "none":
            yield own
        elif fault == "sensor-dead":
            yield _each_dead(case, own.finding)
        elif fault != "stopped":
            yield judge(case, fault, own.finding)
        elif case.profile.record == "parameter":
            yield FaultResult(fault, "unsafe", own.says, own.finding) if own.finding else _stopped(case)


def _each_dead(case: Case, without: Finding | None) -> FaultResult:
    """Each sensor that the exchange asks dead by itself; the worst of them, or where all are safe how many there are."""
    first, read = case.profile.parameters.input_first, case.main.read
    asked = [entry for entry in sensors(case.world) if first + entry.number in read]
    for entry in asked:
        result = judge(case, "sensor-dead", without, entry.number)
        if result.verdict != "safe":
            return replace(result, says=f"With {entry.name} dead: {result.says}", sensor=entry.number)
    if not asked:
        return FaultResult("sensor-dead", "safe", "It asks no sensor.")
    return FaultResult("sensor-dead", "safe", f"With any one of {len(asked)} sensors dead it stops by itself or ends as it should.")


def befallen(case: Case, fault: str, sensor: int | None = None) -> Case:
    """The same exchange with a fault in its world or call; of ``sensor-dead`` only the one with the number ``sensor``, where one
    is said. "none" and "stopped" are the exchange itself.

    Raises:
        InputError: where the fault can't befall it.
    """
    if fault in ("none", "stopped"):
        return case
    if sensor is not None:
        world = replace(case.world, inputs=tuple(replace(e, dead=e.number == sensor) for e in case.world.inputs))
    else:
        world = with_fault(case.world, fault, case.call.from_tool, case.call.to_tool)
    return replace(case, world=world, call=called_with(case.call, fault), _runs={})


def judge(case: Case, fault: str, without: Finding | None = None, sensor: int | None = None) -> FaultResult:
    """One exchange under one fault. ``without``: what goes wrong in it without a fault; ``sensor``: the one that is dead."""
    under = befallen(case, fault, sensor)
    run = under.main
    harm = next((f for f in worst_first(findings_of(under, "run")) if f.check in HARMS), None) or _untrue(under, run)
    if harm is None:
        return FaultResult(fault, "safe", _ended(run))
    style = case.setup.changer.style if case.setup and case.setup.changer else "thread-on"
    telling = TOLD.get(style, GRIPPED).get(fault)
    can_wait = case.profile.wait != "none"
    told_by = {entry.role for entry in case.setup.inputs if can_wait} if case.setup else set()
    again = without is not None and (harm.check, harm.line) == (without.check, without.line)
    if again or telling is None or not told_by.isdisjoint(telling.roles):
        return FaultResult(fault, "unsafe", harm.message, harm)
    why = "No signal of this machine tells." if can_wait else "This control can't wait for a signal."
    return FaultResult(fault, "can't be noticed", f"{harm.message} {why} {telling.advice}", harm)


def _ended(run: Run) -> str:
    trace = run.trace
    if expired := trace.of_kind("wait-expired"):
        return f"It waits for the input {expired[-1].data['input']} and stops by itself where that does not come."
    if run.endless:
        return "It waits without end; nothing moves any more."
    if trace.ended == "end":
        if trace.holding[-1][1] == run.call.to_tool:
            return "It is completed, the record is true."
        said = next((event.data["text"] for event in reversed(trace.events) if event.kind == "message"), "")
        return f"It stops by itself: {said}." if said else "It stops by itself."
    stop = next((event.kind for event in reversed(trace.events) if event.kind in ("not-homed", "beyond-travel")), "")
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
    is_there = "its tool is neither held nor free" if held is None else f"the spindle holds {_named(held)}"
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
    run.merges = True
    seen: set[tuple[object, ...]] = set()
    while run.step():
        block = run.run.trace.blocks[-1]
        state = (block.record, block.doubtful, block.holds, _standing(run.machine))
        if state in seen:
            continue
        seen.add(state)
        again = _again(case, run, block.record, block.doubtful)
        if again:
            message = f"Stopped after line {block.line}, it can't start again from there: {again}"
            return FaultResult("stopped", "unsafe", message, Finding("record-untrue", "stop", message, block.line, block.t1))
    return FaultResult("stopped", "safe", f"Stopped after any block the record is true or doubtful; {len(seen)} states, each can "
                       "start again or says what to do.")  # fmt: skip


def _standing(machine: VirtualMachine) -> tuple[object, ...]:
    """What is where in the changer: the stored tools, and what its devices have."""
    changer = machine.changer
    if changer is None:
        return ()
    stored = tuple(sorted(changer.stored.items()))
    return (stored, tuple(changer.states.items())) if isinstance(changer, Gripping) else (stored,)


def world_from(world: World, machine: VirtualMachine) -> World:
    """The world as a machine that was stopped stands in it: what is stored where, the devices as they are."""
    changer, magazine = machine.changer, world.magazine
    if changer is None or magazine is None:
        return world
    home = {pocket: tool for pocket, tool in magazine.stored.items() if tool and tool == changer.tool}
    stored = {**home, **changer.stored}
    if isinstance(magazine, GripPockets) and isinstance(changer, Gripping):
        devices = {name: state for name, state in changer.states.items() if name != "turn"}
        front = changer.front if isinstance(changer, DiscGripping | ArmGripping) else 1
        return replace(world, magazine=replace(magazine, stored=stored, begins=devices, front=front))
    return replace(world, magazine=replace(magazine, stored=stored))


def _again(case: Case, run: ProgramRun, record: float, doubtful: bool) -> str:
    """What goes wrong when the exchange is started again from where a run stands; "" nothing does."""
    call = Call(run.machine.position, case.call.unit, from_tool=int(record), to_tool=case.call.to_tool, doubtful=doubtful)
    world = world_from(case.world, run.machine)
    if world.magazine:
        values, first = run.parameters.values, case.profile.parameters.pockets_first
        recorded = {pocket: int(values.get(first + pocket, 0.0)) for pocket in world.magazine.recorded}
        world = replace(world, magazine=replace(world.magazine, recorded=recorded))
    done = run_program(case.program, case.profile, world, call)
    if doubtful:
        return "" if not done.trace.segments else "it moves though its record is doubtful."
    if done.trace.ended != "end":
        return "it stops by a contact or a fault of its own."
    return "" if done.trace.holding[-1][1] == case.call.to_tool else "it ends with another tool in the spindle than was asked for."
