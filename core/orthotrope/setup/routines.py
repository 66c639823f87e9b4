"""Probing routines: what is found on a part, where it is expected, and what is set by it. What comes in kinds registers
itself."""

from abc import ABC
from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from orthotrope.errors import InputError
from orthotrope.registry import Registry
from orthotrope.setup.machine import Name
from orthotrope.setup.named import OneOf
from orthotrope.validation import Distance, Length, PositiveLength, Record

Sideways = Literal["X+", "X-", "Y+", "Y-"]
OffsetNumber = Annotated[int, Field(ge=1, le=9)]
Degrees = Annotated[float, Field(gt=0, le=90, json_schema_extra={"unit": "°"})]

WAYS: dict[str, tuple[float, float, float]] = {
    "X+": (1.0, 0.0, 0.0),
    "X-": (-1.0, 0.0, 0.0),
    "Y+": (0.0, 1.0, 0.0),
    "Y-": (0.0, -1.0, 0.0),
    "Z-": (0.0, 0.0, -1.0),
}
"""The ways that a touch goes."""


class Spot(Record):
    """A place from a routine's own, mm."""

    x: Length
    y: Length


class Routine(Record, ABC):
    """A probing routine. ``probe``: the name of the one it is made with. ``x``, ``y``: machine coordinates of where the feature is
    expected, ``z``: machine Z of its upper face, as a tip stands on it. ``before``: how far from an expected surface a
    search begins, ``beyond``: how far behind it one ends; ``depth``: how far the tip goes below the upper face to touch
    a side; ``clearance``: how far above it the tip moves across; mm. ``work_offset``: the one that is set, None: none is;
    ``readout_x``, ``readout_y``, ``readout_z``: what the readout shall show at the found place. ``place_tolerance``,
    ``size_tolerance`` (mm) and ``turn_tolerance`` (degrees): how far it may be off what is expected, either way, for
    anything to be set; None: as far as the searches go."""

    sizes: ClassVar[tuple[str, ...]] = ()
    """The sizes that it finds, by name."""
    takes_plate: ClassVar[bool] = False
    """Whether it may be made on a plate that is laid on the part's corner."""
    touches_part: ClassVar[bool] = True
    """Whether it touches anything at all."""

    kind: str
    name: Name
    probe: Name | None = None
    x: Length
    y: Length
    z: Length
    before: PositiveLength = 8.0
    beyond: PositiveLength = 4.0
    depth: PositiveLength = 5.0
    clearance: PositiveLength = 12.0
    work_offset: OffsetNumber | None = 1
    readout_x: Length = 0.0
    readout_y: Length = 0.0
    readout_z: Length = 0.0
    place_tolerance: Distance | None = None
    size_tolerance: Distance | None = None
    turn_tolerance: Degrees | None = None

    @property
    def axes(self) -> tuple[str, ...]:
        """The axes whose place it finds: "x", "y", "z"."""
        return ()

    @property
    def finds_turn(self) -> bool:
        """Whether it finds how far the part is turned."""
        return False

    @property
    def sets_turn(self) -> bool:
        """Whether it sets the turn that it has found."""
        return False

    @property
    def holds_turned(self) -> bool:
        """Whether its place is found rightly on a part that is turned."""
        return self.finds_turn and len(self.axes) > 1


ROUTINES: Registry[type[Routine]] = Registry("kind of routine", "orthotrope.kinds.*.model", sort=False)

AnyRoutine = Annotated[Routine, OneOf(ROUTINES, "kind")]


class CornerRoutine(Routine):
    """What the corners share. ``corner``: which one of the part (or of the pocket) it is, seen from above; each side is touched
    ``away`` mm from it, with two ``touches`` a second time ``span`` mm further on; ``top``: whether the upper face is
    touched as well; ``turn``: whether the turn is set, which wants two touches a side."""

    corner: Literal["left front", "right front", "left back", "right back"] = "left front"
    touches: Annotated[int, Field(ge=1, le=2)] = 1
    away: PositiveLength = 15.0
    span: PositiveLength = 40.0
    top: bool = False
    turn: bool = False

    @model_validator(mode="after")
    def _turn_wants_two(self) -> "CornerRoutine":
        if self.turn and self.touches < 2:
            raise InputError.at("/turn", "`turn` can be set only from two touches a side; take two, or leave the turn.")
        return self

    @property
    def inwards(self) -> tuple[float, float]:
        """From the corner towards the middle of the part, or of the pocket: a sign for X and for Y."""
        return (1.0 if "left" in self.corner else -1.0), (1.0 if "front" in self.corner else -1.0)

    @property
    def axes(self) -> tuple[str, ...]:
        return ("x", "y", "z") if self.top else ("x", "y")

    @property
    def finds_turn(self) -> bool:
        return self.touches > 1

    @property
    def sets_turn(self) -> bool:
        return self.turn
