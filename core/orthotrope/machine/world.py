"""What the virtual machine is in. Plain values: it knows no Setup."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from typing import Any

from orthotrope.machine.changing import Magazine
from orthotrope.machine.inputs import NO_INPUTS, Inputs
from orthotrope.machine.motion import Vector
from orthotrope.machine.shapes import Body, StackPart
from orthotrope.setup.machine import AXES


@dataclass(frozen=True, slots=True)
class WorldAxis:
    """``name``: its letter. Soft limits (None: no limit), rapid in mm/min, acceleration in mm/s², where home is; the
    hard stops at the travel's ends, and the play between drive and slide (``backlash``), mm."""

    name: str
    least: float | None
    greatest: float | None
    rapid: float
    acceleration: float
    home: float
    stop_least: float = -math.inf
    stop_greatest: float = math.inf
    backlash: float = 0.0


@dataclass(frozen=True, slots=True)
class WorldStylus:
    """What lets a tool report a touch itself. ``input``: the number of the one it actuates; ``height`` of its tip, ``stem``: the
    radius of what is between tip and holder; ``off_x``, ``off_y``: where the tip is off the spindle's axis;
    ``give_across``, ``give_up``: how far it can be pushed; ``travel_x`` and so on: from the contact until it switches, by
    the axis, ``lobing``: by how much that grows towards three sides, the first of them at ``lobe_deg``; mm and degrees. ``sleeps``: it reports nothing until it has been woken."""

    input: int
    height: float
    stem: float
    off_x: float = 0.0
    off_y: float = 0.0
    give_across: float = 0.0
    give_up: float = 0.0
    travel_x: float = 0.0
    travel_y: float = 0.0
    travel_z: float = 0.0
    lobing: float = 0.0
    lobe_deg: float = 0.0
    sleeps: bool = False

    def half_turned(self) -> "WorldStylus":
        """The same with the spindle half a turn further."""
        return replace(self, off_x=-self.off_x, off_y=-self.off_y, lobe_deg=self.lobe_deg + 180.0)

    def travel_towards(self, x: float, y: float, z: float) -> float:
        """From a contact towards a side until it switches, mm; it switches on three feet, so that this is greatest towards
        three sides."""
        if abs(z) > math.hypot(x, y):
            return self.travel_z
        lobe = (
            self.lobing * (1 + math.cos(3 * (math.atan2(y, x) - math.radians(self.lobe_deg)))) / 2
            if self.lobing
            else 0.0
        )
        return (self.travel_x * x * x + self.travel_y * y * y) / (x * x + y * y) + lobe


@dataclass(frozen=True, slots=True)
class Waking:
    """What wakes a probe, and lets it sleep: the M words (with their P), and the seconds it takes."""

    on: tuple[int, float | None]
    off: tuple[int, float | None]
    seconds: float


@dataclass(frozen=True, slots=True)
class WorldTool:
    """A tool: what it is (``length``, gauge line to tip) beside what is on record (``recorded``), mm; ``holder``: radius and
    length of its cylinders from the gauge line down, none: one as the changer has them; ``stylus``: what a probe is more."""

    number: int
    name: str
    length: float
    recorded: float
    stick_out: float
    radius: float
    holder: tuple[tuple[float, float], ...] = ()
    stylus: WorldStylus | None = None

    def held(self, name: str, top: float, low: float, usual: float | None) -> Iterator[StackPart]:
        """What holds it, from ``top`` down to ``low``: its holder's cylinders, which begin at the gauge line, or one of the
        ``usual`` radius; the last one reaches down to the tool."""
        z = 0.0
        parts = self.holder or (((usual, 0.0),) if usual else ())
        for index, (radius, long) in enumerate(parts):
            begin, z = min(z, top), low if index == len(parts) - 1 else max(low, z - long)
            if begin > z:
                yield StackPart(name, radius, z, begin)

    @property
    def alone(self) -> StackPart:
        """The tool as a cylinder up to the gauge line, where nothing is known of what holds it."""
        return StackPart(self.own_name, self.radius, -self.length, 0.0)

    @property
    def own_name(self) -> str:
        """What its own cylinder is called in a stack."""
        return f"T{self.number}"

    @property
    def tip(self) -> StackPart:
        """The tip of its stylus; a ball is as high as it is wide."""
        assert self.stylus
        return StackPart(f"the tip of T{self.number}", self.radius, -self.length, self.stylus.height - self.length)

    def stem_of(self, own: StackPart) -> StackPart:
        """What is left of its own cylinder above the tip of its stylus."""
        assert self.stylus
        low = min(self.tip.high, own.high)
        return StackPart(f"the stem of T{self.number}", self.stylus.stem, low, own.high)


@dataclass(frozen=True, slots=True)
class WorldSpindle:
    """``seconds_to_speed`` from rest to ``greatest`` rev/min; the stack above the gauge line."""

    greatest: float
    seconds_to_speed: float
    parts: tuple[StackPart, ...] = ()


@dataclass(frozen=True, slots=True)
class World:
    """The whole: everything that a program can meet, and nothing that changes while it runs.

    ``axes`` are in the order of a position's numbers. ``latency``: seconds from an input to the control's answer;
    ``pre_travel``: how far a touch goes on before its input changes, mm. In a world whose bodies make no input, every
    touching move makes one when half of its way is gone, but where a ``routine``'s part is expected. ``passing``: how near to something that it does not
    touch a move must come for that to be noted, mm; 0: it is not looked at. ``scatter``: how much later every
    second touch is latched, mm.
    """

    axes: tuple[WorldAxis, ...]
    spindle: WorldSpindle
    tools: dict[int, WorldTool]
    work_offsets: dict[int, Vector]
    bodies: tuple[Body, ...] = ()
    magazine: Magazine | None = None
    homed: bool = True
    inputs: Inputs = NO_INPUTS
    latency: float = 0.0
    pre_travel: float = 0.0
    waking: Waking | None = None
    routine: bool = False
    passing: float = 0.0
    scatter: float = 0.0
    known: dict[Any, Any] = field(default_factory=dict, compare=False, repr=False)
    """What the machines in it, and in worlds that are made of it, look up; it says nothing of the world (:mod:`collisions`)."""

    @property
    def touches_halfway(self) -> bool:
        return not self.routine and all(body.makes is None for body in self.bodies)

    @property
    def has_stops(self) -> bool:
        return any(axis.stop_least > -math.inf or axis.stop_greatest < math.inf for axis in self.axes)


def bare_world() -> World:
    """The bare machine: no limits, no bodies, homed, work offsets that are not zero and differ, tools 1 to 99."""
    offsets = {n: (137.0 + 61.0 * n, 83.0 + 47.0 * n, -92.0 - 13.0 * n) for n in range(1, 10)}
    tools = {n: WorldTool(n, f"T{n}", 40.0 + n, 40.0 + n, 30.0, 3.0) for n in range(1, 100)}
    return World(
        axes=tuple(WorldAxis(name, None, None, 10_000.0, 500.0, 0.0) for name in AXES),
        spindle=WorldSpindle(24_000.0, 2.0),
        tools=tools,
        work_offsets=offsets,
    )
