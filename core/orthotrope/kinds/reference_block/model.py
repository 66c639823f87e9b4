"""A block of known height: laid on the table or a part, its top is a reference face that does not give."""

from collections.abc import Iterator
from typing import ClassVar, Literal

from orthotrope.setup.setters import SETTERS, NewSetter, Setter
from orthotrope.setup.surround import Body, Box
from orthotrope.validation import Length, PositiveLength


@SETTERS.register("reference block")
class ReferenceBlock(Setter):
    """``x``, ``y``: its middle, machine coordinates; ``size_x``, ``size_y`` and ``height`` of it; ``plane_z``: where its top
    is expected; mm. ``input``: what a tip closes that touches it."""

    usual_name: ClassVar[str] = "block"
    usual_roles: ClassVar[tuple[str, ...]] = ("touch plate", "setter")

    kind: Literal["reference block"]
    x: Length
    y: Length
    size_x: PositiveLength
    size_y: PositiveLength
    height: PositiveLength

    @classmethod
    def templates(cls, new: NewSetter) -> Iterator["ReferenceBlock"]:
        for x, y in new.from_middle:
            yield cls(
                kind="reference block",
                name=new.name,
                input=new.input,
                x=x,
                y=y,
                size_x=30.0,
                size_y=30.0,
                height=50.0,
                plane_z=new.machine.axes.upright.least + 60.0,
                overtravel=0.1,
                search_feed=60.0,
                measure_feed=25.0,
                work_offset=1,
            )

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
