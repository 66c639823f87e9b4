"""A web along one axis: its middle and width."""

from typing import ClassVar, Literal

from orthotrope.setup.routines import ROUTINES, Routine
from orthotrope.validation import PositiveLength


@ROUTINES.register("web")
class Web(Routine):
    """``across``: the axis along which its two faces are apart, by ``width`` mm as expected; the place is its middle."""

    kind: Literal["web"]
    across: Literal["x", "y"] = "x"
    width: PositiveLength
    sizes: ClassVar[tuple[str, ...]] = ("width",)

    @property
    def axes(self) -> tuple[str, ...]:
        return (self.across,)

    @property
    def holds_turned(self) -> bool:
        return True
