"""A touching move begins with its input actuated, or so near the last contact that a switch may still be."""

from collections.abc import Iterator
from itertools import pairwise

from orthotrope.calc.touch_devices import CLEAR
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.proof.touching import touches_of
from orthotrope.units import with_unit

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
    for before, touch in pairwise(touches_of(case.main)):
        if not before.latched or not touch.latched or before.event.data.get("input") != touch.event.data.get("input"):
            continue
        start = begins.get(touch.event.t)
        same = sum(a * b for a, b in zip(before.way, touch.way, strict=True)) > 0.99
        if start is None or not same:
            continue
        gap = sum((a - b) * way for a, b, way in zip(before.latched, start, touch.way, strict=True))
        if gap < HYSTERESIS:
            yield report.of_event(
                touch.event,
                f"The touch begins {with_unit(gap)} before where the last one was latched; a switch lets go later than it is actuated: back "
                f"off by {with_unit(CLEAR)} at least.",
            )
