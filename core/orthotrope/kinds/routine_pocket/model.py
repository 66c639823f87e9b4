"""A rectangular pocket: its middle and both sizes."""

from typing import ClassVar, Literal

from orthotrope.setup.routines import ROUTINES, Routine
from orthotrope.validation import PositiveLength


@ROUTINES.register("rectangular pocket")
class RectangularPocket(Routine):
    """``size_x``, ``size_y`` as expected, mm; the place is its middle."""

    kind: Literal["rectangular pocket"]
    size_x: PositiveLength
    size_y: PositiveLength
    sizes: ClassVar[tuple[str, ...]] = ("size_x", "size_y")

    @property
    def axes(self) -> tuple[str, ...]:
        return ("x", "y")

    @property
    def holds_turned(self) -> bool:
        return True
