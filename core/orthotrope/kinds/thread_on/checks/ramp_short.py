"""The axis can't reach the coupling feed within the approach gap."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.units import feed_with_unit, with_unit


@check("ramp-short", "warn", "run")
def ramp_short(case: Case, report: FindingFactory) -> Iterator[Finding]:
    trace = case.main.trace
    for event in trace.of_kind("thread-meets"):
        segment = next((s for s in trace.segments if s.line == event.line and s.t0 <= event.t <= s.t1), None)
        if segment is None or not segment.feed:
            continue
        wanted = min(segment.feed, case.world.axes[2].rapid) / 60
        speed = event.data["speed"]
        if speed < wanted * (1 - 1e-6):
            need = wanted**2 / (2 * case.world.axes[2].acceleration)
            yield report.of_event(
                event,
                f"Z has {feed_with_unit(speed * 60)} of {feed_with_unit(wanted * 60)} when the thread meets; it needs "
                f"{with_unit(need)} to reach the coupling feed. Raise the hover gap or lower the feed.",
                "/changer/heights/hover_gap",
            )
            return
