"""A zero is set from one fast touch."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, Teller, check
from orthotrope.proof.findings import Finding
from orthotrope.proof.touching import zeros_of
from orthotrope.units import feed_with_unit

MEASURING = 100.0
"""mm/min; the feed up to which a touch measures, where the Setup has none."""


@check("single-touch", "note", "text")
def single_touch(case: Case, tell: Teller) -> Iterator[Finding]:
    told: set[int] = set()
    setters, probes = (case.setup.setters, case.setup.probes) if case.setup else ((), ())
    feeds = [*(setter.measure_feed for setter in setters), *(probe.measure_feed for probe in probes)]
    measuring = max(feeds, default=MEASURING)
    for zero in zeros_of(case.main):
        for touch in zero.touches:
            if touch.feed > measuring + 1e-9 and touch.number not in told:
                told.add(touch.number)
                yield tell.of_event(
                    touch.event,
                    f"{zero.name} is set from one touch at {feed_with_unit(touch.feed)}; back off and touch again at "
                    f"{feed_with_unit(measuring)} or less.",
                )
