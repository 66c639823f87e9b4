"""Where the numbers of a thread-on rack contradict one another."""

from collections.abc import Iterator

from orthotrope.kinds.thread_on.derive import DerivedThread
from orthotrope.kinds.thread_on.model import ThreadOn
from orthotrope.proof.conflicts import CONFLICTS, Conflict, height_conflicts, rack_conflicts
from orthotrope.proof.findings import SetupFix
from orthotrope.proof.neighbours import tool_conflicts
from orthotrope.setup import Setup
from orthotrope.units import in_unit, with_unit


@CONFLICTS.register("thread-on")
def conflicts(setup: Setup, changer: ThreadOn, derived: DerivedThread) -> Iterator[Conflict]:
    """Of the rack, the heights, the thread, the tools."""
    yield from rack_conflicts(setup, changer, derived)
    yield from height_conflicts(setup, changer, derived)
    yield from _inside_the_nut(changer, derived)
    yield from _thread(setup, changer, derived)
    yield from tool_conflicts(setup, changer, derived)


def _inside_the_nut(changer: ThreadOn, derived: DerivedThread) -> Iterator[Conflict]:
    thread, where = changer.coupling, "/changer/heights/hover_gap"
    if derived.approach_gap <= 0:
        wanted = round(thread.engaged_length + max(2.0, derived.coupling.ramp_distance) + 0.5)
        yield Conflict(
            f"Hover is {with_unit(changer.heights.hover_gap)} above couple and the thread is engaged over "
            f"{in_unit(thread.engaged_length)}; the nose hovers inside the nut.",
            where,
            SetupFix(f"Set the hover gap to {in_unit(wanted)}", where, float(wanted)),
        )


def _thread(setup: Setup, changer: ThreadOn, derived: DerivedThread) -> Iterator[Conflict]:
    speed, spindle, where = changer.coupling.speed, setup.machine.spindle, "/changer/coupling/speed"
    if not derived.coupling.speed_allowed:
        cap = changer.coupling.speed_cap
        yield Conflict(
            f"The coupling speed, {speed:g} rev/min, is above its cap, {cap:g}.",
            where,
            SetupFix(f"Use {cap:g} rev/min", where, cap),
        )
    if not spindle.least_speed <= speed <= spindle.greatest_speed:
        yield Conflict(
            f"The coupling speed, {speed:g} rev/min, is outside the spindle's {spindle.least_speed:g} to "
            f"{spindle.greatest_speed:g}.",
            where,
        )
