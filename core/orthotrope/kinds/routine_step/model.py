"""The height of a step between two faces."""

from typing import ClassVar, Literal

from pydantic import model_validator

from orthotrope.errors import InputError
from orthotrope.setup.routines import ROUTINES, Routine
from orthotrope.validation import Length, PositiveLength


@ROUTINES.register("step height")
class StepHeight(Routine):
    """From the place on the upper face by ``to_x``, ``to_y`` to one on the lower face, lower by ``height`` as expected, mm."""

    kind: Literal["step height"]
    to_x: Length = 40.0
    to_y: Length = 0.0
    height: PositiveLength
    sizes: ClassVar[tuple[str, ...]] = ("height",)

    @model_validator(mode="after")
    def _apart(self) -> "StepHeight":
        if self.to_x == 0 and self.to_y == 0:
            raise InputError.at("/to_x", "`to_x` and `to_y` are both 0; the lower face is touched at another place.")
        return self

    @property
    def axes(self) -> tuple[str, ...]:
        return ("z",)

    @property
    def holds_turned(self) -> bool:
        return True
