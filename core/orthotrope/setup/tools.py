"""The tools, and where each is stored."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotrope.errors import Fault, InputError
from orthotrope.units import in_unit, with_unit
from orthotrope.validation import MOST, Distance, Feed, Length, PocketNumber, PositiveLength, Record, Speed

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


class HolderPart(Record):
    """One cylinder of a holder, mm."""

    diameter: PositiveLength
    length: PositiveLength


class CuttingData(Record):
    """What a tool cuts with: one of each pair, the other one follows. ``speed`` rev/min or ``surface_speed`` m/min;
    ``feed`` mm/min or ``chip_load`` mm a tooth."""

    speed: Speed | None = None
    surface_speed: Annotated[float, Field(gt=0, le=MOST, json_schema_extra={"unit": "m/min"})] | None = None
    feed: Feed | None = None
    chip_load: PositiveLength | None = None

    @model_validator(mode="after")
    def _one_of_each(self) -> "CuttingData":
        faults = [
            Fault(f"/{one}", f"`{one}` and `{other}` are both given; the one follows from the other: keep one of them.")
            for one, other in (("speed", "surface_speed"), ("feed", "chip_load"))
            if getattr(self, one) is not None and getattr(self, other) is not None
        ]
        if faults:
            raise InputError(faults)
        return self


class Tool(Record):
    """A tool. ``holder``: its cylinders from the gauge line downwards, the last one down to the stick-out (none: one of the changer's
    diameter); ``off_axis``: how far from its axis it is touched, mm; ``turns_backwards``: whether it turns slowly backwards meanwhile;
    ``edge_height``: how far above its tip its diameter is touched (None: it is not). ``type``: what it is, as the trade calls it; ``length`` from gauge line to tip as it was measured, ``wear``: what has come to it since (negative: shorter), ``greatest_wear``: how much of it the tool may have either way, ``in_use``: the whole length that the control goes by, where that is known (None: it is not), ``stick_out`` from the nut's lower face to the tip, ``shank_above``
    how far its shank's end stands above the gauge line (0: not above it), ``fetched_a_shift``: how often an exchange fetches it in a shift, ``collar_scatter``: by how much its length scatters where a stop collar keeps it (None: there is no collar),
    ``breakage``: by how much it may differ from its record before it is taken for broken, mm; ``angle_deg``: the included point angle of a drill, that per side of a chamfer mill; ``pocket`` is null for a tool that is in
    no pocket."""

    number: ToolNumber
    name: Annotated[str, Field(max_length=80)]
    type: ToolType = "flat end mill"
    diameter: PositiveLength
    length: PositiveLength
    stick_out: PositiveLength
    shank_above: Distance = 0.0
    wear: Length = 0.0
    greatest_wear: Distance | None = None
    in_use: PositiveLength | None = None
    breakage: PositiveLength = 0.5
    collar_scatter: Distance | None = None
    flutes: Annotated[int, Field(ge=0, le=100)] | None = None
    cutting_length: PositiveLength | None = None
    corner_radius: Distance | None = None
    angle_deg: Annotated[float, Field(gt=0, le=180, json_schema_extra={"unit": "°"})] | None = None
    greatest_speed: Annotated[float, Field(gt=0, le=1e6, json_schema_extra={"unit": "rev/min"})] | None = None
    fetched_a_shift: Annotated[int, Field(ge=0, le=10_000)] = 10
    holder: Annotated[list[HolderPart], Field(max_length=12)] = []
    cutting: CuttingData = CuttingData()
    off_axis: Distance = 0.0
    turns_backwards: bool = False
    edge_height: Distance | None = None
    notes: Annotated[str, Field(max_length=400)] = ""
    pocket: PocketNumber | None = None

    @property
    def whole_length(self) -> float:
        """Length and wear together, mm: what the control goes by."""
        return self.length + self.wear

    @model_validator(mode="after")
    def _within_length(self) -> "Tool":
        if self.off_axis > self.diameter / 2:
            most = f"`off_axis` must be at most half the diameter, {with_unit(self.diameter / 2)}"
            raise InputError.at("/off_axis", f"{most}; got {in_unit(self.off_axis)}.")
        if self.stick_out >= self.length:
            raise InputError.at(
                "/stick_out",
                f"`stick_out` must be below the length, {with_unit(self.length)}; got {in_unit(self.stick_out)}.",
            )
        return self
