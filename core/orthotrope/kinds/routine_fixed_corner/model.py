"""Back to a corner that does not move: home, go there, set the zero."""

from typing import ClassVar, Literal

from orthotrope.setup.routines import ROUTINES, Routine


@ROUTINES.register("fixed corner")
class FixedCorner(Routine):
    """The place is the corner's, as it was found once. Nothing is touched: the height is still to be found."""

    kind: Literal["fixed corner"]
    touches_part: ClassVar[bool] = False

    @property
    def axes(self) -> tuple[str, ...]:
        return ("x", "y")
