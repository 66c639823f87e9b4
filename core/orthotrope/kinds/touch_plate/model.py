"""A touch plate: laid on a part while the part's zero is touched, and taken off again."""

from collections.abc import Iterator
from typing import ClassVar, Literal

from orthotrope.setup.setters import SETTERS, NewSetter, Setter
from orthotrope.setup.surround import Body, Cylinder
from orthotrope.validation import Length, PositiveLength


@SETTERS.register("touch plate")
class TouchPlate(Setter):
    """``x``, ``y``: where it is laid, machine coordinates; ``diameter`` and ``thickness`` of it; ``plane_z``: where its top
    is expected; mm. What is touched sets the zero of its work offset."""

    usual_name: ClassVar[str] = "touch plate"
    usual_roles: ClassVar[tuple[str, ...]] = ("touch plate", "setter")

    kind: Literal["touch plate"]
    x: Length
    y: Length
    diameter: PositiveLength
    thickness: PositiveLength

    @classmethod
    def templates(cls, new: NewSetter) -> Iterator["TouchPlate"]:
        for x, y in new.from_middle:
            yield cls(
                kind="touch plate",
                name=new.name,
                input=new.input,
                x=x,
                y=y,
                diameter=40.0,
                thickness=12.7,
                plane_z=new.machine.axes.upright.least + 60.0,
                overtravel=2.0,
                work_offset=1,
            )

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
