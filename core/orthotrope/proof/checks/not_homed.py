"""Machine coordinates are used before homing."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("not-homed", "stop", "run")
def not_homed(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("not-homed"):
        yield report.of_event(event, "Machine coordinates are used before the machine is homed; home it first.")
