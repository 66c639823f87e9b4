"""The spindle turns where it must stand."""

from collections.abc import Iterator

from orthotrope.machine.shapes import BoxBody
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("spindle-turning", "stop", "run", harms=True)
def spindle_turning(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Sideways over the changer below park height the spindle stands (reported once), and where a tool is handed over."""
    magazine, trace = case.world.magazine, case.main.trace
    for event in trace.of_kind("spindle-turning"):
        yield report.of_event(
            event,
            f"The spindle turns at {abs(event.data['speed']):.0f} rev/min as {event.data['doing']}; stop it "
            "and wait until it stands.",
        )
    yield from _at_touches(case, report)
    if magazine is None or magazine.footprint is None or case.purpose != "exchange":
        return
    x, y, half_length, half_width, cos, sin = magazine.footprint
    plan = BoxBody("the changer", x, y, half_length, half_width, cos, sin, 0.0, 0.0)
    for segment in trace.segments:
        start, end = segment.start, segment.end
        if start[:2] == end[:2] or min(start[2], end[2]) > magazine.park_z - 1e-6:
            continue
        move = (end[0] - start[0], end[1] - start[1], end[2] - start[2])
        turning = max((trace.turning(t) for t in (segment.t0, segment.t1)), key=abs)
        if abs(turning) > 1 and plan.overlap(start, move, magazine.needed_radius):
            yield report(
                f"The spindle turns at {abs(turning):.0f} rev/min while it goes sideways over the changer; stop it and "
                f"wait until it stands.",
                segment.line,
                segment.t0,
                start,
            )
            return


def _at_touches(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """A tool comes down on a setter with the spindle at rest; one that is measured turning turns backwards, so that it does not cut
    (reported once)."""
    if case.purpose not in ("measure", "exchange"):
        return
    trace = case.main.trace
    for segment in trace.segments:
        if segment.kind != "touch":
            continue
        turning = max((trace.turning(t) for t in (segment.t0, segment.t1)), key=abs)
        number = trace.held(segment.t0) or 0
        tool = next((tool for tool in case.setup.tools if tool.number == number), None) if case.setup else None
        backwards = turning < 0 and (tool is None or tool.turns_backwards)
        if abs(turning) > 1 and not backwards:
            yield report(
                f"The spindle turns at {abs(turning):.0f} rev/min while T{number} comes to what it touches; stop it and wait until "
                "it stands.",
                segment.line,
                segment.t0,
                segment.start,
            )
            return
