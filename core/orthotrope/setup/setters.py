"""Tool setters: each has one entry here, wherever it stands. What comes in kinds registers itself."""

import math
from abc import ABC, abstractmethod
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from orthotrope.registry import Registry
from orthotrope.setup.machine import Machine
from orthotrope.setup.named import OneOf
from orthotrope.setup.occupant import Occupant
from orthotrope.setup.surround import Body
from orthotrope.setup.touch_device import TouchDevice
from orthotrope.validation import Distance, Feed, Length, PositiveLength, Speed


@dataclass(frozen=True, slots=True)
class NewSetter:
    """What a new setter is made of: its ``name`` and the number of its ``input``; ``places``: machine X, Y that are free, the one with
    the most room first; ``pockets`` that are free; ``stored_top``: machine Z of the highest that is stored in a changer (None: there
    is none); mm."""

    machine: Machine
    name: str
    input: int
    places: tuple[tuple[float, float], ...]
    pockets: tuple[int, ...]
    stored_top: float | None

    @property
    def from_middle(self) -> list[tuple[float, float]]:
        """The free places, the one nearest to the middle of the travel first."""
        middle = [(axis.soft_least + axis.soft_greatest) / 2 for axis in self.machine.axes.across]
        return sorted(self.places, key=lambda place: math.dist(place, middle))


class Setter(TouchDevice, ABC):
    """A tool setter. ``plane_z``: machine Z of the tip at which it triggers, at the measuring feed; ``overtravel``: how far it may be pushed
    beyond, mm. ``margin``: how far above its expected trigger a tool's search begins, mm. ``plane_feed``: the feed at which the plane
    height was calibrated, mm/min (None: it is not known); ``turning_speed``: of a tool that turns while it touches, rev/min.
    ``work_offset``: the one that it belongs to, None: machine coordinates, none."""

    usual_name: ClassVar[str] = "tool setter"
    usual_roles: ClassVar[tuple[str, ...]] = ("setter", "touch plate")

    plane_z: Length
    overtravel: Distance
    margin: PositiveLength = 15.0
    plane_feed: Feed | None = None
    touched_from: Literal["above", "above and the sides"] = "above"
    turning_speed: Speed = 300.0
    work_offset: Annotated[int, Field(ge=1, le=9)] | None = None

    @classmethod
    @abstractmethod
    def templates(cls, new: NewSetter) -> Iterator["Setter"]:
        """Where one starts, the best first: numbers from the middle of the usual ranges, to be measured and corrected. None where
        there is no place for such a setter."""

    @property
    def lies_on(self) -> float:
        """How far its plane is above what it lies on, mm: it is laid there to touch that, and taken off again; 0: it stays
        where it is."""
        return 0.0

    @property
    def width(self) -> float | None:
        """How wide it is along X where it is touched from the sides, mm; None: it can't be."""
        return None

    @property
    def occupant(self) -> Occupant | None:
        """What it is in a pocket of the changer; None: it stands in none."""
        return None

    @property
    def body(self) -> Body | None:
        """Its body where it stands by itself; None: it is in a pocket."""
        return None


SETTERS: Registry[type[Setter]] = Registry("kind of setter", "orthotrope.kinds.*.model")

AnySetter = Annotated[Setter, OneOf(SETTERS, "kind")]
