"""Stopped after a block, by a person or because the power is lost."""

from dataclasses import replace

from orthotrope.machine.changing import Changing
from orthotrope.machine.control import ControlState
from orthotrope.machine.executor import run_program
from orthotrope.machine.run import Call
from orthotrope.machine.virtual import MachineState
from orthotrope.machine.world import World
from orthotrope.proof.case import Case, findings_of
from orthotrope.proof.faults.registry import FAULTS, Fault
from orthotrope.proof.findings import Finding
from orthotrope.proof.judging import FaultResult
from orthotrope.proof.sharing import SharedRun


class Stopped(Fault):
    """It stops after each block in turn, and goes on from there."""

    label = "stopped after any block"

    def befall(self, case: Case, sensor: int | None = None) -> Case:
        """The exchange itself: where it stops is in its trace."""
        return case

    def verdict(self, case: Case, own: FaultResult, shared: SharedRun) -> FaultResult | None:
        if case.profile.record != "parameter":
            return None
        return FaultResult(self.name, "unsafe", own.says, own.finding) if own.finding else stopped(case, shared)


def stopped(case: Case, shared: SharedRun) -> FaultResult:
    """Stopped after every block: the record is true or doubtful, and from each distinct state the exchange can be started
    again, or says what to do without moving. Within blocks the record does not change; what is held then is in the trace."""
    untrue = next((f for f in findings_of(case, "run", harms=True) if f.check == "record-untrue"), None)
    if untrue:
        return FaultResult("stopped", "unsafe", untrue.message, untrue)
    seen: set[tuple[object, ...]] = set()
    for block, stood in shared.stood:
        state = (block.record, block.doubtful, block.holds, _standing(stood.machine))
        if state in seen:
            continue
        seen.add(state)
        again = _again(case, stood, block.record, block.doubtful)
        if again:
            message = f"Stopped after line {block.line}, it can't start again from there: {again}"
            return FaultResult("stopped", "unsafe", message, Finding("record-untrue", "stop", message, block.line, block.t1))
    return FaultResult("stopped", "safe", f"Stopped after any block the record is true or doubtful; {len(seen)} states, each can "
                       "start again or says what to do.")  # fmt: skip


def _standing(machine: MachineState) -> tuple[object, ...]:
    """What is where in the changer: the stored tools, and what its devices have."""
    changer = machine.changer
    if changer is None:
        return ()
    return tuple(sorted(changer.stored.items())), tuple(changer.states.items())


def world_from(world: World, changer: Changing | None) -> World:
    """The world as a machine that was stopped stands in it: what is stored where, the devices as they are."""
    if changer is None or world.magazine is None:
        return world
    return replace(world, magazine=world.magazine.as_left(changer))


def _again(case: Case, stood: ControlState, record: float, doubtful: bool) -> str:
    """What goes wrong when the exchange is started again from where a run stands; "" nothing does."""
    call = Call(stood.machine.position, case.call.unit, from_tool=int(record), to_tool=case.call.to_tool, doubtful=doubtful)
    world = world_from(case.world, stood.machine.changer)
    if world.magazine:
        first = case.profile.parameters.pockets_first
        recorded = {pocket: int(stood.values.get(first + pocket, 0.0)) for pocket in world.magazine.recorded}
        world = replace(world, magazine=replace(world.magazine, recorded=recorded))
    done = run_program(case.program, case.profile, world, call)
    if doubtful:
        return "" if not done.trace.segments else "it moves though its record is doubtful."
    if done.trace.ended != "end":
        return "it stops by a contact or a fault of its own."
    return "" if done.trace.holding[-1][1] == case.call.to_tool else "it ends with another tool in the spindle than was asked for."


FAULTS.add("stopped", Stopped("stopped"))
