"""Z moves with a length active that is not the one to go by."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, Teller, check
from orthotrope.proof.findings import Finding


@check("length-not-renewed", "stop", "text")
def length_not_renewed(case: Case, tell: Teller) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("length-old"):
        yield tell.of_event(
            event,
            f"Z moves in part coordinates with the length that was active before: {event.data['why']}. Call the length "
            "(G43) again first.",
        )
