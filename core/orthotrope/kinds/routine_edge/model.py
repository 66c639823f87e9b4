"""An edge: one side of a part, touched below its upper face."""

from typing import Literal

from orthotrope.setup.routines import ROUTINES, Routine, Sideways


@ROUTINES.register("edge")
class EdgeRoutine(Routine):
    """``way``: the way the touch goes, towards the part."""

    kind: Literal["edge"]
    way: Sideways = "X+"
    takes_plate = True

    @property
    def axes(self) -> tuple[str, ...]:
        return (self.way[0].lower(),)
