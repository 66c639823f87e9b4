"""Kinematics: where the axes are, how fast they move, how far they can go. Three linear axes; a chain of other axes is another part with the
same interface."""

import math
from collections.abc import Iterator
from typing import Any, NamedTuple

from orthotrope.machine.motion import Arc, MotionLaw, Vector, trapezoid
from orthotrope.machine.world import WorldAxis

LIMIT_TOLERANCE = 1e-6


def signs_of(move: Vector, before: Vector) -> Vector:
    """The direction of each axis: 1 up, −1 down; one that is at rest keeps its direction from ``before``."""
    x, y, z = (math.copysign(1.0, part) if abs(part) > 1e-12 else was for part, was in zip(move, before, strict=True))
    return x, y, z


class EndStop(NamedTuple):
    """A hard stop that is met: after which ``part`` of the move (0 to 1), and the ``axis`` (its index)."""

    part: float
    axis: int


class Kinematics:
    """Three linear axes. Positions are the gauge line's, machine coordinates, mm: counted ones as the control has them, and true ones.

    ``position``: counted. ``error``: the slides' true position minus the counted one (homing scatters); the backlash comes on top,
    against the direction that each axis moved in last (``heading``: 1, −1, or 0 before it has moved). ``limited``: whether the soft
    limits apply. ``homed``: whether the counted position means anything."""

    def __init__(self, axes: tuple[WorldAxis, ...], at: Vector, homed: bool):
        self.position = at
        self.error: Vector = (0.0, 0.0, 0.0)
        self.heading: Vector = (0.0, 0.0, 0.0)
        self.limited = True
        self.homed = homed
        self.fit(axes)

    def fit(self, axes: tuple[WorldAxis, ...]) -> None:
        """Have other axes (their limits were entered again) in the same place."""
        self.axes = axes
        self.has_backlash = any(axis.backlash for axis in axes)
        self.has_stops = any(axis.stop_least > -math.inf or axis.stop_greatest < math.inf for axis in axes)
        self.has_limits = any(axis.least is not None for axis in axes)

    @property
    def is_exact(self) -> bool:
        """Whether the true position is the counted one, whatever the axes do."""
        return not self.has_backlash and self.error == (0.0, 0.0, 0.0)

    @property
    def true_position(self) -> Vector:
        """Where the slides are."""
        return self.position if self.is_exact else self._true(self.position, self.heading)

    def _true(self, counted: Vector, heading: Vector) -> Vector:
        x, y, z = (
            c + e - h * axis.backlash / 2 for c, e, h, axis in zip(counted, self.error, heading, self.axes, strict=True)
        )
        return x, y, z

    def true_ends(self, start: Vector, end: Vector) -> tuple[Vector, Vector]:
        """True positions of both ends of a move: the backlash is crossed at its beginning."""
        if self.is_exact:
            return start, end
        move = (end[0] - start[0], end[1] - start[1], end[2] - start[2])
        return self._true(start, self.heading), self._true(end, signs_of(move, self.heading))

    def counted_part(self, part: float, start: Vector, end: Vector, true_start: Vector, true_end: Vector) -> float:
        """The part (0 to 1) of the counted distance that belongs to a part of the true one."""
        if self.is_exact:
            return part
        distance = math.dist(start, end)
        crossed = max(0.0, distance - math.dist(true_start, true_end))
        return (crossed + part * (distance - crossed)) / distance if distance else part

    def turned(self, move: Vector) -> None:
        """The axes have moved in the directions of ``move``."""
        self.heading = signs_of(move, self.heading)

    def law_of(self, move: Vector, distance: float, feed: float) -> MotionLaw:
        """The trapezoid of a straight move that its slowest axis allows; ``feed`` in mm/min, 0 for rapid."""
        speed, acceleration = (feed / 60 if feed else math.inf), math.inf
        for axis, part in zip(self.axes, move, strict=True):
            share = abs(part) / distance
            if share > 1e-12:
                speed = min(speed, axis.rapid / 60 / share)
                acceleration = min(acceleration, axis.acceleration / share)
        return trapezoid(distance, speed, acceleration)

    def law_of_arc(self, arc: Arc, feed: float) -> MotionLaw:
        """The trapezoid of an arc that its axes allow: the sideways acceleration v²/r as well; ``feed`` in mm/min."""
        speed, acceleration = feed / 60, math.inf
        for index in (0, 1, 2) if arc.rise else arc.axes[:2]:
            axis = self.axes[index]
            speed, acceleration = min(speed, axis.rapid / 60), min(acceleration, axis.acceleration)
        return trapezoid(arc.length, min(speed, math.sqrt(acceleration * arc.radius)), acceleration)

    def over_feed(self, move: Vector, distance: float, feed: float) -> Iterator[dict[str, Any]]:
        """The axes that would have to move faster than they can, with the ``feed`` each would need and its ``limit``, mm/min."""
        for axis, part in zip(self.axes, move, strict=True):
            needed = feed * abs(part) / distance
            if needed > axis.rapid * (1 + 1e-9):
                yield {"axis": axis.name, "feed": needed, "limit": axis.rapid}

    def beyond_travel(self, end: Vector) -> dict[str, Any] | None:
        """The first axis that a place is beyond the soft limits of, with the ``limit`` and its ``side``; None: none is, or they do not
        apply."""
        if not self.limited:
            return None
        for axis, value in zip(self.axes, end, strict=True):
            if axis.least is not None and value < axis.least - LIMIT_TOLERANCE:
                return {"axis": axis.name, "value": value, "limit": axis.least, "side": "least"}
            if axis.greatest is not None and value > axis.greatest + LIMIT_TOLERANCE:
                return {"axis": axis.name, "value": value, "limit": axis.greatest, "side": "greatest"}
        return None

    def end_stop(self, start: Vector, end: Vector, move: Vector) -> EndStop | None:
        """The first hard stop that a move meets; None: none."""
        if not self.has_stops:
            return None
        true_start, true_end = self.true_ends(start, end)
        found: EndStop | None = None
        for index, axis in enumerate(self.axes):
            distance = true_end[index] - true_start[index]
            stop = axis.stop_greatest if distance > 0 else axis.stop_least
            over = true_end[index] - stop if distance > 0 else stop - true_end[index]
            if over > 1e-9 and abs(move[index]) > 1e-9:
                part = self.counted_part(max(0.0, 1 - over / abs(distance)), start, end, true_start, true_end)
                if found is None or part < found.part:
                    found = EndStop(part, index)
        return found
