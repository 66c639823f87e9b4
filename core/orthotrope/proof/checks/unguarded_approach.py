"""A probe moves among the part in a move that nothing stops."""

import math
from collections.abc import Iterable, Iterator

from orthotrope.machine.trace import Segment
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.units import with_unit

ALONG = 0.999
"""Cosine; a move goes straight back from a touch where it is no more aslant."""

NEAR = 0.1
"""mm; a height that is no further below the clearance is at it."""

BEHIND = 0.5
"""mm; a move back from a touch goes no further behind where its search began."""


@check("unguarded-approach", "warn", "run")
def unguarded_approach(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Below the routine's clearance every move is a touching move, but those up, and those straight back from a touch. A
    control whose touching moves all stop at a miss can't guard."""
    routine, run = case.routine, case.main
    if routine is None or case.purpose != "probe" or case.profile.touch_goes_on is None:
        return
    tool = case.world.tools.get(case.call.from_tool)
    length = tool.recorded if tool else 0.0
    made = [event.t for event in run.trace.of_kind("touch")]
    way: tuple[float, float, float] | None = None  # of the touch that was made last, until the tip goes elsewhere
    begun = (0.0, 0.0, 0.0)
    for segment in run.trace.segments:
        move = _way(segment)
        if segment.kind == "dwell" or move is None:
            continue
        if segment.kind == "touch":
            if not any(segment.t0 <= t <= segment.t1 for t in made):
                way = None
                continue
            if way is None or _along(move, way) < ALONG:  # one that measures goes where its search went
                begun = segment.start
            way = move
            continue
        further = [b - a for a, b in zip(begun, segment.end, strict=True)]
        back = way is not None and _along(move, way) < -ALONG and _along(further, way) > -BEHIND
        up = move[2] > ALONG
        low = min(segment.start[2], segment.end[2]) - length < routine.clear_z - NEAR
        if low and not up and not back:
            yield report(
                f"The tip moves {with_unit(routine.clear_z - (min(segment.start[2], segment.end[2]) - length))} below the "
                "clearance in a plain move: nothing stops it where the part lies otherwise. Use the touching move that goes "
                "on at a miss, and stop where it was made.",
                segment.line,
                segment.t0,
                segment.start,
            )
            return


def _along(one: Iterable[float], other: Iterable[float]) -> float:
    return sum(a * b for a, b in zip(one, other, strict=True))


def _way(segment: Segment) -> tuple[float, float, float] | None:
    """The way that a move goes, of length 1; None: it goes nowhere."""
    x, y, z = (b - a for a, b in zip(segment.start, segment.end, strict=True))
    long = math.sqrt(x * x + y * y + z * z)
    return (x / long, y / long, z / long) if long > 1e-9 else None
