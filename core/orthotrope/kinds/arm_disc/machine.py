"""A disc whose ready place an arm with two hands serves, while a program runs."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache

from orthotrope.machine.changing import (
    ArmShape,
    ChangerEvent,
    GripWords,
    Now,
    Spot,
    StyleShapes,
    Sweep,
    Way,
    way_through,
)
from orthotrope.machine.discs import DiscPockets, OnDisc
from orthotrope.machine.gripping import Device, Gripping, contact
from orthotrope.machine.motion import Vector
from orthotrope.machine.shapes import Body, CylinderBody, StackPart
from orthotrope.machine.world import WorldTool
from orthotrope.setup.roles import ON_TOOL, OPEN

ARM = 30.0
"""mm; how thick an arm is taken to be, below where a tool is taken."""

CHORD = 0.01
"""mm; by so much a chord may be off the arc that stands for it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ArmPockets(DiscPockets):
    """Pockets that an arm serves. ``arm_reach``: from its pivot to a hand, ``arm_stroke`` down, mm; ``swaps``: whether what it takes
    from the spindle goes where it took the other from."""

    arm_reach: float
    arm_stroke: float
    swaps: bool

    @property
    def arm(self) -> ArmShape:
        """The arm, which is on the same line as the disc's ready place and the spindle."""
        (x, y), (wx, wy) = self.places[1], self.disc.way
        return ArmShape(
            (x - wx * self.arm_reach, y - wy * self.arm_reach),
            self.arm_reach,
            self.arm_stroke,
            StackPart("a hand of the arm", self.holder_radius, -ARM, 0.0),
            StackPart("the arm", self.holder_radius / 2, -ARM, 0.0),
        )

    @property
    def keeps_table(self) -> bool:
        return self.swaps

    def changing(self, tool: int, stored: dict[int, int]) -> "ArmGripping":
        return ArmGripping(self, tool, stored)

    def shapes(self) -> StyleShapes:
        shapes = DiscPockets.shapes(self)
        assert shapes.disc
        return replace(shapes, disc=replace(shapes.disc, arm=self.arm))


@lru_cache(2000)
def _arc(pivot: tuple[float, float], reach: float, z: float, begin: float, end: float) -> Way:
    """Round the pivot, in chords that are nowhere off it by more than CHORD; the same again and again in a proof."""
    turn = 2 * math.acos(1 - min(1.0, CHORD / max(abs(reach), CHORD)))
    steps = max(1, math.ceil(abs(end - begin) / turn))
    angles = [begin + (end - begin) * step / steps for step in range(steps + 1)]
    return way_through(*((pivot[0] + reach * math.cos(a), pivot[1] + reach * math.sin(a), z) for a in angles))


@dataclass(slots=True)
class ArmGripping(OnDisc):
    """A disc with an arm. ``hands``: the tool in the hand at the spindle, and in the one at the pot."""

    pockets: ArmPockets
    hands: tuple[int, int] = (0, 0)

    @property
    def holds(self) -> int | None:
        if self.tool:
            return self.tool if self.devices["grip"].state == ON_TOOL and "grip" not in self.pending else None
        return None if any(self.hands) else 0

    def _is(self, device: str, state: str) -> bool:
        return device not in self.pending and self.devices[device].state == state

    def support(self, place: Vector) -> int | None:
        """The hand at the spindle stands for its pocket: number 0."""
        clasped = (
            self._is("arm swing", "in") and self._is("arm stroke", "up") and self.place(place[0], place[1]) is not None
        )
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

    def harm_of(self, device: str, state: str, now: Now) -> ChangerEvent | None:
        if device == "grip":
            return Gripping.harm_of(self, device, state, now)
        if device != "turn" and self.devices[device].state == state and device not in self.pending:
            return None
        problem = self._problem(device, state, now)
        if problem:
            return problem
        # The pot lets go as the arm pulls; the spindle's tool has been in the arm's hand since the grip opened.
        if device == "arm stroke" and state == "down":
            self.hands = (self.hands[0], self.stored.pop(self.front, 0))
        return None

    def _problem(self, device: str, state: str, now: Now) -> ChangerEvent | None:
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
                # On the way home the hands open: what is neither gripped nor in the pot falls.
                loose = self.hands[0] or (self.tool if "grip" in self.pending else 0)
                return ChangerEvent("dropped-tool", now.t, True, {"tool": loose}) if loose else None
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
                return ChangerEvent("pocket-occupied", now.t, True, data)
        if device == "arm turn" and not self._is("arm stroke", "down"):
            return contact(now, "the arm", "the spindle nose: it is not down")
        return None

    def moving(self, start: Vector, end: Vector, now: Now) -> ChangerEvent | None:
        if self.near(start) and not self._is("arm swing", "home"):
            return self.pulls(now, self.front, "while the arm is in")
        return None

    def bodies(self, tools: dict[int, WorldTool], over: object) -> Iterator[Body]:
        disc, pockets = self.disc, self.pockets
        yield CylinderBody(
            "the disc",
            *disc.home,
            pockets.rim,
            pockets.couple_z - 100.0,
            pockets.couple_z + pockets.knob,
        )

    def spots(self) -> Iterator[Spot]:
        """None: a tool in the disc is nowhere near the spindle."""
        yield from ()

    def sweeps(self, device: str, state: str, tools: dict[int, WorldTool]) -> Iterator[Sweep]:
        """It swings in with empty hands, goes down with a tool in each, and turns half round with them."""
        arm, z = self.pockets.arm, self.pockets.couple_z
        line = math.atan2(self.disc.way[1], self.disc.way[0])
        if device == "arm swing":
            home = line + math.pi / 2
            begin, end = (home, line) if state == "in" else (line, home)
            yield from self._swept(arm, z, begin, end, (), ())
        elif device in ("arm stroke", "arm turn"):
            hands = [tuple(self.stack(tools[tool])) if tool in tools else () for tool in self.hands]
            if device == "arm turn":
                yield from self._swept(arm, z - arm.stroke, line, line + math.pi, *hands)
            else:
                for angle, stack in zip((line, line + math.pi), hands, strict=True):
                    x, y = arm.pivot[0] + arm.reach * math.cos(angle), arm.pivot[1] + arm.reach * math.sin(angle)
                    for part in (arm.hand, *stack):
                        yield Sweep(part, way_through((x, y, z), (x, y, z - arm.stroke)))

    def _swept(
        self, arm: ArmShape, z: float, begin: float, end: float, *hands: tuple[StackPart, ...]
    ) -> Iterator[Sweep]:
        """Arm and hands along an arc."""
        between = max(1, math.ceil(arm.reach / arm.bar.radius))
        at = [((part / between) * arm.reach, arm.bar) for part in range(1 - between, between)]
        at += [
            (way * arm.reach, part) for way, stack in zip((1, -1), hands, strict=True) for part in (arm.hand, *stack)
        ]
        for reach, part in at:
            yield Sweep(part, _arc(arm.pivot, reach, z, begin, end))

    @property
    def carried(self) -> tuple[int, int]:
        return self.hands

    def ways_out(self, place: Vector, low: bool, words: GripWords) -> Iterator[str]:
        yield from self.grip_on_its_way(words)
        if self.devices["arm swing"].state == "in" or self.devices["arm stroke"].state == "down":
            yield (
                "The arm is in: nothing else may move. Bring it up, close the grip on the tool, and only then the arm "
                "home."
            )
        if self.devices["pot"].state == "down":
            yield "Then the pot up."
