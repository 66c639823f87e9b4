"""A tool is put into a pocket that has one."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("pocket-occupied", "stop", "run", harms=True)
def pocket_occupied(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("pocket-occupied"):
        data = event.data
        yield report.of_event(
            event,
            f"T{data['tool']} is put into pocket {data['pocket']}, where T{data['stored']} is; put "
            f"it into its own pocket, or correct the pockets of the tools.",
            "/tools",
        )
