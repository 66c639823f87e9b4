"""A setter on the table: round or square, from the table up to its plane."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotrope.errors import InputError
from orthotrope.setup.setters import SETTERS, NewSetter, Setter
from orthotrope.setup.surround import Body, Box, Cylinder
from orthotrope.units import in_unit, with_unit
from orthotrope.validation import Angle, Length, PositiveLength, Record


class Round(Record):
    form: Literal["round"]
    diameter: PositiveLength


class Square(Record):
    """Turned by ``turn_deg`` about its upright middle axis."""

    form: Literal["square"]
    size_x: PositiveLength
    size_y: PositiveLength
    turn_deg: Angle = 0.0


@SETTERS.register("on the table")
class SetterOnTable(Setter):
    """``x``, ``y``: its middle, machine coordinates; ``bottom_z`` where it stands; mm."""

    kind: Literal["on the table"]
    x: Length
    y: Length
    bottom_z: Length
    shape: Annotated[Round | Square, Field(discriminator="form")]

    @classmethod
    def templates(cls, new: NewSetter) -> Iterator["SetterOnTable"]:
        table = new.machine.axes.upright.least
        for x, y in new.places:
            yield cls(
                kind="on the table",
                name=new.name,
                input=new.input,
                x=x,
                y=y,
                bottom_z=table,
                plane_z=table + 40.0,
                overtravel=4.0,
                shape=Round(form="round", diameter=30.0),
            )

    @model_validator(mode="after")
    def _upright(self) -> "SetterOnTable":
        if self.plane_z <= self.bottom_z:
            raise InputError.at(
                "/plane_z",
                f"`plane_z` must be above `bottom_z`, {with_unit(self.bottom_z)}; got {in_unit(self.plane_z)}.",
            )
        return self

    @property
    def width(self) -> float | None:
        if self.touched_from == "above":
            return None
        if isinstance(self.shape, Round):
            return self.shape.diameter
        return self.shape.size_x if self.shape.turn_deg == 0 else None

    @property
    def body(self) -> Body:
        shared = {
            "name": self.name,
            "x": self.x,
            "y": self.y,
            "bottom_z": self.bottom_z,
            "top_z": self.plane_z,
            "makes": self.input,
            "give": self.overtravel,
        }
        sizes = self.shape.model_dump(exclude={"form"})
        kind = Cylinder if isinstance(self.shape, Round) else Box
        return kind.model_validate({"kind": "box" if kind is Box else "cylinder", **shared, **sizes})
