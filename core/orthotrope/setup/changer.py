"""The tool changer: what every style has, and what the styles with pockets share: a rack, the height ladder, what
stands in a pocket. A style is a kind; its own model is in its folder."""

import math
from abc import ABC, abstractmethod
from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal, NamedTuple

from pydantic import Field, model_validator

from orthotrope.errors import Fault, InputError
from orthotrope.registry import Registry
from orthotrope.setup.datum import Datum, PocketDatum
from orthotrope.setup.machine import Machine
from orthotrope.setup.named import OneOf
from orthotrope.setup.occupant import Occupant
from orthotrope.setup.tools import Tool
from orthotrope.units import with_unit
from orthotrope.validation import Angle, Distance, Length, PocketNumber, PositiveLength, Record


class Taught(Record):
    """Where a pocket's axis was found by jogging to it, machine coordinates, mm; ``z`` the nose on the setting spacer
    there."""

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
    """Rows of ``count`` pockets each in a block, numbered along the bearing, then row by row at ``row_pitch``.
    ``width`` is the block's across the first row, ``end`` from the last pocket's axis to the block's end,
    ``top_below_nose`` how far the block's top is below a coupled nose, ``height`` the block's own.
    ``placing_tolerance``: how far off its axis a nose still meets a tool. ``taught`` pockets; with ``single_positions``
    they stand where they were taught, and the rest follow the rule of datum, bearing and pitch. ``nominal``: the rule
    before a fit was taken."""

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
                faults.append(
                    Fault(
                        f"/taught/{index}/pocket",
                        f"`pocket` must be at most {self.total}, the number of pockets there are; got {entry.pocket}.",
                    )
                )
            if entry.pocket in seen:
                faults.append(
                    Fault(f"/taught/{index}/pocket", f"`pocket` {entry.pocket} is taught twice; keep one of them.")
                )
            seen.add(entry.pocket)
        if isinstance(self.datum, PocketDatum) and self.datum.pocket > self.total:
            faults.append(
                Fault(
                    "/datum/pocket",
                    f"`pocket` must be at most {self.total}, the number of pockets there are; got {self.datum.pocket}.",
                )
            )
        if self.rows > 1 and self.row_pitch <= 0:
            faults.append(
                Fault(
                    "/row_pitch", f"`row_pitch` must be above 0 where there are rows; got {with_unit(self.row_pitch)}."
                )
            )
        if faults:
            raise InputError(faults)
        return self

    @property
    def total(self) -> int:
        """Pockets of all rows."""
        return self.count * self.rows


class Heights(Record):
    """Inputs of the height ladder, machine Z of the bare nose, mm. ``planned_longest`` stands for the longest tool
    until tools are stored; ``pocket_depth`` is free below a coupled nose."""

    touch_z: Length
    recess: Distance
    hover_gap: Distance
    stored_top_z: Length
    margin: Distance
    pocket_depth: Distance
    park_z: Length
    planned_longest: PositiveLength


class Reserved(Record):
    """A pocket that something else stands in: ``diameter`` and machine Z of its ``top_z``, mm."""

    pocket: PocketNumber
    what: Annotated[str, Field(min_length=1, max_length=40)]
    diameter: PositiveLength
    top_z: Length


USUAL_WAIT = 5.0
"""Seconds to wait for an input where the changer does not say how long."""


class Placing(NamedTuple):
    """A number that says where a changer is: its ``field`` in the changer (a JSON pointer), its ``name``, and what an error in it does."""

    field: str
    name: str
    moves: Literal["along X", "along Y", "turns", "stretches"]


class Changer(Record, ABC):
    """How tools come into the spindle. Each style registers its own model by its name.

    ``sensors``: the roles of the inputs that an exchange can make use of, ``switches``: those of the outputs that it
    switches. ``words``: the style's own words for the heights of its ladder."""

    sensors: ClassVar[tuple[str, ...]] = ()
    switches: ClassVar[tuple[str, ...]] = ()
    words: ClassVar[dict[str, str]] = {"couple_z": "Seat", "touch_z": "Seat, measured"}

    placed_by: ClassVar[tuple[Placing, ...]] = ()
    """The numbers that say where it is in the machine."""

    style: str

    @classmethod
    @abstractmethod
    def template(cls, machine: Machine) -> "Changer":
        """Where one starts: numbers from the middle of the usual ranges, at the back of the travel, to be measured."""

    @property
    @abstractmethod
    def pocket_count(self) -> int:
        """How many pockets there are."""

    @property
    def occupants(self) -> list[Occupant]:
        """What stands in pockets that the changer has reserved; :attr:`Setup.occupants` has the setters too."""
        return []

    @property
    def margin(self) -> float:
        """Free height above what is stored, mm."""
        return 0.0

    @property
    def heights_over(self) -> "Heights | None":
        """The heights that the spindle keeps over what is stored; None: it does not go over it."""
        return None

    @property
    def deepest(self) -> float:
        """How far a stored tool may reach below the nose that has put it down, mm."""
        return math.inf

    @property
    def own_words(self) -> tuple[str, ...]:
        """The words of the control that it is moved by, beside those of its outputs."""
        return ()

    @property
    def longest_wait(self) -> float:
        """Longest time to wait for an input, seconds."""
        return USUAL_WAIT

    @property
    def frees_collets(self) -> bool:
        """Whether putting a tool down frees its collet, so that it may slip in it."""
        return False

    @property
    def loosens_backwards(self) -> bool:
        """Whether what holds a tool can come loose where the spindle turns backwards."""
        return False

    @property
    def pockets_change(self) -> bool:
        """Whether a tool comes back to another pocket than the one that it was taken from."""
        return False

    def exchangeable(self, tools: list[Tool]) -> list[Tool]:
        """The tools that an exchange can ask for."""
        return [tool for tool in tools if tool.pocket is not None]


class PocketChanger(Changer):
    """A changer whose pockets have numbers."""

    heights: Heights
    reserved: Annotated[list[Reserved], Field(max_length=400)] = []

    @property
    def occupants(self) -> list[Occupant]:
        return [Occupant(entry.pocket, entry.what, entry.diameter, entry.top_z) for entry in self.reserved]

    @property
    def margin(self) -> float:
        return self.heights.margin

    @property
    def deepest(self) -> float:
        return self.heights.pocket_depth

    @model_validator(mode="after")
    def _reserved_exist(self) -> "PocketChanger":
        faults, seen = [], set()
        for index, entry in enumerate(self.reserved):
            if entry.pocket > self.pocket_count:
                faults.append(
                    Fault(
                        f"/reserved/{index}/pocket",
                        f"`pocket` must be at most {self.pocket_count}, the "
                        f"number of pockets there are; got {entry.pocket}.",
                    )
                )
            if entry.pocket in seen:
                faults.append(
                    Fault(
                        f"/reserved/{index}/pocket",
                        f"`pocket` {entry.pocket} is reserved twice; keep one of the entries.",
                    )
                )
            seen.add(entry.pocket)
        faults += self._own_faults()
        if faults:
            raise InputError(faults)
        return self

    def _own_faults(self) -> Iterator[Fault]:
        yield from ()


class RackChanger(PocketChanger):
    """Pockets that stand still; the spindle goes to them."""

    placed_by: ClassVar[tuple[Placing, ...]] = (
        Placing("/rack/datum/x", "Rack datum X", "along X"),
        Placing("/rack/datum/y", "Rack datum Y", "along Y"),
        Placing("/rack/bearing_deg", "Rack bearing", "turns"),
        Placing("/rack/pitch", "Rack pitch", "stretches"),
    )

    rack: Rack

    @property
    def pocket_count(self) -> int:
        return self.rack.total

    @property
    def heights_over(self) -> Heights:
        return self.heights


def rack_of(changer: Changer | None) -> Rack | None:
    """The rack of a changer that has one."""
    return changer.rack if isinstance(changer, RackChanger) else None


CHANGERS: Registry[type[Changer]] = Registry("style of changer", "orthotrope.kinds.*.model")

AnyChanger = Annotated[Changer, OneOf(CHANGERS, "style")]


def template_rack(machine: Machine, count: int, pitch: float, width: float, height: float, top: float) -> Rack:
    """A row at the back of the travel, in the middle of X."""
    x, y = machine.axes.across
    first = round((x.soft_least + x.soft_greatest - (count - 1) * pitch) / 2, 3)
    datum = PocketDatum(at="pocket", pocket=1, x=first, y=round(y.soft_greatest - 60.0, 3))
    return Rack(
        datum=datum,
        bearing_deg=0.0,
        pitch=pitch,
        count=count,
        width=width,
        end=pitch / 2 + 5.0,
        height=height,
        top_below_nose=top,
    )


def template_heights(machine: Machine, above_least: float, hover: float, stored: float, depth: float) -> Heights:
    """A ladder whose couple height is ``above_least`` over the bottom of the travel."""
    z = machine.axes.upright
    touch = round(z.soft_least + above_least, 3)
    return Heights(
        touch_z=touch,
        recess=0.0,
        hover_gap=hover,
        stored_top_z=touch + stored,
        margin=10.0,
        pocket_depth=depth,
        park_z=round(z.soft_greatest - 1.0, 3),
        planned_longest=60.0,
    )
