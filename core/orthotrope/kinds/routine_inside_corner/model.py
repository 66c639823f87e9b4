"""A corner of a pocket, from two or three of its faces."""

from typing import Literal

from orthotrope.setup.routines import ROUTINES, CornerRoutine


@ROUTINES.register("inside corner")
class InsideCorner(CornerRoutine):
    kind: Literal["inside corner"]
