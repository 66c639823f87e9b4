"""What the core has to say of a run, for a screen."""

from collections.abc import Iterable

from orthotrope.machine.passing import Passing
from orthotrope.proof.case import Case
from orthotrope.proof.conflicts import Conflict
from orthotrope.proof.findings import Finding


def as_findings(name: str, advice: Iterable[Conflict]) -> list[Finding]:
    """Each piece of advice as the finding of a check of this name."""
    return [Finding(name, e.severity, e.message, quantity=e.where, fix=e.fix) for e in advice]


MOST_PASSED = 5
"""Bodies that are reported; the closest."""


def passed_by(case: Case | None) -> list[Passing]:
    """What a case passes closest, where it is one that can be run."""
    return list(case.passed[:MOST_PASSED]) if case and case.program.readable else []
