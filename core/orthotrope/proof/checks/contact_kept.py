"""A sideways move with the tip still on what it has touched."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.units import with_unit


@check("contact-kept", "warn", "text")
def contact_kept(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("contact-kept"):
        yield report.of_event(
            event,
            f"After the touch it goes {with_unit(event.data['aside'])} sideways without backing off; move back from the "
            "surface first.",
        )
