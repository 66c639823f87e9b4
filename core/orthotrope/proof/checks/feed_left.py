"""A coupling or touching feed that stays in force after the end."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.units import feed_with_unit


@check("feed-left", "note", "text")
def feed_left(case: Case, report: FindingFactory) -> Iterator[Finding]:
    run = case.main
    if case.purpose not in ("exchange", "measure") or run.feed is None or run.trace.ended != "end":
        return
    line, feed = run.feed
    for segment in run.trace.segments:
        turning = segment.kind == "feed" and abs(run.trace.turning(segment.t1)) > 0
        if segment.feed == feed and (segment.kind == "touch" or turning):
            what = "touching" if segment.kind == "touch" else "coupling"
            yield report(
                f"The {what} feed, {feed_with_unit(feed)}, stays in force after the end; the job must state its feed "
                f"again.",
                line,
            )
            return
