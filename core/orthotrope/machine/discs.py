"""Discs: one that swings to the spindle, and one whose ready place an arm with two hands serves."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from orthotrope.machine.coupling import Happening
from orthotrope.machine.gripping import ON_TOOL, OPEN, Device, Gripping, Now, contact
from orthotrope.machine.motion import Vector
from orthotrope.machine.shapes import Body, CylinderBody
from orthotrope.machine.world import WorldDisc, WorldTool

NEAR = 1.5
"""Holder radii; a spindle no further than this from the exchange place is in the way of disc and arm."""


@dataclass(slots=True)
class _OnDisc(Gripping):
    """``front``: the pocket at the exchange place (or the ready place), or on its way there."""

    front: int = 0

    def __post_init__(self) -> None:
        Gripping.__post_init__(self)
        self.front = self.front or self.pockets.front
        self.devices.setdefault("turn", Device("in place"))

    @property
    def disc(self) -> WorldDisc:
        assert self.pockets.disc is not None
        return self.pockets.disc

    def near(self, place: Vector) -> bool:
        """Whether the spindle is where disc or arm come to."""
        x, y = self.pockets.places[1]
        return math.hypot(place[0] - x, place[1] - y) <= NEAR * 2 * self.pockets.holder_radius

    def place(self, x: float, y: float) -> int | None:
        there = Gripping.place(self, x, y)
        return None if there is None else self.front

    def switch(self, word: int, p: float | None, now: Now) -> Iterator[Happening]:
        if word != self.pockets.turn_word or p is None:
            yield from Gripping.switch(self, word, p, now)
            return
        pocket = round(p)
        if not 1 <= pocket <= self.disc.count:
            yield Happening("no-such-pocket", now.t, True, {"pocket": pocket})
            return
        harm = self.harm_of("turn", "in place", now)
        if harm:
            yield harm
        elif pocket != self.front and "turn" not in self.pockets.failing:
            forwards = (pocket - self.front) % self.disc.count
            steps = min(forwards, self.disc.count - forwards) if self.disc.shorter else forwards
            done = now.t + steps * self.disc.seconds_per_step
            yield Happening("device", now.t, False, {"device": "turn", "state": str(pocket), "was": str(self.front), "done": done})
            self.front = pocket
            self.devices["turn"] = Device("in place", done)
            self.pending = (*self.pending, "turn")


@dataclass(slots=True)
class DiscGripping(_OnDisc):
    """A moving disc. Swung out, its pocket clasps the holder that stands at the exchange place."""

    def copied(self) -> "DiscGripping":
        return replace(self, stored=dict(self.stored), devices=dict(self.devices))

    def support(self, place: Vector) -> int | None:
        out = self.devices["disc"].state == "out" and "disc" not in self.pending
        return self.place(place[0], place[1]) if out else None

    def harm_of(self, device: str, state: str, now: Now) -> Happening | None:
        if device == "grip":
            return Gripping.harm_of(self, device, state, now)
        place, low = now.place, self.below_knob(now.place[2])
        in_way = self.near(place) and low
        if device == "turn":
            if "disc" in self.pending:
                return contact(now, "the disc, which turns while it swings", "the spindle")
            if self.devices["disc"].state == "out" and self.near(place) and (low or self.tool):
                return self.pulls(now, self.front, "while the disc turns")
            return None
        if device != "disc" or self.devices["disc"].state == state:
            return None
        if "turn" in self.pending:
            return contact(now, "the disc, which swings while it turns", "the spindle")
        if state == "home":
            seated = self.at_couple(place[2]) and self.near(place)
            if seated and ("grip" in self.pending or (not self.tool and self.front in self.stored)):
                return self.pulls(now, self.front, "while the disc swings home")
            return None
        if not self.near(place):
            return None
        if self.tool and self.front in self.stored and (self.at_couple(place[2]) or low):
            data = {"pocket": self.front, "tool": self.tool, "stored": self.stored[self.front]}
            return Happening("pocket-occupied", now.t, True, data)
        if self.tool and self.place(place[0], place[1]) is not None and self.at_couple(place[2]):
            return self._meets(self.front, now)
        if self.tool or (in_way and self.front in self.stored):
            return contact(now, "the disc", f"T{self.tool} in the spindle" if self.tool else "the spindle nose")
        return None

    def moving(self, start: Vector, end: Vector, now: Now) -> Happening | None:
        moves = "disc" in self.pending or ("turn" in self.pending and self.devices["disc"].state == "out")
        low = self.below_knob(end[2]) or self.below_knob(start[2])
        if moves and self.near(start) and (low or self.tool):
            return contact(now, "the spindle", "the disc, which still moves")
        return Gripping.moving(self, start, end, now)

    def _shape(self) -> object:
        return self.devices["disc"].state, self.front

    def bodies(self, tools: dict[int, WorldTool], over: object) -> Iterator[Body]:
        """At home one cylinder round all of it; swung out the plate and each stored tool."""
        disc, pockets = self.disc, self.pockets
        top = pockets.couple_z + pockets.knob
        if self.devices["disc"].state == "home":
            lowest = max((tools[number].length for number in self.stored.values() if number in tools), default=20.0)
            yield CylinderBody("the disc", *disc.home, disc.radius + pockets.holder_radius, pockets.couple_z - lowest, top)
            return
        yield CylinderBody("the disc", *disc.out, disc.radius - 1.2 * pockets.holder_radius, pockets.couple_z - 20.0,
                           pockets.couple_z)  # fmt: skip
        for pocket, number in self.stored.items():
            if pocket != over:
                yield self._stored_body(tools, pocket, number, *disc.place(pocket, self.front, disc.out))


@dataclass(slots=True)
class ArmGripping(_OnDisc):
    """A disc with an arm. ``hands``: the tool in the hand at the spindle, and in the one at the pot."""

    hands: tuple[int, int] = (0, 0)

    def copied(self) -> "ArmGripping":
        return replace(self, stored=dict(self.stored), devices=dict(self.devices))

    @property
    def holds(self) -> int | None:
        if self.tool:
            return self.tool if self.devices["grip"].state == ON_TOOL and "grip" not in self.pending else None
        return None if any(self.hands) else 0

    def _is(self, device: str, state: str) -> bool:
        return device not in self.pending and self.devices[device].state == state

    def support(self, place: Vector) -> int | None:
        """The hand at the spindle stands for its pocket: number 0."""
        clasped = self._is("arm swing", "in") and self._is("arm stroke", "up") and self.place(place[0], place[1]) is not None
        return 0 if clasped else None

    def taken(self, place: Vector) -> int:
        if self.tool:
            return self.tool
        return self.hands[0] if self.support(place) is not None and self.at_couple(place[2]) else 0

    def completed(self, device: str, state: str, place: Vector) -> None:
        spindle_hand, pot_hand = self.hands
        if device == "grip" and state == OPEN and self.tool:
            self.hands, self.tool = (self.tool, pot_hand), 0
        elif device == "grip" and state == ON_TOOL and not self.tool:
            self.tool, self.hands = spindle_hand, (0, pot_hand)
        elif device == "arm turn" and state == "half":
            self.hands = (pot_hand, spindle_hand)
            self.devices["arm turn"] = Device("still")
        elif device == "arm stroke" and state == "up" and pot_hand:
            self.stored[self.front] = pot_hand
            self.hands = (spindle_hand, 0)

    def harm_of(self, device: str, state: str, now: Now) -> Happening | None:
        if device == "grip":
            return Gripping.harm_of(self, device, state, now)
        if device != "turn" and self.devices[device].state == state and device not in self.pending:
            return None
        problem = self._problem(device, state, now)
        if problem:
            return problem
        if device == "arm stroke" and state == "down":
            self.hands = (self.hands[0], self.stored.pop(self.front, 0))
        return None

    def _problem(self, device: str, state: str, now: Now) -> Happening | None:
        arm_home, up = self._is("arm swing", "home"), self._is("arm stroke", "up")
        if device == "turn" and not self._is("pot", "up"):
            return contact(now, "the disc", "the pot, which is not up")
        if device == "pot" and not (arm_home and "turn" not in self.pending):
            return contact(now, "the pot", "the arm" if not arm_home else "the disc, which still turns")
        if device == "arm swing":
            if not up:
                return contact(now, "the arm", "the spindle and the pot: it is not up")
            if not self._is("pot", "down"):
                return contact(now, "the arm", "the pot, which is not down")
            if state == "home":
                loose = self.hands[0] or (self.tool if "grip" in self.pending else 0)
                return Happening("dropped-tool", now.t, True, {"tool": loose}) if loose else None
            if not (self.at_couple(now.place[2]) and self.place(*now.place[:2]) is not None):
                return contact(now, "the arm", "the spindle, which is not at the exchange height")
            return self._meets(self.front, now)
        if device == "arm stroke":
            if not self._is("arm swing", "in"):
                return contact(now, "the arm", "the spindle: it is not swung in")
            if "grip" in self.pending or (state == "down" and self.tool):
                return self.pulls(now, self.front, "with the grip closed")
            if state == "up" and self.hands[0] and not self._is("grip", OPEN):
                return contact(now, f"the knob of T{self.hands[0]}", "the grip, which is closed")
            if state == "up" and self.hands[1] and self.front in self.stored:
                data = {"pocket": self.front, "tool": self.hands[1], "stored": self.stored[self.front]}
                return Happening("pocket-occupied", now.t, True, data)
        if device == "arm turn" and not self._is("arm stroke", "down"):
            return contact(now, "the arm", "the spindle nose: it is not down")
        return None

    def moving(self, start: Vector, end: Vector, now: Now) -> Happening | None:
        if self.near(start) and not self._is("arm swing", "home"):
            return self.pulls(now, self.front, "while the arm is in")
        return None

    def bodies(self, tools: dict[int, WorldTool], over: object) -> Iterator[Body]:
        disc, pockets = self.disc, self.pockets
        yield CylinderBody("the disc", *disc.home, disc.radius + pockets.holder_radius, pockets.couple_z - 100.0,
                           pockets.couple_z + pockets.knob)  # fmt: skip
