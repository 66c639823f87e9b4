"""What routines of round features share."""

from typing import Annotated, ClassVar

from pydantic import Field

from orthotrope.setup.routines import Routine
from orthotrope.validation import Angle, PositiveLength


class RoundRoutine(Routine):
    """``diameter`` as expected, mm; ``touches`` round the clock, the first at ``first_deg``; the place is its middle."""

    diameter: PositiveLength
    touches: Annotated[int, Field(ge=3, le=36)] = 4
    first_deg: Angle = 0.0
    sizes: ClassVar[tuple[str, ...]] = ("diameter",)

    @property
    def axes(self) -> tuple[str, ...]:
        return ("x", "y")

    @property
    def holds_turned(self) -> bool:
        return True
