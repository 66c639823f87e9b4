"""What a probing program believes: the numbers that it works with, drawn out of its run, beside what the Setup says."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from orthotrope.machine.trace import Segment
from orthotrope.proof.case import Case
from orthotrope.proof.touching import NOTHING, Touch, as_placed, radius_given, touches_of, zeros_of
from orthotrope.sequence.probing import tip_of
from orthotrope.sequence.probing.qualifying import routine_named
from orthotrope.sequence.probing.registry import Tip
from orthotrope.setup.probes import Probe
from orthotrope.setup.routines import Routine
from orthotrope.setup.setters import Setter
from orthotrope.units import MM_PER_INCH

NEAR = 0.02
"""mm; two lengths that differ by no more are the same."""

FEED_NEAR = 0.5
"""mm/min."""


@dataclass(frozen=True, slots=True)
class ProgramValue:
    """A number of the program and the Setup's; ``unit``: "mm", "mm/min", or "" of a word or a count; ``setup`` null: the Setup says
    nothing of it."""

    what: str
    unit: Literal["mm", "mm/min", ""]
    program: float | str
    setup: float | str | None
    agrees: bool
    line: int | None = None


def program_values(case: Case) -> list[ProgramValue]:
    """All that can be reported of a run that touches a routine's part or a setter; nothing where the Setup is not known."""
    setup = case.setup
    if setup is None or not case.program.readable:
        return []
    if case.routine is not None:
        routine = routine_named(setup, case.routine.name)
        tip = tip_of(setup, routine)
        return [*_unit(case), *(_of(case, routine, tip) if tip else ())]
    touches = [touch for touch in touches_of(case.main) if touch.latched]
    on = {touch.event.data.get("input") for touch in touches}
    setter = next((setter for setter in setup.setters if {setter.input} == on), None)
    return [*_unit(case), *(_at_setter(case, setter, touches) if setter else ())]


def _near(case: Case) -> float:
    """How far two lengths may be apart and be the same, as the control's numbers are rounded, mm."""
    decimal = 10.0**-case.profile.decimals * (MM_PER_INCH if case.profile.unit == "inch" else 1.0)
    return NEAR + 2 * decimal


def _touching(case: Case, touches: list[Touch], own: Setter | Probe) -> Iterator[ProgramValue]:
    """The feeds of the touches, and how far is backed off."""
    fast, slow = max(touches, key=lambda touch: touch.feed), min(touches, key=lambda touch: touch.feed)
    for what, touch, feed in (("search feed", fast, own.search_feed), ("measuring feed", slow, own.measure_feed)):
        yield ProgramValue(what, "mm/min", touch.feed, feed, abs(touch.feed - feed) <= FEED_NEAR, touch.event.line)
    back = _back_off(case)
    if back:
        yield ProgramValue("back-off", "mm", back[0], own.back_off, abs(back[0] - own.back_off) <= _near(case), back[1])


def _at_setter(case: Case, setter: Setter, touches: list[Touch]) -> Iterator[ProgramValue]:
    yield from _touching(case, touches, setter)
    near = _near(case)
    for event in case.main.trace.of_kind("length-set"):
        used = [touch for touch in touches if touch.number in event.data["touches"]]
        if used:
            plane = _mean_z(used) - event.data["length"]
            yield ProgramValue(
                "plane height", "mm", plane, setter.plane_z, abs(plane - setter.plane_z) <= near, event.line
            )
            break
    for zero in zeros_of(case.main):
        tool = case.world.tools.get(int(case.main.trace.held(zero.event.t) or 0))
        places = [touch for touch in zero.touches if touch.latched]
        if zero.axis == 2 and places and tool is not None and zero.how == "value":
            thick = _mean_z(places) - tool.length - zero.zero
            same = abs(thick - setter.lies_on) <= near
            yield ProgramValue("thickness on the part", "mm", thick, setter.lies_on, same, zero.event.line)
            break


def _mean_z(touches: list[Touch]) -> float:
    heights = [touch.latched[2] for touch in touches if touch.latched]
    return sum(heights) / len(heights)


def _unit(case: Case) -> Iterator[ProgramValue]:
    used = case.main.lengths_under
    named = {20: "inch", 21: "mm"}
    if used:
        program = " and ".join(named[unit] for unit in sorted(used))
        yield ProgramValue("unit", "", program, case.profile.unit, program == case.profile.unit, min(used.values()))


def _of(case: Case, routine: Routine, tip: Tip) -> Iterator[ProgramValue]:
    touches, near = [touch for touch in touches_of(case.main) if touch.latched], _near(case)
    if not touches:
        return
    yield from _touching(case, touches, tip.probe)
    long, line = _longest(case, touches)
    reach = routine.before + routine.beyond
    yield ProgramValue("longest search", "mm", long, reach, long <= reach + near or "diameter" in routine.sizes, line)
    for zero in zeros_of(case.main):
        given = radius_given(as_placed(zero, case.routine.readout if case.routine else NOTHING))
        if given is not None:
            way = zero.touches[0].way
            own = tip.reach(way) + way[0] * tip.probe.off_x + way[1] * tip.probe.off_y
            yield ProgramValue("radius of the tip", "mm", given, own, abs(given - own) <= near, zero.event.line)
            break
    numbers = sorted({zero.offset for zero in zeros_of(case.main)})
    if numbers:
        said = ", ".join(str(number) for number in numbers)
        wanted = str(routine.work_offset) if routine.work_offset else "none"
        yield ProgramValue("work offset that is set", "", said, wanted, said == wanted, None)
    low = min(segment.end[2] for segment in case.main.trace.segments) - tip.tool.whole_length
    deep = routine.z - routine.depth if any(abs(touch.way[2]) < 0.5 for touch in touches) else None
    if deep is not None:
        yield ProgramValue("lowest height of the tip", "mm", low, deep, abs(low - deep) <= 1.0, None)


def _longest(case: Case, touches: list[Touch]) -> tuple[float, int]:
    """The longest way that a touching move was to go which made a touch, and its line."""
    lines = {touch.event.line for touch in touches}
    ways = [(_way(segment), segment.line) for segment in case.main.trace.segments if segment.line in lines]
    return max(ways, default=(0.0, 0))


def _way(segment: Segment) -> float:
    return math.dist(segment.start, segment.whole_end)


def _back_off(case: Case) -> tuple[float, int] | None:
    """How far the first move after the first touch goes back, and its line."""
    after = False
    for segment in case.main.trace.segments:
        if after and segment.kind in ("rapid", "feed"):
            return _way(segment), segment.line
        after = after or (segment.kind == "touch" and segment.end != segment.whole_end)
    return None
