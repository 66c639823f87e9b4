"""Where the pockets of racks and discs are."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotrope.calc.points import Point, unit_vector
from orthotrope.calc.registry import Result, calculation
from orthotrope.errors import InputError
from orthotrope.setup.datum import Datum, PocketDatum
from orthotrope.units import in_unit, round_to_step, with_unit
from orthotrope.validation import Angle, Count, Distance, Length, PocketNumber, PositiveLength, Record

Sense = Literal["ccw", "cw"]


class Pocket(Record):
    """A pocket's number and place, mm."""

    pocket: PocketNumber
    x: Length
    y: Length


class PocketsOutput(Result):
    pockets: list[Pocket]


class RackPocketsInput(Record):
    datum: Datum
    bearing_deg: Angle
    pitch: PositiveLength
    count: Count
    rows: Annotated[int, Field(ge=1, le=1000)] = 1
    row_pitch: Distance = 0.0
    resolution: PositiveLength | None = None

    @model_validator(mode="after")
    def _fits_together(self) -> "RackPocketsInput":
        total = self.count * self.rows
        if isinstance(self.datum, PocketDatum) and self.datum.pocket > total:
            raise InputError.at(
                "/datum/pocket",
                f"`pocket` must be at most {total}, the number of pockets there are; got {self.datum.pocket}.",
            )
        if self.rows > 1 and self.row_pitch <= 0:
            raise InputError.at(
                "/row_pitch",
                f"`row_pitch` must be above {with_unit(0)} where there are rows; got {in_unit(self.row_pitch)}.",
            )
        if total > 10_000:
            raise InputError.at("/rows", f"`rows` times `count` must be at most 10000 pockets; got {total}.")
        return self


@calculation("rack-pockets", "where each pocket of a rack of one or more rows is")
def rack_pockets(data: RackPocketsInput) -> PocketsOutput:
    """The place of every pocket, numbered along the bearing, then row by row; rows step at bearing + 90°, mm.

    With a ``resolution`` each coordinate is rounded to its nearest step, halves away from zero.
    """
    cos, sin = unit_vector(data.bearing_deg)
    if isinstance(data.datum, PocketDatum):
        column0, row0 = float((data.datum.pocket - 1) % data.count), float((data.datum.pocket - 1) // data.count)
    else:
        column0, row0 = (data.count - 1) / 2, (data.rows - 1) / 2
    pockets = []
    for index in range(data.count * data.rows):
        along = (index % data.count - column0) * data.pitch
        across = (index // data.count - row0) * data.row_pitch
        x, y = data.datum.x + along * cos - across * sin, data.datum.y + along * sin + across * cos
        if data.resolution:
            x, y = round_to_step(x, data.resolution), round_to_step(y, data.resolution)
        pockets.append(Pocket(pocket=index + 1, x=x, y=y))
    return PocketsOutput(pockets=pockets)


class DiscPocketsInput(Record):
    centre: Point
    radius: PositiveLength
    count: Count
    first_bearing_deg: Angle
    sense: Sense


@calculation("disc-pockets", "where each pocket of a disc is")
def disc_pockets(data: DiscPocketsInput) -> PocketsOutput:
    """Places of a disc's pockets, mm: pocket 1 at the first bearing, the rest at equal steps in the sense."""
    step = (1 if data.sense == "ccw" else -1) * 360.0 / data.count
    pockets = []
    for index in range(data.count):
        cos, sin = unit_vector(data.first_bearing_deg + index * step)
        pockets.append(
            Pocket(pocket=index + 1, x=data.centre.x + data.radius * cos, y=data.centre.y + data.radius * sin)
        )
    return PocketsOutput(pockets=pockets)
