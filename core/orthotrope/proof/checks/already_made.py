"""A touching move begins with its input actuated, or so near the last contact that a switch may still be."""

import math
from collections.abc import Iterator
from itertools import pairwise

from orthotrope.calc.touch_devices import CLEAR
from orthotrope.machine.motion import Vector
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.proof.touching import touches_of
from orthotrope.units import with_unit

SAME_PLACE, TURNED = 0.5, 0.1
"""mm beside the last touch, and of a way of length 1: a touch is made at the same place, the same way."""

HYSTERESIS = CLEAR / 2
"""mm; a switch may let go so much later than it was actuated."""


@check("already-made", "stop", "run")
def already_made(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("already-made"):
        yield report.of_event(
            event,
            f"The touching move begins with the input {event.data['name']} made; back off far enough, and look at its "
            "wiring.",
        )
    if case.purpose in ("measure", "probe") and case.setup is not None:
        yield from _hardly_off(case, report)


def _hardly_off(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """A switch lets go a little later than it was actuated: a touch again of the same begins further off than that."""
    begins = {segment.t1: segment.start for segment in case.main.trace.segments if segment.kind == "touch"}
    trace = case.main.trace
    for before, touch in pairwise(touches_of(case.main)):
        start, one, other = begins.get(touch.event.t), before.event, touch.event
        if not before.latched or not touch.latched or start is None or one.data.get("input") != other.data.get("input"):
            continue
        if trace.held(one.t) != trace.held(other.t):
            continue
        gap, aside = _along(before.latched, start, touch.way)
        if gap < HYSTERESIS and aside < SAME_PLACE and math.dist(before.way, touch.way) < TURNED:
            yield report.of_event(
                other,
                f"The touch begins {with_unit(gap)} before where the last one was latched; a switch lets go later than it is actuated: back "
                f"off by {with_unit(CLEAR)} at least.",
            )


def _along(to: Vector, start: Vector, way: Vector) -> tuple[float, float]:
    """How far ``to`` is from ``start`` along a way (of length 1), and how far beside it."""
    x, y, z = (a - b for a, b in zip(to, start, strict=True))
    gone = x * way[0] + y * way[1] + z * way[2]
    return gone, math.dist((x, y, z), [gone * part for part in way])
