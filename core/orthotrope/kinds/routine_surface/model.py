"""A surface that is touched along an axis, either way."""

from typing import Literal

from orthotrope.setup.routines import ROUTINES, Routine


@ROUTINES.register("surface")
class Surface(Routine):
    """``x``, ``y``, ``z`` is where it is touched: the point that the tip meets."""

    kind: Literal["surface"]
    way: Literal["X+", "X-", "Y+", "Y-", "Z-"] = "Z-"
    takes_plate = True

    @property
    def axes(self) -> tuple[str, ...]:
        return (self.way[0].lower(),)

    @property
    def holds_turned(self) -> bool:
        return self.way == "Z-"
