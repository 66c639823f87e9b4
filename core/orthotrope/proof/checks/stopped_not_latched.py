"""A zero is set where the machine stopped, not where it touched."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.proof.touching import zeros_of
from orthotrope.units import with_unit


@check("stopped-not-latched", "warn", "text")
def stopped_not_latched(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for zero in zeros_of(case.main):
        overrun = max((touch.overrun for touch in zero.touches), default=0.0)
        if zero.how == "place" and overrun > 0:
            yield report.of_event(
                zero.event,
                f"{zero.name} is set where the machine stands after the touch, {with_unit(overrun)} beyond where it was "
                "latched (the way it needs to stop); calculate it from the latched position.",
            )
