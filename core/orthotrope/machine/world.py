"""What the virtual machine stands in. Plain values: it knows no Setup."""

import math
from dataclasses import dataclass, field
from typing import Literal

from orthotrope.machine.inputs import WorldInput
from orthotrope.machine.motion import Vector
from orthotrope.machine.shapes import Body, StackPart


@dataclass(frozen=True, slots=True)
class WorldAxis:
    """Soft limits (None: no limit), rapid in mm/min, acceleration in mm/s², where home is; the hard stops at the travel's
    ends, and the play between drive and slide (``backlash``), mm."""

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
    """A tool: what it is (``length``, gauge line to tip) beside what is on record (``recorded``), mm."""

    number: int
    name: str
    length: float
    recorded: float
    stick_out: float
    radius: float


@dataclass(frozen=True, slots=True)
class WorldSpindle:
    """``seconds_to_speed`` from standing to ``greatest`` rev/min; the stack above the gauge line."""

    greatest: float
    seconds_to_speed: float
    parts: tuple[StackPart, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Pockets:
    """What all magazines share: places by number (where the spindle meets each), what is really stored where beside what is on
    record, the height at which a tool is taken.

    ``aligned``: how far off the axis the nose may come down and still meet its tool; ``footprint``: middle, half length and half
    width of the block and its turn (cos, sin), None where the spindle never goes over it; ``needed_radius``: that of what is
    carried over it. ``margin`` and ``park_z`` are the heights' own. All mm.
    """

    places: dict[int, tuple[float, float]]
    stored: dict[int, int]
    recorded: dict[int, int]
    reserved: frozenset[int]
    couple_z: float
    hover_z: float
    aligned: float
    footprint: tuple[float, float, float, float, float, float] | None
    needed_radius: float
    margin: float
    park_z: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ThreadPockets(Pockets):
    """Pockets of a thread-on rack, and the thread. ``engaged``: the thread's length; ``float_allowed``: how far a nut may be
    drawn up or pushed down; ``flats``: how far above its seat the flats catch it; ``give``: how far below it a nut may be pushed
    as it is put down. mm."""

    lead: float
    engaged: float
    float_allowed: float
    flats: float
    give: float
    nut_radius: float


@dataclass(frozen=True, slots=True)
class Groove:
    """A holder's groove: its radius, and its edges below the gauge line (negative), mm."""

    radius: float
    low: float
    high: float


@dataclass(frozen=True, slots=True)
class WorldDisc:
    """A disc: its pockets' circle, the way (cos, sin) from its middle to the pocket in front, its middle swung out and at home,
    the sense of its numbers (1 ccw), and seconds for a step. mm."""

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
class GripPockets(Pockets):
    """Pockets whose tools a drawbar grips.

    ``knob``: how far taper and knob stand above the gauge line; ``holder_radius``; ``reach``: how far off the couple height a
    grip still takes or leaves a tool; ``holds_down``: whether a pocket keeps its tool when a closed grip pulls. ``groove`` and
    ``mouths`` (the way out of each, cos and sin) belong to forks. ``words``: what the M words (with their P, or None) make of
    which device; ``seconds`` of each device. ``arm_reach``: from an arm's pivot to a hand. ``begins``: states of devices that
    are not at rest. ``failing``: what does not act: "open", "close", or a device's name. mm.
    """

    style: Literal["drop-in", "side-entry", "moving disc", "disc with arm"]
    knob: float
    holder_radius: float
    reach: float
    holds_down: bool
    words: dict[tuple[int, float | None], tuple[str, str]]
    seconds: dict[str, float]
    turn_word: int = -1
    groove: Groove | None = None
    mouths: dict[int, tuple[float, float]] = field(default_factory=dict)
    orientation: "WorldOrientation | None" = None
    disc: WorldDisc | None = None
    arm_reach: float = 0.0
    begins: dict[str, str] = field(default_factory=dict)
    front: int = 1
    failing: frozenset[str] = frozenset()


@dataclass(frozen=True, slots=True)
class WorldOrientation:
    """The angle at which a tool is handed over, degrees."""

    angle: float
    tolerance: float
    half_turn: bool
    seconds: float

    def fits(self, angle: float) -> bool:
        """Whether a tool can be handed over at this angle."""
        turn = 180.0 if self.half_turn else 360.0
        off = (angle - self.angle) % turn
        return min(off, turn - off) <= self.tolerance + 1e-9


@dataclass(frozen=True, slots=True)
class LoadingPlace:
    """Where a person changes the tool: the nose's place, mm. ``gives``: the tool that they really put in, by the one asked for."""

    x: float
    y: float
    z: float
    gives: dict[int, int] = field(default_factory=dict)

    def holds(self, place: Vector) -> bool:
        """Whether the spindle stands there."""
        return all(abs(one - other) < 0.5 for one, other in zip(place, (self.x, self.y, self.z), strict=True))


@dataclass(frozen=True, slots=True)
class World:
    """The whole: everything that a program can meet, and nothing that changes while it runs.

    ``latency``: seconds from an input to the control's answer; ``pre_travel``: how far a touch goes on before its input
    changes, mm. In a world whose bodies make no input, every touching move makes one when half of its way is gone.
    """

    axes: tuple[WorldAxis, WorldAxis, WorldAxis]
    spindle: WorldSpindle
    tools: dict[int, WorldTool]
    work_offsets: dict[int, Vector]
    bodies: tuple[Body, ...] = ()
    magazine: ThreadPockets | GripPockets | None = None
    loading: LoadingPlace | None = None
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


BARE_AXIS = WorldAxis(None, None, 10_000.0, 500.0, 0.0)


def bare_world() -> World:
    """The bare machine: no limits, no bodies, homed, work offsets that are not zero and differ, tools 1 to 99."""
    offsets = {n: (137.0 + 61.0 * n, 83.0 + 47.0 * n, -92.0 - 13.0 * n) for n in range(1, 10)}
    tools = {n: WorldTool(n, f"T{n}", 40.0 + n, 40.0 + n, 30.0, 3.0) for n in range(1, 100)}
    return World(axes=(BARE_AXIS,) * 3, spindle=WorldSpindle(24_000.0, 2.0), tools=tools, work_offsets=offsets)
