"""Advice of the core as findings, for a screen."""

from collections.abc import Iterable
from typing import Any

from orthotrope.proof.conflicts import Conflict
from orthotrope.proof.exchanges import finding_json
from orthotrope.proof.findings import Finding


def told(name: str, advice: Iterable[Conflict]) -> list[dict[str, Any]]:
    """Each piece of advice as the finding of a check of this name."""
    found = [Finding(name, e.severity, e.message, quantity=e.where, cure=e.cure) for e in advice]
    return [finding_json(finding) for finding in found]
