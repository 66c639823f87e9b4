"""What the virtual machine stands in. Plain values: it knows no Setup."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

from orthotrope.machine.changing import Magazine
from orthotrope.machine.inputs import WorldInput
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
class WorldTool:
    """A tool: what it is (``length``, gauge line to tip) beside what is on record (``recorded``), mm; ``holder``: radius and
    length of its cylinders from the gauge line down, none: one as the changer has them."""

    number: int
    name: str
    length: float
    recorded: float
    stick_out: float
    radius: float
    holder: tuple[tuple[float, float], ...] = ()

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
        return StackPart(f"T{self.number}", self.radius, -self.length, 0.0)


@dataclass(frozen=True, slots=True)
class WorldSpindle:
    """``seconds_to_speed`` from standing to ``greatest`` rev/min; the stack above the gauge line."""

    greatest: float
    seconds_to_speed: float
    parts: tuple[StackPart, ...] = ()


@dataclass(frozen=True, slots=True)
class World:
    """The whole: everything that a program can meet, and nothing that changes while it runs.

    ``axes`` are in the order of a position's numbers. ``latency``: seconds from an input to the control's answer;
    ``pre_travel``: how far a touch goes on before its input changes, mm. In a world whose bodies make no input, every
    touching move makes one when half of its way is gone.
    """

    axes: tuple[WorldAxis, ...]
    spindle: WorldSpindle
    tools: dict[int, WorldTool]
    work_offsets: dict[int, Vector]
    bodies: tuple[Body, ...] = ()
    magazine: Magazine | None = None
    homed: bool = True
    inputs: tuple[WorldInput, ...] = ()
    latency: float = 0.0
    pre_travel: float = 0.0

    @property
    def touches_halfway(self) -> bool:
        return all(body.makes is None for body in self.bodies)

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
