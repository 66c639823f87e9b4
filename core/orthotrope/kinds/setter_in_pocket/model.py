"""A setter in a pocket of the changer: where it is follows from the pocket."""

from typing import Literal

from orthotrope.setup.occupant import Occupant
from orthotrope.setup.setters import SETTERS, Setter
from orthotrope.validation import PocketNumber, PositiveLength


@SETTERS.register("in a pocket")
class SetterInPocket(Setter):
    """``diameter`` of what stands there, mm; no tool can have the pocket."""

    kind: Literal["in a pocket"]
    pocket: PocketNumber
    diameter: PositiveLength

    @property
    def occupant(self) -> Occupant:
        return Occupant(self.pocket, self.name, self.diameter, self.plane_z, makes=self.input, give=self.overtravel)
