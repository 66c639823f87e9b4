"""What happened: segments with their laws of time, events, and the state at each block's ends."""

from bisect import bisect_right
from collections.abc import MutableSequence
from dataclasses import dataclass, field
from typing import Any, Literal, NamedTuple

from orthotrope.machine.events import EventKind
from orthotrope.machine.motion import Arc, MotionLaw, Ramp, Vector

SegmentKind = Literal["rapid", "feed", "touch", "dwell", "jog"]


class Segment(NamedTuple):
    """One move (or dwell) of the gauge line, machine coordinates; ``block`` is the index of its block state.

    ``machine_frame``: whether the block gave machine coordinates; ``feed`` as commanded, mm/min (0: rapid or dwell).
    ``cut`` is the time at which the move was ended by a contact or a touch, or its end.
    """

    line: int
    block: int
    kind: SegmentKind
    t0: float
    t1: float
    start: Vector
    end: Vector
    law: MotionLaw | None
    arc: Arc | None
    feed: float
    machine_frame: bool

    def at(self, t: float) -> Vector:
        """The gauge line at time ``t``."""
        if self.law is None or t <= self.t0:
            return self.start
        if t >= self.t1:
            return self.end
        gone = self.law.gone(t - self.t0)
        if self.arc:
            return self.arc.at(self.start, gone / self.arc.length)
        part = gone / self.law.way
        s, e = self.start, self.whole_end
        return s[0] + (e[0] - s[0]) * part, s[1] + (e[1] - s[1]) * part, s[2] + (e[2] - s[2]) * part

    @property
    def whole_end(self) -> Vector:
        """Where the move was meant to end: ``end``, or further where it was cut short."""
        if self.law is None or self.arc:
            return self.end
        gone = self.law.gone(self.t1 - self.t0)
        if gone <= 0 or gone >= self.law.way:
            return self.end
        part = self.law.way / gone
        s, e = self.start, self.end
        return s[0] + (e[0] - s[0]) * part, s[1] + (e[1] - s[1]) * part, s[2] + (e[2] - s[2]) * part


@dataclass(frozen=True, slots=True)
class Event:
    """Something that happened at a moment; ``data`` holds the figures that its ``kind`` has."""

    kind: EventKind
    t: float
    line: int
    position: Vector
    data: dict[str, Any] = field(default_factory=dict)


class BlockState(NamedTuple):
    """A block that was run, and the state at its end: ``record`` of the tool in the spindle, whether it is
    ``doubtful``, and the tool that ``holds`` really (0 empty, None: neither held nor free)."""

    line: int
    t0: float
    t1: float
    position: Vector
    record: float
    doubtful: bool
    holds: int | None


@dataclass(slots=True)
class Trace:
    """All of a run. ``holding``, ``inputs`` and ``stored`` (tool by pocket) have what
    holds from each moment on. ``ended``: "end" (the program's own end),
    "stopped" (a stop by the control or a crash)."""

    segments: MutableSequence[Segment] = field(default_factory=list)
    events: list[Event] = field(default_factory=list)
    blocks: MutableSequence[BlockState] = field(default_factory=list)
    ramps: list[Ramp] = field(default_factory=list)
    holding: list[tuple[float, int | None]] = field(default_factory=list)
    inputs: list[tuple[float, dict[str, bool]]] = field(default_factory=list)
    stored: list[tuple[float, dict[int, int]]] = field(default_factory=list)
    ended: Literal["end", "stopped"] = "stopped"
    by_kind: dict[EventKind, list[Event]] = field(default_factory=dict, compare=False, repr=False)
    sorted_out: int = field(default=0, compare=False, repr=False)
    """How many events ``by_kind`` has; other than there are: they are sorted again."""

    @property
    def seconds(self) -> float:
        return self.blocks[-1].t1 if self.blocks else 0.0

    def of_kind(self, *kinds: EventKind) -> list[Event]:
        """The events of these kinds, in their order."""
        if self.sorted_out != len(self.events):  # dozens of checks ask for one kind each
            self.by_kind, self.sorted_out = {}, len(self.events)
            for event in self.events:
                self.by_kind.setdefault(event.kind, []).append(event)
        if len(kinds) == 1:
            return self.by_kind.get(kinds[0], [])
        if self.by_kind.keys().isdisjoint(kinds):
            return []
        return [event for event in self.events if event.kind in kinds]

    def turning(self, t: float) -> float:
        """The spindle at time ``t``, rev/min, forwards positive."""
        begun = bisect_right(self.ramps, t, key=lambda ramp: ramp.t0)
        return self.ramps[begun - 1].rate(t) * 60 if begun else 0.0

    def seen(self, t: float) -> dict[str, bool]:
        """The inputs by name as the control sees them at time ``t``: True is made."""
        begun = bisect_right(self.inputs, t + 1e-9, key=lambda entry: entry[0])
        return self.inputs[begun - 1][1] if begun else {}

    def held(self, t: float) -> int | None:
        """What the spindle really holds at time ``t``."""
        begun = bisect_right(self.holding, t + 1e-9, key=lambda entry: entry[0])
        return self.holding[max(0, begun - 1)][1] if self.holding else 0
