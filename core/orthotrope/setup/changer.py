"""What the styles of changer share: a rack of pockets, the height ladder, the grip, what stands in a pocket."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotrope.errors import Fault, InputError
from orthotrope.setup.datum import Datum, PocketDatum
from orthotrope.setup.signals import SignalNumber
from orthotrope.units import with_unit
from orthotrope.validation import Angle, Distance, Feed, Length, PocketNumber, PositiveLength, Record


class Taught(Record):
    """Where a pocket's axis was found by jogging to it, machine coordinates, mm; ``z`` the nose on the setting spacer there."""

    pocket: PocketNumber
    x: Length
    y: Length
    z: Length | None = None


class Approached(Record):
    """What was seen when a pocket was approached in steps."""

    pocket: PocketNumber
    outcome: Literal["free", "rubs", "meets something"]
    note: Annotated[str, Field(max_length=200)] = ""


class RackPlace(Record):
    """Where a rack stands: kept when a fit takes the place of the nominal numbers, to go back to."""

    datum: Datum
    bearing_deg: Angle
    pitch: PositiveLength


class Rack(Record):
    """Rows of ``count`` pockets each in a block, numbered along the bearing, then row by row at ``row_pitch``. ``width`` is the
    block's across the first row, ``end`` from the last pocket's axis to the block's end, ``top_below_nose`` how far the block's
    top is below a coupled nose, ``height`` the block's own. ``placing_tolerance``: how far off its axis a nose still meets a
    tool. ``taught`` pockets; with ``single_positions`` they stand where they were taught, and the rest follow the rule of datum,
    bearing and pitch. ``nominal``: the rule before a fit was taken."""

    datum: Datum
    bearing_deg: Angle
    pitch: PositiveLength
    count: Annotated[int, Field(ge=1, le=400)]
    rows: Annotated[int, Field(ge=1, le=20)] = 1
    row_pitch: Distance = 0.0
    width: PositiveLength
    end: PositiveLength
    height: PositiveLength
    top_below_nose: Length
    placing_tolerance: PositiveLength = 0.3
    taught: Annotated[list[Taught], Field(max_length=400)] = []
    single_positions: bool = False
    approached: Annotated[list[Approached], Field(max_length=400)] = []
    nominal: RackPlace | None = None

    @model_validator(mode="after")
    def _datum_pocket(self) -> "Rack":
        faults, seen = [], set()
        for index, entry in enumerate(self.taught):
            if entry.pocket > self.total:
                faults.append(Fault(f"/taught/{index}/pocket", f"`pocket` must be at most {self.total}, the number of pockets "
                                    f"there are; got {entry.pocket}."))  # fmt: skip
            if entry.pocket in seen:
                faults.append(Fault(f"/taught/{index}/pocket", f"`pocket` {entry.pocket} is taught twice; keep one of them."))
            seen.add(entry.pocket)
        if isinstance(self.datum, PocketDatum) and self.datum.pocket > self.total:
            faults.append(Fault("/datum/pocket", f"`pocket` must be at most {self.total}, the number of pockets there are; got "
                                f"{self.datum.pocket}."))  # fmt: skip
        if self.rows > 1 and self.row_pitch <= 0:
            faults.append(
                Fault("/row_pitch", f"`row_pitch` must be above 0 where there are rows; got {with_unit(self.row_pitch)}.")
            )
        if faults:
            raise InputError(faults)
        return self

    @property
    def total(self) -> int:
        """Pockets of all rows."""
        return self.count * self.rows


class Heights(Record):
    """Inputs of the height ladder, machine Z of the bare nose, mm. ``planned_longest`` stands for the longest tool until
    tools are stored; ``pocket_depth`` is free below a coupled nose."""

    touch_z: Length
    recess: Distance
    hover_gap: Distance
    stored_top_z: Length
    margin: Distance
    pocket_depth: Distance
    park_z: Length
    planned_longest: PositiveLength


class Grip(Record):
    """The drawbar's grip and the holders it takes, mm. ``knob_height``: how far taper and knob stand above the gauge line;
    ``holder_diameter`` of the holder's flange; ``push_out``: how far opening pushes
    the tool out, ``push_out_allowed`` what the pocket gives; ``feed`` over the last ``slow_distance`` before the gauge line;
    ``reach``: how far off the gauge line the grip still takes a tool. ``wait``: longest time to wait for an input, seconds."""

    knob_height: PositiveLength
    holder_diameter: PositiveLength
    push_out: Distance
    push_out_allowed: Distance
    slow_distance: PositiveLength
    feed: Feed
    reach: PositiveLength
    wait: Annotated[float, Field(gt=0, le=60, json_schema_extra={"unit": "s"})]


class Orientation(Record):
    """The spindle's angle at which a tool is handed over, degrees; ``half_turn``: whether half a turn off does as well."""

    angle_deg: Angle
    tolerance_deg: Annotated[float, Field(gt=0, lt=90, json_schema_extra={"unit": "°"})]
    half_turn: bool


class Reserved(Record):
    """A pocket that something else stands in: ``diameter`` and machine Z of its ``top_z``, mm. ``makes``: the number of the
    input that it makes when it is touched, ``give`` how far it may be pushed, mm."""

    pocket: PocketNumber
    what: Annotated[str, Field(min_length=1, max_length=40)]
    diameter: PositiveLength
    top_z: Length
    makes: SignalNumber | None = None
    give: Distance = 0.0
