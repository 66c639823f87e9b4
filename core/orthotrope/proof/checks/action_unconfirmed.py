"""An output is switched and an axis moves with neither a wait nor a dwell between."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("action-unconfirmed", "warn", "text")
def action_unconfirmed(case: Case, report: FindingFactory) -> Iterator[Finding]:
    reported: set[int] = set()
    for event in case.main.trace.of_kind("unconfirmed"):
        if event.line not in reported:
            reported.add(event.line)
            word, dwelt, takes = event.data["word"], event.data["dwelt"], event.data["takes"]
            what = (
                f"an axis moves {dwelt:g} s later, and its device takes {takes:g} s"
                if dwelt
                else "an axis moves at once"
            )
            yield report.of_event(
                event,
                f"After {word} {what}; wait for the input that tells that it is done, or dwell as long as it takes.",
            )
