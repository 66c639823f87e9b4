"""Machine coordinates are used before homing."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, Teller, check
from orthotrope.proof.findings import Finding


@check("not-homed", "stop", "run")
def not_homed(case: Case, tell: Teller) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("not-homed"):
        yield tell.of_event(event, "Machine coordinates are used before the machine is homed; home it first.")
