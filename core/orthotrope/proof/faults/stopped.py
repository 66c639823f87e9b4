"""Stopped after a block, by a person or because the power is lost."""

from dataclasses import replace

from orthotrope.machine.changing import Changing
from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun
from orthotrope.machine.run import Call, Run
from orthotrope.machine.world import World
from orthotrope.proof.case import Case, findings_of
from orthotrope.proof.fault_runs import BlockSnapshot, SharedRun
from orthotrope.proof.faults.registry import FAULTS, Fault
from orthotrope.proof.findings import Finding
from orthotrope.proof.judging import FaultResult

OF_CALLER = frozenset({"unit"})
"""What a run asks that is the caller's: the same wherever it was stopped."""


class Stopped(Fault):
    """It stops after each block in turn, and goes on from there."""

    label = "stopped after any block"

    def apply_to(self, case: Case, sensor: int | None = None) -> Case:
        """The exchange itself: where it stops is in its trace."""
        return case

    def verdict(self, case: Case, own: FaultResult, shared: SharedRun) -> FaultResult | None:
        if case.profile.record != "parameter":
            return None
        return FaultResult(self.name, "unsafe", own.says, own.finding) if own.finding else stopped(case, shared)


def stopped(case: Case, shared: SharedRun) -> FaultResult:
    """Stopped after every block: the record is true or doubtful, and from each distinct state the exchange can be
    started again, or says what to do without moving. Within blocks the record does not change; what is held then is in
    the trace."""
    untrue = next((f for f in findings_of(case, "run", harms=True) if f.check == "record-untrue"), None)
    if untrue:
        return FaultResult("stopped", "unsafe", untrue.message, untrue)
    seen: set[tuple[object, ...]] = set()
    answered: dict[tuple[float, bool], str] = {}
    before: BlockSnapshot | None = None
    for stood in shared.stood:
        block = stood.block
        if before and _is_same(stood, before):
            continue
        before = stood
        place = stood.position if case.purpose == "measure" else None  # a tip may stand on a setter
        state = (block.record, block.doubtful, block.holds, place, _standing(stood.changer))
        if state in seen:
            continue
        seen.add(state)
        known = (block.record, block.doubtful)
        again = answered[known] if known in answered else _again(case, stood, *known, answered)
        if again:
            message = f"Stopped after line {block.line}, it can't start again from there: {again}"
            return FaultResult(
                "stopped", "unsafe", message, Finding("record-untrue", "stop", message, block.line, block.t1)
            )
    return FaultResult(
        "stopped",
        "safe",
        f"Stopped after any block the record is true or doubtful; {len(seen)} states, each can "
        "start again or says what to do.",
    )


def _is_same(stood: BlockSnapshot, before: BlockSnapshot) -> bool:
    """Whether all stands as it did after the block before."""
    block, other = stood.block, before.block
    if (block.record, block.doubtful, block.holds, stood.position) != (
        other.record,
        other.doubtful,
        other.holds,
        before.position,
    ):
        return False
    one, two = stood.changer, before.changer
    return one is two or (one is not None and two is not None and one.stored == two.stored and one.states == two.states)


def _standing(changer: Changing | None) -> tuple[object, ...]:
    """What is where in the changer: the stored tools, and what its devices have."""
    if changer is None:
        return ()
    return tuple(sorted(changer.stored.items())), tuple(changer.states.items())


def world_from(world: World, changer: Changing | None) -> World:
    """The world as a machine that was stopped stands in it: what is stored where, the devices as they are."""
    if changer is None or world.magazine is None:
        return world
    return replace(world, magazine=world.magazine.as_left(changer))


def _again(
    case: Case, stood: BlockSnapshot, record: float, doubtful: bool, answered: dict[tuple[float, bool], str]
) -> str:
    """What goes wrong when the exchange is started again from where a run stands; "" nothing does. Where it asks
    nothing of what stands where, it is ``answered`` for every other place as well."""
    call = Call(stood.position, case.call.unit, from_tool=int(record), to_tool=case.call.to_tool, doubtful=doubtful)
    world, recorded = world_from(case.world, stood.changer), dict[int, int]()
    if world.magazine:
        first = case.profile.parameters.pockets_first
        recorded = {pocket: int(stood.values.get(first + pocket, 0.0)) for pocket in world.magazine.recorded}
        world = replace(world, magazine=replace(world.magazine, recorded=recorded))
    if stood.block.t1 == 0 and call == replace(case.call, most_moves=call.most_moves):
        table = case.world.magazine.recorded.items() if case.world.magazine else ()
        if recorded == {pocket: tool if tool != call.from_tool else 0 for pocket, tool in table}:
            return _went_wrong(case.main, case.call.to_tool)  # nothing has moved or changed: it is the exchange itself
    run = ProgramRun(case.program, Control(case.profile, world, call))
    run.merges = True
    says = _went_wrong(run.go(), case.call.to_tool)
    if run.machine.journal.dependencies <= OF_CALLER:
        answered[record, doubtful] = says
    return says


def _went_wrong(done: Run, to_tool: int) -> str:
    if done.call.doubtful:
        return "" if not done.trace.segments else "it moves though its record is doubtful."
    if done.trace.ended != "end":
        return "it stops by a contact or a fault of its own."
    if done.trace.holding[-1][1] == to_tool or _refuses(done):
        return ""
    return "it ends with another tool in the spindle than was asked for."


def _refuses(done: Run) -> bool:
    """Whether a run ends for good before anything has moved, with a record that is certain and true: that is safe."""
    trace = done.trace
    last = trace.blocks[-1] if trace.blocks else None
    still = not any(segment.kind != "dwell" for segment in trace.segments)
    return still and not done.returned and last is not None and not last.doubtful and last.record == last.holds


FAULTS.add("stopped", Stopped("stopped"))
