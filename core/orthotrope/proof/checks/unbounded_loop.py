"""A loop or calls that have no way out."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("unbounded-loop", "stop", "text")
def unbounded_loop(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for run in case.from_both_callers():
        if run.endless:
            yield report(
                f"It does not end: {run.endless.what}. Give the loop a count and a way out.",
                run.endless.line,
            )
            return
