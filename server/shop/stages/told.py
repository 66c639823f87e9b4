"""Advice of the core as findings, for a screen."""

from collections.abc import Iterable

from orthotrope.proof.conflicts import Conflict
from orthotrope.proof.findings import Finding


def told(name: str, advice: Iterable[Conflict]) -> list[Finding]:
    """Each piece of advice as the finding of a check of this name."""
    return [Finding(name, e.severity, e.message, quantity=e.where, cure=e.cure) for e in advice]
