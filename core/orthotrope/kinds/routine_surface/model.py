"""A surface that is touched along an axis, either way."""

from typing import Any, Literal

from pydantic import field_validator

from orthotrope.errors import InputError
from orthotrope.setup.routines import ROUTINES, Routine


@ROUTINES.register("surface")
class Surface(Routine):
    """``x``, ``y``, ``z`` is where it is touched: the point that the tip meets."""

    kind: Literal["surface"]
    way: Literal["X+", "X-", "Y+", "Y-", "Z-"] = "Z-"
    takes_plate = True

    @field_validator("way", mode="before")
    @classmethod
    def _stem_stands_above(cls, way: Any) -> Any:
        if way == "Z+":
            raise InputError.at(
                "",
                "`way` can't be Z+: the stem stands upright above the tip and would meet the face first. Turn the part over, or touch "
                "the face above it and the step between them.",
            )
        return way

    @property
    def axes(self) -> tuple[str, ...]:
        return (self.way[0].lower(),)

    @property
    def holds_turned(self) -> bool:
        return self.way == "Z-"
