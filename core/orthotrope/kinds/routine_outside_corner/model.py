"""A corner of a part, from two or three of its faces."""

from typing import Literal

from orthotrope.setup.routines import ROUTINES, CornerRoutine


@ROUTINES.register("outside corner")
class OutsideCorner(CornerRoutine):
    kind: Literal["outside corner"]
    takes_plate = True
