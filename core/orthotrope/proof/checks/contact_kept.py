"""A sideways move with the tip still on what it has touched."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, Teller, check
from orthotrope.proof.findings import Finding
from orthotrope.units import with_unit


@check("contact-kept", "warn", "text")
def contact_kept(case: Case, tell: Teller) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("contact-kept"):
        yield tell.of_event(
            event,
            f"After the touch it goes {with_unit(event.data['aside'])} sideways without backing off; move back from the "
            "surface first.",
        )
