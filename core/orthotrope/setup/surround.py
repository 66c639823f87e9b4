"""What is around: bodies to keep clear of, and the work offsets."""

from typing import Annotated, Literal, TypeVar

from pydantic import Field, model_validator

from orthotrope.errors import InputError
from orthotrope.setup.machine import Name
from orthotrope.setup.signals import SignalNumber
from orthotrope.units import in_unit, with_unit
from orthotrope.validation import Angle, Distance, Length, PositiveLength, Record


class Box(Record):
    """A box, turned by ``turn_deg`` about its upright middle axis; x, y are the middle, mm. ``makes``: the number of
    the input that it makes when it is touched, ``give`` how far it may be pushed, mm."""

    kind: Literal["box"]
    name: Name
    x: Length
    y: Length
    size_x: PositiveLength
    size_y: PositiveLength
    turn_deg: Angle = 0.0
    bottom_z: Length
    top_z: Length
    makes: SignalNumber | None = None
    give: Distance = 0.0

    @model_validator(mode="after")
    def _upright(self) -> "Box":
        return _upright(self)


class Cylinder(Record):
    """An upright cylinder, mm; ``makes`` and ``give`` as a box has them."""

    kind: Literal["cylinder"]
    name: Name
    x: Length
    y: Length
    diameter: PositiveLength
    bottom_z: Length
    top_z: Length
    makes: SignalNumber | None = None
    give: Distance = 0.0

    @model_validator(mode="after")
    def _upright(self) -> "Cylinder":
        return _upright(self)


Shape = TypeVar("Shape", Box, Cylinder)


def _upright(body: Shape) -> Shape:
    if body.top_z <= body.bottom_z:
        raise InputError.at(
            "/top_z", f"`top_z` must be above `bottom_z`, {with_unit(body.bottom_z)}; got {in_unit(body.top_z)}."
        )
    return body


Body = Annotated[Box | Cylinder, Field(discriminator="kind")]


class WorkOffset(Record):
    """A work offset, 1 to 9 (G54 to G59.3): machine coordinates of the part's zero, mm."""

    number: Annotated[int, Field(ge=1, le=9)]
    x: Length
    y: Length
    z: Length
