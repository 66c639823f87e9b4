"""How the virtual machine stands: where its axes are and really are, what the spindle carries, what its inputs say; kept and put back."""

import math
from collections.abc import Callable, Container, MutableSequence
from typing import Any, NamedTuple

from orthotrope.calc.wiring import Lead
from orthotrope.machine.changing import Changing, Stored
from orthotrope.machine.events import EventKind
from orthotrope.machine.inputs import WorldInput
from orthotrope.machine.motion import Vector
from orthotrope.machine.passing import Closest, Passed
from orthotrope.machine.shapes import Body
from orthotrope.machine.trace import BlockState, Event, Trace
from orthotrope.machine.world import World, WorldStylus, WorldTool


def parts_of(trace: Trace) -> tuple[MutableSequence[Any], ...]:
    return trace.segments, trace.events, trace.blocks, trace.ramps, trace.holding, trace.inputs, trace.stored


def _exact() -> float:
    return 0.0


def signs_of(move: Vector, before: Vector) -> Vector:
    """The way each axis goes: 1 up, −1 down; one that stands keeps the way it went ``before``."""
    x, y, z = (math.copysign(1.0, part) if abs(part) > 1e-12 else was for part, was in zip(move, before, strict=True))
    return x, y, z


class MachineState(NamedTuple):
    """All of a machine that a block can change; ``lengths`` of the trace's lists."""

    position: Vector
    t: float
    rate: float
    error: Vector
    heading: Vector
    homed: bool
    pressed: Body | None
    loose_tool: int
    changer: Changing | None
    angle: float | None
    oriented_from: float
    awake_from: float
    passed: Passed | None
    lengths: tuple[int, ...]


class Standing:
    """All that a machine has at a moment, and its trace until then. All positions: gauge line, machine coordinates as the control
    counts them, mm.

    ``error``: what the slides' true place has more than the control counts (homing that scatters); backlash comes on
    top, against the way that each axis went last. ``limited``: whether the soft limits hold. ``deadline``: when the machine is stopped from
    outside, seconds. ``longer``: the same tools, each longer than it is; where they would meet what they do not, "longer" was asked.
    ``noise``: the scatter of the next touch, mm. ``stay_made``: the inputs that a touch has made so far, ``latched``: how many."""

    def __init__(self, world: World, at: Vector, tool: int):
        self.world = world
        self.trace = Trace()
        self.position, self.t, self.rate = at, 0.0, 0.0
        self.error: Vector = (0.0, 0.0, 0.0)
        self.heading: Vector = (0.0, 0.0, 0.0)
        self.limited = True
        self.deadline = math.inf
        self.most_moves = math.inf
        self.longer: dict[int, WorldTool] | None = None
        self.noise: Callable[[], float] = _exact
        self.pressed: Body | None = None
        self.leads: dict[int, Lead] = {}
        self.by_hand: dict[int, bool] = {}
        self.stay_made: set[int] = set()
        self.latched = 0
        self.tapped: tuple[int, float] | None = None
        """The input that a hand makes for a moment in the touching move that is under way, and when."""
        asked: set[str] = set()
        self.changer: Changing | None = None
        self._first_tool = self.loose_tool = tool
        self.angle: float | None = None
        self.oriented_from = math.inf
        self.awake_from = math.inf
        self.made = set(world.inputs.at_rest)
        self._has_stops = world.has_stops
        self._has_play = any(axis.backlash for axis in world.axes)
        self.line = 0
        self.homed = world.homed
        self.asked = asked
        """What of the world the program has asked: "input 3", "device grip", "device grip open", "override", "unit" (the caller's); "length": how long its
        tools really are, by a touch or a contact; "pocket 3" is what is stored there, "stored" all of that, "magazine" also how long it is, asked by the first thing that
        moves or is switched."""
        self.closest = Closest(world.passing) if world.passing else None

    @property
    def tool(self) -> int:
        """The tool that is in the spindle, tight or not; 0 is none."""
        return self.changer.tool if self.changer else self.loose_tool

    @property
    def true_position(self) -> Vector:
        """Where the slides really are."""
        return self.position if self._is_exact else self._true(self.position, self.heading)

    def _true(self, counted: Vector, heading: Vector) -> Vector:
        """The true place of a counted one, when the axes have last gone the way of ``heading`` (a sign for each)."""
        x, y, z = (
            c + e - h * axis.backlash / 2
            for c, e, h, axis in zip(counted, self.error, heading, self.world.axes, strict=True)
        )
        return x, y, z

    @property
    def _is_exact(self) -> bool:
        return not self._has_play and self.error == (0.0, 0.0, 0.0)

    def _true_ends(self, start: Vector, end: Vector) -> tuple[Vector, Vector]:
        """True places of both ends of a move: the play is crossed at its beginning."""
        if self._is_exact:
            return start, end
        move = (end[0] - start[0], end[1] - start[1], end[2] - start[2])
        return self._true(start, self.heading), self._true(end, signs_of(move, self.heading))

    def _counted_part(self, part: float, start: Vector, end: Vector, true_start: Vector, true_end: Vector) -> float:
        """The part of the counted way that belongs to a part of the true one: the play is crossed first."""
        if self._is_exact:
            return part
        way = math.dist(start, end)
        crossed = max(0.0, way - math.dist(true_start, true_end))
        return (crossed + part * (way - crossed)) / way if way else part

    def _turned(self, move: Vector) -> None:
        self.heading = signs_of(move, self.heading)

    @property
    def stylus(self) -> WorldStylus | None:
        """What lets the tool in the spindle tell of a touch itself; None: it does not."""
        tool = self.world.tools.get(self.tool)
        return tool.stylus if tool else None

    def is_made(self, entry: WorldInput) -> bool:
        """Whether the contact of this input is made: by what the machine touches, by a hand, or by its own state."""
        if entry.number in self.by_hand:
            return self.by_hand[entry.number]
        if entry.dead or entry.stuck:
            return entry.stuck
        if entry.stays and entry.number in self.stay_made:
            return True
        if entry.role == "spindle still":
            return self.trace.turning(self.t) == 0
        if entry.role == "oriented":
            return self.angle is not None and self.t >= self.oriented_from
        made = self.changer.is_made(self.world.inputs.roles[entry.number], self.t) if self.changer else None
        if made is not None:
            return made
        return entry.number in self.made or (self.pressed is not None and self._makes(self.pressed) == entry.number)

    def _makes(self, body: Body) -> int | None:
        """The number of the input that a touch of a body makes; a stylus makes its own, while it is awake."""
        stylus = self.stylus
        if stylus is None:
            return body.makes
        return None if stylus.sleeps and self.t < self.awake_from else stylus.input

    def dead(self, entry: WorldInput) -> bool:
        """Whether the control sees no touch of this input: it sees the same whether it is made or not, or the
        reverse."""
        held = self.by_hand.get(entry.number) is False
        return entry.dead or held or not entry.seen(True, self.leads.get(entry.number, "sound"))

    def set_by_hand(self, number: int, made: bool) -> None:
        """An input's contact is held as it is from now on, whatever the machine touches."""
        self.by_hand[number] = made
        self._note_inputs()

    def sees(self, entry: WorldInput) -> bool:
        """What the control sees of this input."""
        return entry.seen(self.is_made(entry), self.leads.get(entry.number, "sound"))

    def _note_inputs(self, t: float | None = None) -> None:
        """Keep in the trace what the control sees from now on, or from ``t`` on."""
        if self.world.inputs:
            when = self.t if t is None else t
            self.trace.inputs.append((when, {name: seen[self.is_made(entry)] for name, seen, entry in self._lamps()}))

    def _lamps(self) -> list[tuple[str, tuple[bool, bool], WorldInput]]:
        """As :attr:`Inputs.lamps`, with the leads as they are."""
        if not self.leads:
            return self.world.inputs.lamps
        leads = {entry.number: self.leads.get(entry.number, "sound") for entry in self.world.inputs}
        return [(e.name, (e.seen(False, leads[e.number]), e.seen(True, leads[e.number])), e) for e in self.world.inputs]

    def _note_holding(self, t: float) -> None:
        assert self.changer is not None
        held = self.changer.holds
        if held != self.trace.holding[-1][1]:
            self.trace.holding.append((t, held))
        if self.changer.stored != self.trace.stored[-1][1]:
            self.trace.stored.append((t, dict(self.changer.stored)))

    def event(self, kind: EventKind, t: float | None = None, **data: object) -> None:
        self.trace.events.append(Event(kind, self.t if t is None else t, self.line, self.position, data))

    def end_block(self, line: int, t0: float, record: float, doubtful: bool) -> None:
        self.trace.blocks.append(
            BlockState(line, t0, self.t, self.position, record, doubtful, self.trace.holding[-1][1])
        )

    def _begin_changer(self) -> None:
        magazine = self.world.magazine
        if magazine:
            self.changer = magazine.begin(self._first_tool)
            self.trace.stored[:] = [(0.0, self.changer.stored)]
            self.changer.stored = Stored(self.changer.stored, self.asked)

    def kept(self) -> "MachineState":
        """All that a block can change, for :meth:`restore`; the trace is cut back to its lengths."""
        changer = self.changer.copied() if self.changer else None
        return MachineState(
            self.position,
            self.t,
            self.rate,
            self.error,
            self.heading,
            self.homed,
            self.pressed,
            self.loose_tool,
            changer,
            self.angle,
            self.oriented_from,
            self.awake_from,
            self.closest.kept() if self.closest else None,
            tuple(len(part) for part in parts_of(self.trace)),
        )

    def restore(self, kept: "MachineState") -> None:
        """Go back to what :meth:`kept` has."""
        self.position, self.t, self.rate, self.error, self.heading = (
            kept.position,
            kept.t,
            kept.rate,
            kept.error,
            kept.heading,
        )
        self.homed, self.pressed, self.loose_tool = kept.homed, kept.pressed, kept.loose_tool
        self.changer, self.angle, self.oriented_from = kept.changer, kept.angle, kept.oriented_from
        self.awake_from = kept.awake_from
        if self.closest and kept.passed:
            self.closest.restore(kept.passed)
        for part, length in zip(parts_of(self.trace), kept.lengths, strict=True):
            del part[length:]
        if self.changer:
            self.changer = self.changer.copied()
            self.changer.stored = Stored(self.changer.stored, self.asked)
        self.trace.sorted_out = -1

    @staticmethod
    def _unasked(there: dict[int, int], own: dict[int, int], asked: Container[str]) -> dict[int, int]:
        """What is stored where another machine was, but in pockets that were not asked as it is here."""
        other = {pocket for pocket in {*there, *own} if f"pocket {pocket}" not in asked}
        kept = {pocket: tool for pocket, tool in there.items() if pocket not in other}
        return kept | {pocket: tool for pocket, tool in own.items() if pocket in other}
