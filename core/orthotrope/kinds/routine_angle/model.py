"""The angle of an edge, from touches along it."""

from typing import Annotated, Literal

from pydantic import Field

from orthotrope.setup.routines import ROUTINES, Routine, Sideways
from orthotrope.validation import PositiveLength


@ROUTINES.register("angle")
class EdgeAngle(Routine):
    """``way`` the touches go; ``touches`` of them, the first and the last ``span`` mm apart, the place in their middle; ``turn``:
    whether the turn is set as well."""

    kind: Literal["angle"]
    way: Sideways = "Y+"
    touches: Annotated[int, Field(ge=2, le=10)] = 2
    span: PositiveLength = 60.0
    turn: bool = False

    @property
    def axes(self) -> tuple[str, ...]:
        return (self.way[0].lower(),)

    @property
    def finds_turn(self) -> bool:
        return True

    @property
    def sets_turn(self) -> bool:
        return self.turn
