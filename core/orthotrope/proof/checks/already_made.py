"""A touching move begins with its input made."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("already-made", "stop", "run")
def already_made(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("already-made"):
        yield report.of_event(
            event,
            f"The touching move begins with the input {event.data['name']} made; back off far enough, and look at its "
            "wiring.",
        )
