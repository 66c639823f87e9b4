"""Readings as they are reported."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from orthotrope.calc.resting import named, replaced
from orthotrope.setup.keys import unkeyed

from shop.models import Reading


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadingResponse:
    """``pointer``: where the quantity stands in the newest document now; "" where it has gone. ``rests_on``: what it was measured with; ``replaced``: what of that has another value now, in words;
    ``measured_at``: when, where that is not when it was taken over."""

    id: int
    quantity: str
    pointer: str
    source: Literal["machine", "typed", "dial", "series", "read-back"]
    value: float
    raw: float
    step: float | None
    position: list[float] | None
    work_offset: int | None
    tool: int | None
    tool_length: float | None
    says: str
    rests_on: dict[str, float | None]
    replaced: list[str]
    measured_at: datetime | None
    half_width_95: float | None
    came: int | None
    difference: float | None
    agrees: bool | None
    slip: str
    author: str
    taken: datetime

    @classmethod
    def of(cls, reading: Reading, document: Any) -> "ReadingResponse":
        """A stored reading against the document of now."""
        details = reading.details
        return cls(
            id=reading.pk,
            quantity=reading.quantity,
            pointer=unkeyed(document, reading.quantity),
            source=reading.source,  # type: ignore[arg-type]
            value=reading.value,
            raw=reading.raw,
            step=reading.step,
            position=reading.position,
            work_offset=reading.work_offset,
            tool=reading.tool,
            tool_length=reading.tool_length,
            says=details.get("says", ""),
            rests_on=details.get("rests_on", {}),
            replaced=[named(keyed) for keyed in replaced(document, details.get("rests_on", {}))],
            measured_at=datetime.fromisoformat(measured) if (measured := details.get("measured_at")) else None,
            half_width_95=details.get("half_width_95"),
            came=details.get("came"),
            difference=details.get("difference"),
            agrees=details.get("agrees"),
            slip=details.get("slip", ""),
            author=reading.author.get_username(),
            taken=reading.taken,
        )


@dataclass(frozen=True, slots=True)
class ReadingKept:
    """A reading that was kept, and the edit that puts it into the document (null: none)."""

    reading: ReadingResponse
    edit_at: str | None
    edit: Any


@dataclass(frozen=True, slots=True)
class PocketTaught:
    readings: list[ReadingResponse]
    edit_at: str
    edit: Any
