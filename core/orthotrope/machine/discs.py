"""What the discs share: the disc itself, and its turning."""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from orthotrope.machine.changing import ChangerEvent, Changing, DiscShape, Now, StyleShapes
from orthotrope.machine.gripping import Device, Gripping, GripPockets
from orthotrope.machine.motion import Vector
from orthotrope.machine.shapes import StackPart

PLATE = 20.0
"""mm; how thick a disc's plate is taken to be."""

GROOVE = 3.0
"""mm; how far below the height at which a tool is taken the plate is taken to hold it."""

IN_THE_WAY = 1.5
"""Holder radii; a spindle no further than this from the exchange place is in the way of disc and arm."""


@dataclass(frozen=True, slots=True)
class WorldDisc:
    """A disc: its pockets' circle, the way (cos, sin) from its middle to the pocket in front, its middle swung out and
    at home, the sense of its numbers (1 ccw), and seconds for a step. mm."""

    count: int
    radius: float
    way: tuple[float, float]
    out: tuple[float, float]
    home: tuple[float, float]
    sense: int
    shorter: bool
    seconds_per_step: float

    def place(self, pocket: int, front: float, middle: tuple[float, float]) -> tuple[float, float]:
        """Where a pocket is in plan with ``front`` in front and the disc's middle at ``middle``."""
        angle = self.sense * (pocket - front) * 2 * math.pi / self.count
        cos, sin = math.cos(angle) * self.radius, math.sin(angle) * self.radius
        return middle[0] + self.way[0] * cos - self.way[1] * sin, middle[1] + self.way[0] * sin + self.way[1] * cos


@dataclass(frozen=True, slots=True, kw_only=True)
class DiscPockets(GripPockets):
    """Pockets of a disc. ``turn_word`` with a pocket's number in P turns it; ``front``: the pocket in front."""

    disc: WorldDisc
    turn_word: int
    front: int = 1

    @property
    def rim(self) -> float:
        """From the disc's middle to the outside of what is in it."""
        return self.disc.radius + self.stored_radius

    @property
    def plate(self) -> StackPart:
        """The plate that the pockets are in."""
        return StackPart("the disc", self.disc.radius - 1.2 * self.holder_radius, -GROOVE - PLATE, -GROOVE)

    @property
    def devices(self) -> frozenset[str]:
        return frozenset({*self.seconds, "turn"})

    def slowed(self, device: str, times: float) -> "DiscPockets":
        if device == "turn":
            return replace(self, disc=replace(self.disc, seconds_per_step=self.disc.seconds_per_step * times))
        slow = GripPockets.slowed(self, device, times)
        assert isinstance(slow, DiscPockets)
        return slow

    def device_of(self, word: int, p: float | None) -> tuple[str, str] | None:
        return ("turn", "in place") if word == self.turn_word else GripPockets.device_of(self, word, p)

    def drawn_places(self) -> Mapping[int, tuple[float, float]]:
        return {number: self.disc.place(number, 1, self.disc.home) for number in self.places}

    def shapes(self) -> StyleShapes:
        disc = self.disc
        return StyleShapes(
            disc=DiscShape(
                count=disc.count,
                radius=disc.radius,
                way=disc.way,
                out=disc.out,
                home=disc.home,
                sense=disc.sense,
                exchange=self.places[1],
                rim=self.rim,
                plate=self.plate,
            )
        )

    def as_left(self, changing: Changing) -> "DiscPockets":
        left = GripPockets.as_left(self, changing)
        assert isinstance(left, DiscPockets) and isinstance(changing, OnDisc)
        return replace(left, front=changing.front)


@dataclass(slots=True)
class OnDisc(Gripping):
    """``front``: the pocket at the exchange place (or the ready place), or on its way there."""

    pockets: DiscPockets
    front: int = 0

    def __post_init__(self) -> None:
        Gripping.__post_init__(self)
        self.front = self.front or self.pockets.front
        self.devices.setdefault("turn", Device("in place"))

    @property
    def disc(self) -> WorldDisc:
        return self.pockets.disc

    def near(self, place: Vector) -> bool:
        """Whether the spindle is where disc or arm come to."""
        x, y = self.pockets.places[1]
        return math.hypot(place[0] - x, place[1] - y) <= IN_THE_WAY * 2 * self.pockets.holder_radius

    def place(self, x: float, y: float) -> int | None:
        there = Gripping.place(self, x, y)
        return None if there is None else self.front

    def switch(self, word: int, p: float | None, now: Now) -> Iterator[ChangerEvent]:
        if word != self.pockets.turn_word:
            yield from Gripping.switch(self, word, p, now)
            return
        if p is None:
            return
        pocket = round(p)
        if not 1 <= pocket <= self.disc.count:
            yield ChangerEvent("no-such-pocket", now.t, True, {"pocket": pocket})
            return
        harm = self.harm_of("turn", "in place", now)
        if harm:
            yield harm
        elif pocket != self.front and "turn" not in self.pockets.failing:
            forwards = (pocket - self.front) % self.disc.count
            steps = min(forwards, self.disc.count - forwards) if self.disc.shorter else forwards
            done = now.t + steps * self.disc.seconds_per_step
            yield ChangerEvent(
                "device", now.t, False, {"device": "turn", "state": str(pocket), "was": str(self.front), "done": done}
            )
            self.front = pocket
            self.devices["turn"] = Device("in place", done)
            self.pending = (*self.pending, "turn")
