"""A touching move at whatever feed the caller has left."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("touch-feed-missing", "stop", "text")
def touch_feed_missing(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("touch", "missed-touch"):
        if not event.data["feed_given"]:
            yield report.of_event(event, "The touching move has no feed of this program; give it one with F.")
            return
