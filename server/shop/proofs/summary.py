"""How far a proof is, and whether it still holds."""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from orthotrope.setup.changes import Change


@dataclass(frozen=True, slots=True, kw_only=True)
class ProofSummary:
    """``stop`` and ``warn`` count exchanges, ``cases``, ``unsafe`` and ``undetectable`` runs under a fault; ``place``
    is the one in line while it waits. ``changes``: what made it stale, ``changed_by`` whom and when."""

    id: int
    state: Literal["running", "done", "cancelled", "failed"]
    done: int
    total: int
    stop: int
    warn: int
    cases: int
    unsafe: int
    undetectable: int
    revision: int
    author: str
    started: datetime
    file: str
    error: str
    stale: bool
    stale_sequences: int
    changes: list[Change]
    changed_by: str
    changed_at: datetime | None
    place: int
