"""The journal of a run: its trace and its time, and what of the world it depends on."""

import math
from collections.abc import MutableSequence
from typing import Any, NoReturn

from orthotrope.machine.events import EventKind
from orthotrope.machine.kinematics import Kinematics
from orthotrope.machine.motion import Arc, MotionLaw, Vector
from orthotrope.machine.stops import Crashed, TooManyMoves
from orthotrope.machine.trace import BlockState, Event, Segment, SegmentKind, Trace


class Journal:
    """``t``: seconds since the run began; ``line``: the one that runs; ``most_moves``: segments that a run may have.

    ``dependencies``: what of the world the run has depended on: "input 3", "device grip", "device grip open", "override", "unit" (the
    caller's); "length": the true lengths of its tools, by a touch or a contact; "longer": a tool that is longer would meet something;
    "pocket 3": what is stored there, "stored": all of that; "magazine": also how long the changer takes."""

    def __init__(self, axes: Kinematics):
        self.axes = axes
        self.trace = Trace()
        self.t = 0.0
        self.line = 0
        self.most_moves = math.inf
        self.dependencies: set[str] = set()

    def event(self, kind: EventKind, t: float | None = None, **data: object) -> None:
        """Note an event, now or at ``t``."""
        self.trace.events.append(Event(kind, self.t if t is None else t, self.line, self.axes.position, data))

    def crash(self, kind: EventKind, t: float | None = None, **data: object) -> NoReturn:
        """Note what stops the machine.

        Raises:
            Crashed: always.
        """
        self.event(kind, t, **data)
        raise Crashed

    def end_block(self, line: int, t0: float, record: float, doubtful: bool) -> None:
        """Note a block that has been run."""
        self.trace.blocks.append(
            BlockState(line, t0, self.t, self.axes.position, record, doubtful, self.trace.holding[-1][1])
        )

    def segment(
        self,
        kind: SegmentKind,
        block: int,
        t0: float,
        t1: float,
        end: Vector,
        law: MotionLaw | None,
        arc: Arc | None,
        feed: float,
        machine_frame: bool,
    ) -> None:
        """Note a move or a dwell: position and time are those of its end from now on.

        Raises:
            TooManyMoves: where the run has had as many as it may.
        """
        segments = self.trace.segments
        if len(segments) >= self.most_moves:
            raise TooManyMoves
        segments.append(Segment(self.line, block, kind, t0, t1, self.axes.position, end, law, arc, feed, machine_frame))
        self.axes.position, self.t = end, t1

    def lengths(self) -> tuple[int, ...]:
        """How long each list of the trace is, for :meth:`cut`."""
        return tuple(len(part) for part in _lists(self.trace))

    def cut(self, lengths: tuple[int, ...]) -> None:
        """Forget what came after the trace had these lengths."""
        for part, length in zip(_lists(self.trace), lengths, strict=True):
            del part[length:]
        self.trace.sorted_out = -1

    def begin_as(self, other: "Journal", lengths: tuple[int, ...]) -> None:
        """Have the trace of another run up to these lengths."""
        for mine, its, length in zip(_lists(self.trace), _lists(other.trace), lengths, strict=True):
            mine[:] = its[:length]


def _lists(trace: Trace) -> tuple[MutableSequence[Any], ...]:
    return trace.segments, trace.events, trace.blocks, trace.ramps, trace.holding, trace.inputs, trace.stored
