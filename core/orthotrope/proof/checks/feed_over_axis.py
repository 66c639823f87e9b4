"""A feed that is higher than an axis can go."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.units import feed_with_unit


@check("feed-over-axis", "warn", "run")
def feed_over_axis(case: Case, report: FindingFactory) -> Iterator[Finding]:
    reported: set[tuple[str, float]] = set()
    for event in case.main.trace.of_kind("feed-over-axis"):
        key = (event.data["axis"], round(event.data["feed"], 3))
        if key not in reported:
            reported.add(key)
            yield report.of_event(
                event,
                f"{key[0]} would have to go {feed_with_unit(event.data['feed'])}; it can go "
                f"{feed_with_unit(event.data['limit'])}. Lower the feed.",
                f"/machine/axes/{key[0]}/rapid",
            )
