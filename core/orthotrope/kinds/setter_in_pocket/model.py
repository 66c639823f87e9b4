"""A setter in a pocket of the changer: where it is follows from the pocket."""

from collections.abc import Iterator
from typing import Literal

from orthotrope.setup.occupant import Occupant
from orthotrope.setup.setters import SETTERS, NewSetter, Setter
from orthotrope.validation import PocketNumber, PositiveLength


@SETTERS.register("in a pocket")
class SetterInPocket(Setter):
    """``diameter`` of what stands there, mm; no tool can have the pocket."""

    kind: Literal["in a pocket"]
    pocket: PocketNumber
    diameter: PositiveLength

    @classmethod
    def templates(cls, new: NewSetter) -> Iterator["SetterInPocket"]:
        top = new.stored_top
        if top is None:
            return
        for pocket in reversed(new.pockets):
            yield cls(
                kind="in a pocket",
                name=new.name,
                input=new.input,
                pocket=pocket,
                diameter=30.0,
                plane_z=top,
                overtravel=4.0,
            )

    @property
    def occupant(self) -> Occupant:
        return Occupant(self.pocket, self.name, self.diameter, self.plane_z, makes=self.input, give=self.overtravel)
