"""The tools, and where each is stored."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotrope.errors import InputError
from orthotrope.units import in_unit, with_unit
from orthotrope.validation import Distance, PocketNumber, PositiveLength, Record

ToolNumber = Annotated[int, Field(ge=1, le=9999)]

ToolType = Literal[
    "flat end mill",
    "ball end mill",
    "corner-radius end mill",
    "face mill",
    "drill",
    "spot drill",
    "chamfer mill",
    "reamer",
    "tap",
    "boring bar",
    "slot cutter",
    "engraver",
    "reference tool",
    "probe",
]


class Tool(Record):
    """A tool. ``type``: what it is, as the trade calls it; ``length`` from gauge line to tip, ``stick_out`` from the nut's lower face to the tip, ``shank_above``
    how far its shank's end stands above the gauge line (0: not above it), ``collar_scatter``: by how much its length scatters where a stop collar keeps it (None: there is no collar),
    ``breakage``: by how much it may differ from its record before it is taken for broken, mm; ``angle_deg``: the included point angle of a drill, that per side of a chamfer mill; ``pocket`` is null for a tool that is in
    no pocket."""

    number: ToolNumber
    name: Annotated[str, Field(max_length=80)]
    type: ToolType = "flat end mill"
    diameter: PositiveLength
    length: PositiveLength
    stick_out: PositiveLength
    shank_above: Distance = 0.0
    breakage: PositiveLength = 0.5
    collar_scatter: Distance | None = None
    flutes: Annotated[int, Field(ge=0, le=100)] | None = None
    cutting_length: PositiveLength | None = None
    corner_radius: Distance | None = None
    angle_deg: Annotated[float, Field(gt=0, le=180, json_schema_extra={"unit": "°"})] | None = None
    greatest_speed: Annotated[float, Field(gt=0, le=1e6, json_schema_extra={"unit": "rev/min"})] | None = None
    notes: Annotated[str, Field(max_length=400)] = ""
    pocket: PocketNumber | None = None

    @model_validator(mode="after")
    def _within_length(self) -> "Tool":
        if self.stick_out >= self.length:
            raise InputError.at(
                "/stick_out",
                f"`stick_out` must be below the length, {with_unit(self.length)}; got {in_unit(self.stick_out)}.",
            )
        return self
