"""The machine: its axes and its spindle."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotrope.errors import Fault, InputError
from orthotrope.validation import Acceleration, Feed, Length, PositiveLength, Record, Seconds

Name = Annotated[str, Field(min_length=1, max_length=80)]
AxisName = Literal["X", "Y", "Z"]
AXES: tuple[AxisName, ...] = ("X", "Y", "Z")


class Axis(Record):
    """One linear axis, machine coordinates, mm: ``least`` to ``greatest`` is the travel; ``home`` the switch's side."""

    least: Length
    greatest: Length
    home: Literal["least", "greatest"]
    rapid: Feed
    acceleration: Acceleration
    resolution: PositiveLength

    @model_validator(mode="after")
    def _travel(self) -> "Axis":
        if self.greatest <= self.least:
            raise InputError.at("/greatest", f"`greatest` must be above `least`, {self.least:g} mm; "
                                f"got {self.greatest:g}.")  # fmt: skip
        return self


class Axes(Record):
    X: Axis
    Y: Axis
    Z: Axis


class Spindle(Record):
    """Speeds in rev/min; ``seconds_to_speed`` from standing to the greatest. The nose is the cylinder above the gauge
    line, the body the wider one above it; lengths upwards."""

    least_speed: Annotated[float, Field(ge=0, json_schema_extra={"unit": "rev/min"})]
    greatest_speed: Annotated[float, Field(gt=0, json_schema_extra={"unit": "rev/min"})]
    seconds_to_speed: Seconds
    nose_diameter: PositiveLength
    nose_length: PositiveLength
    body_diameter: PositiveLength
    body_length: PositiveLength

    @model_validator(mode="after")
    def _speeds(self) -> "Spindle":
        if self.greatest_speed <= self.least_speed:
            raise InputError([Fault("/greatest_speed", f"`greatest_speed` must be above `least_speed`, "
                                    f"{self.least_speed:g} rev/min; got {self.greatest_speed:g}.")])  # fmt: skip
        return self


class Machine(Record):
    name: Name
    description: Annotated[str, Field(max_length=200)] = ""
    unit: Literal["mm", "inch"]
    profile: Name
    axes: Axes
    spindle: Spindle
