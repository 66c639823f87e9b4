"""The tool changer. One style is built: the thread-on rack, whose nuts the turning spindle threads on and off."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotrope.errors import Fault, InputError
from orthotrope.setup.datum import Datum, PocketDatum
from orthotrope.setup.signals import SignalNumber
from orthotrope.validation import Angle, Distance, Feed, Length, PocketNumber, PositiveLength, Record, Speed


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
    """A row of pockets in a block. ``width`` is across the row, ``end`` from the last pocket's axis to the block's end,
    ``top_below_nose`` how far the block's top is below a coupled nose, ``height`` the block's own. ``placing_tolerance``: how
    far off its axis a nose still meets a nut. ``taught`` pockets; with ``single_positions`` they stand where they were taught,
    and the rest follow the rule of datum, bearing and pitch. ``nominal``: the rule before a fit was taken."""

    datum: Datum
    bearing_deg: Angle
    pitch: PositiveLength
    count: Annotated[int, Field(ge=1, le=400)]
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
            if entry.pocket > self.count:
                faults.append(Fault(f"/taught/{index}/pocket", f"`pocket` must be at most {self.count}, the number of pockets "
                                    f"there are; got {entry.pocket}."))  # fmt: skip
            if entry.pocket in seen:
                faults.append(Fault(f"/taught/{index}/pocket", f"`pocket` {entry.pocket} is taught twice; keep one of them."))
            seen.add(entry.pocket)
        if faults:
            raise InputError(faults)
        if isinstance(self.datum, PocketDatum) and self.datum.pocket > self.count:
            raise InputError.at("/datum/pocket", f"`pocket` must be at most {self.count}, the number of pockets there "
                                f"are; got {self.datum.pocket}.")  # fmt: skip
        return self


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


class Coupling(Record):
    """The thread. ``dwell`` at the bottom in seconds; ``flats_height``: how far above its seat the pocket's flats catch
    the nut; ``lift_allowed``: the pocket's float, up and down."""

    lead: PositiveLength
    speed: Speed
    feed: Feed
    engaged_length: PositiveLength
    speed_cap: Speed
    lift_allowed: Distance
    observed_lift: Length | None = None
    nut_diameter: PositiveLength
    hole_diameter: PositiveLength
    flats_height: PositiveLength
    dwell: Annotated[float, Field(ge=0, json_schema_extra={"unit": "s"})]

    @model_validator(mode="after")
    def _sizes(self) -> "Coupling":
        faults = []
        if self.observed_lift is not None and self.observed_lift >= self.engaged_length:
            faults.append(Fault("/observed_lift", f"`observed_lift` must be below the engaged length, "
                                f"{self.engaged_length:g} mm; got {self.observed_lift:g}."))  # fmt: skip
        if self.hole_diameter > self.nut_diameter:
            faults.append(Fault("/hole_diameter", f"`hole_diameter` must be at most the nut's diameter, "
                                f"{self.nut_diameter:g} mm; got {self.hole_diameter:g}."))  # fmt: skip
        if faults:
            raise InputError(faults)
        return self


class Reserved(Record):
    """A pocket that something else stands in: ``diameter`` and machine Z of its ``top_z``, mm. ``makes``: the number of the
    input that it makes when it is touched, ``give`` how far it may be pushed, mm."""

    pocket: PocketNumber
    what: Annotated[str, Field(min_length=1, max_length=40)]
    diameter: PositiveLength
    top_z: Length
    makes: SignalNumber | None = None
    give: Distance = 0.0


class Changer(Record):
    style: Literal["thread-on"]
    rack: Rack
    heights: Heights
    coupling: Coupling
    reserved: Annotated[list[Reserved], Field(max_length=400)] = []

    @model_validator(mode="after")
    def _reserved_exist(self) -> "Changer":
        faults, seen = [], set()
        for index, entry in enumerate(self.reserved):
            if entry.pocket > self.rack.count:
                faults.append(Fault(f"/reserved/{index}/pocket", f"`pocket` must be at most {self.rack.count}, the "
                                    f"number of pockets there are; got {entry.pocket}."))  # fmt: skip
            if entry.pocket in seen:
                faults.append(Fault(f"/reserved/{index}/pocket", f"`pocket` {entry.pocket} is reserved twice; keep one "
                                    f"of the entries."))  # fmt: skip
            seen.add(entry.pocket)
        if faults:
            raise InputError(faults)
        return self
