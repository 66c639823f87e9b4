"""A block of known height: laid on the table or a part, its top is a reference face that does not give."""

from typing import Literal

from orthotrope.setup.setters import SETTERS, Setter
from orthotrope.setup.surround import Body, Box
from orthotrope.validation import Length, PositiveLength


@SETTERS.register("reference block")
class ReferenceBlock(Setter):
    """``x``, ``y``: its middle, machine coordinates; ``size_x``, ``size_y`` and ``height`` of it; ``plane_z``: where its top
    is expected; mm. ``input``: what a tip closes that touches it."""

    kind: Literal["reference block"]
    x: Length
    y: Length
    size_x: PositiveLength
    size_y: PositiveLength
    height: PositiveLength

    @property
    def lies_on(self) -> float:
        return self.height

    @property
    def body(self) -> Body:
        return Box(
            kind="box",
            name=self.name,
            x=self.x,
            y=self.y,
            size_x=self.size_x,
            size_y=self.size_y,
            turn_deg=0.0,
            bottom_z=self.plane_z - self.height,
            top_z=self.plane_z,
            makes=self.input,
            give=self.overtravel,
        )
