"""The Setup contradicts itself."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.conflicts import conflicts
from orthotrope.proof.findings import Finding


@check("setup-conflict", "stop", "setup")
def setup_conflict(case: Case, report: FindingFactory) -> Iterator[Finding]:
    if case.setup is None:
        return
    for conflict in conflicts(case.setup, case.derived):
        yield report(conflict.message, quantity=conflict.where, fix=conflict.fix)
