"""Findings: what a check has to say."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, Literal

from pydantic import TypeAdapter

Severity = Literal["stop", "warn", "note"]
SEVERITIES: tuple[Severity, ...] = ("stop", "warn", "note")


@dataclass(frozen=True, slots=True)
class SetupFix:
    """One value of the Setup that fixes it: ``where`` it stands (JSON pointer), and the ``value`` to give it."""

    says: str
    where: str
    value: float | str


@dataclass(frozen=True, slots=True)
class Finding:
    """``message`` says what is wrong, with the figures, and what to do. ``line`` counts from 1; ``quantity`` is the
    JSON pointer of the Setup's value that it is about."""

    check: str
    severity: Severity
    message: str
    line: int | None = None
    at_seconds: float | None = None
    position: tuple[float, float, float] | None = None
    quantity: str | None = None
    fix: SetupFix | None = None

    def as_json(self) -> dict[str, Any]:
        """The fields of checks.md; those without a value are left out."""
        fields = {
            "check": self.check,
            "severity": self.severity,
            "message": self.message,
            "line": self.line,
            "at_seconds": self.at_seconds,
            "position": list(self.position) if self.position else None,
            "quantity": self.quantity,
        }
        return {name: value for name, value in fields.items() if value is not None}


FINDING: TypeAdapter[Finding] = TypeAdapter(Finding)
"""As plain values with its fix, for what is stored, and back."""


def worst_first(findings: Iterable[Finding]) -> list[Finding]:
    """In the order of severity, then of time and line."""
    return sorted(findings, key=lambda f: (SEVERITIES.index(f.severity), f.at_seconds or 0.0, f.line or 0))
