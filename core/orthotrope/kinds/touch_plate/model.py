"""A touch plate: laid on a part while the part's zero is touched, and taken off again."""

from typing import Literal

from orthotrope.setup.setters import SETTERS, Setter
from orthotrope.setup.surround import Body, Cylinder
from orthotrope.validation import Length, PositiveLength


@SETTERS.register("touch plate")
class TouchPlate(Setter):
    """``x``, ``y``: where it is laid, machine coordinates; ``diameter`` and ``thickness`` of it; ``plane_z``: where its top
    is expected; mm. What is touched sets the zero of its work offset."""

    kind: Literal["touch plate"]
    x: Length
    y: Length
    diameter: PositiveLength
    thickness: PositiveLength

    @property
    def lies_on(self) -> float:
        return self.thickness

    @property
    def body(self) -> Body:
        return Cylinder(
            kind="cylinder",
            name=self.name,
            x=self.x,
            y=self.y,
            diameter=self.diameter,
            bottom_z=self.plane_z - self.thickness,
            top_z=self.plane_z,
            makes=self.input,
            give=self.overtravel,
        )
