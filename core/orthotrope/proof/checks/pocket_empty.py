"""A tool is taken from a pocket that has none."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("pocket-empty", "stop", "run", harms=True)
def pocket_empty(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("pocket-empty"):
        yield report.of_event(
            event,
            f"A tool is fetched from pocket {event.data['pocket']}, which has none; correct the pockets of the tools.",
            "/tools",
        )
    for event in case.main.trace.of_kind("no-such-pocket"):
        yield report.of_event(
            event,
            f"The disc is to turn to pocket {event.data['pocket']}, which it does not have.",
            "/changer/disc/count",
        )
