"""How close a run passes what it does not touch.

Along a straight move the gap between two upright shapes is convex, sideways as well as in height, and so is the larger of the two: what
both would have to grow until they touch. Its least is where halving finds it, to a micrometre."""

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Any, NamedTuple

from pydantic import TypeAdapter

from orthotrope.machine.motion import Vector
from orthotrope.machine.shapes import Body, StackPart, passed_by

NARROWED = 40
"""Times that the part of a move in which the least gap lies is narrowed, to two thirds each time."""

LESSER = 1e-5
"""What the lesser gap counts beside the larger: of moments that are equally close the one is reported that is close in both."""

HAIR = 1e-4
"""mm; by what a gap does along so much of a move it is reported whether something comes nearer there."""


@dataclass(frozen=True, slots=True, order=True)
class Passing:
    """The closest that something comes to one body. ``gap``: the larger of ``sideways`` (in plan) and ``height``, each 0 where they
    overlap in that; ``position`` and ``body_position``: the nearest places of the mover and of the body then; mm. ``line`` of the
    text."""

    gap: float
    sideways: float
    height: float
    mover: str
    body: str
    position: Vector
    body_position: Vector
    at_seconds: float
    line: int

    def as_json(self) -> dict[str, Any]:
        """As plain values."""
        reported: dict[str, Any] = PASSING.dump_python(self, mode="json")
        return reported


PASSING: TypeAdapter[Passing] = TypeAdapter(Passing)


class Pass(NamedTuple):
    """The closest that one move comes to one body, as :class:`Passing` has it; ``gone``: the part of the move (0 to 1) after which it does."""

    gap: float
    sideways: float
    height: float
    mover: str
    body: str
    position: Vector
    body_position: Vector
    gone: float


class Passed(NamedTuple):
    """What :class:`Closest` has noted until a moment."""

    by_body: dict[str, Passing]
    touched: frozenset[str]


class Closest:
    """The closest passing of each body so far, of those that are passed ``within`` less than so much, mm; ``touched``: those that a
    touch was meant for. Both are replaced, never changed: a moment of a run keeps them as they were (:meth:`kept`)."""

    def __init__(self, within: float):
        self.within = within
        self.by_body: dict[str, Passing] = {}
        self.touched: frozenset[str] = frozenset()

    def kept(self) -> "Passed":
        """All that was passed so far, for :meth:`restore`."""
        return Passed(self.by_body, self.touched)

    def restore(self, kept: "Passed") -> None:
        """Go back to what :meth:`kept` has."""
        self.by_body, self.touched = kept

    def touches(self, name: str) -> None:
        """A body is touched on purpose."""
        self.touched |= {name}

    def sorted(self) -> tuple[Passing, ...]:
        """All of them, the closest first."""
        return tuple(sorted(entry for name, entry in self.by_body.items() if name not in self.touched))

    def note(
        self,
        stack: Iterable[StackPart],
        bodies: Iterable[Body],
        start: Vector,
        end: Vector,
        when: Callable[[float], float],
        line: int,
    ) -> None:
        """A straight move of a stack that meets nothing; ``when``: at what time a part of it (0 to 1) is gone."""
        self.take(passes_of(stack, bodies, start, end, self.within), when, line)

    def take(self, passes: Iterable[Pass], when: Callable[[float], float], line: int) -> None:
        """Take what a move passes closely; ``when``: at what time a part of it (0 to 1) is gone."""
        for found in passes:
            known = self.by_body.get(found.body)
            if known is None or found.gap < known.gap:
                gap, sideways, height, mover, body, position, body_position, gone = found
                passing = Passing(gap, sideways, height, mover, body, position, body_position, when(gone), line)
                self.by_body = {**self.by_body, body: passing}


def passes_of(
    stack: Iterable[StackPart], bodies: Iterable[Body], start: Vector, end: Vector, within: float
) -> Iterator[Pass]:
    """The closest that a straight move of a stack comes to each body that it passes within less than so much, mm."""
    (x0, y0, z0), (x1, y1, z1) = start, end
    left, right = (x0, x1) if x0 < x1 else (x1, x0)
    front, back = (y0, y1) if y0 < y1 else (y1, y0)
    low, high = (z0, z1) if z0 < z1 else (z1, z0)
    for body in bodies:
        if not passed_by(body):
            continue
        aside = max(left - body.x, body.x - right, front - body.y, body.y - back) - body.reach
        most, found = within, None
        for part in stack:
            if (
                aside - part.radius >= most
                or low + part.low - body.top >= most
                or body.bottom - high - part.high >= most
            ):
                continue
            gone, sideways, height = _least(part, body, start, end)
            if max(sideways, height) < most:
                most, found = max(sideways, height), (part, gone, sideways, height)
        if found:
            part, gone, sideways, height = found
            x, y, z = (a + (b - a) * gone for a, b in zip(start, end, strict=True))
            places = _nearest(part, body, (x, y, z))
            yield Pass(most, sideways, height, part.name, body.name, *places, gone)


def _nearest(part: StackPart, body: Body, at: Vector) -> tuple[Vector, Vector]:
    """The nearest places of a mover, whose gauge line is at a place, and of a body."""
    x, y, z = at
    bx, by = body.nearest(x, y)
    off = math.dist((x, y), (bx, by))
    share = min(1.0, part.radius / off) if off else 0.0
    low, high = z + part.low, z + part.high
    own, its = (low, body.top) if low >= body.top else (high, body.bottom) if high <= body.bottom else (low, low)
    if own == its:
        own = its = max(low, body.bottom)
    return (x + (bx - x) * share, y + (by - y) * share, own), (bx, by, its)


def _least(part: StackPart, body: Body, start: Vector, end: Vector) -> tuple[float, float, float]:
    """After which part of a move the gap is least, and the gaps sideways and in height there."""
    (x0, y0, z0), (x1, y1, z1) = start, end
    dx, dy, dz = x1 - x0, y1 - y0, z1 - z0
    nearest, radius = body.nearest, part.radius
    above, below = part.low - body.top, body.bottom - part.high

    def gaps(gone: float) -> tuple[float, float]:
        x, y, z = x0 + dx * gone, y0 + dy * gone, z0 + dz * gone
        bx, by = nearest(x, y)
        aside, up, down = math.hypot(x - bx, y - by) - radius, z + above, below - z
        height = up if up > down else down
        return (aside if aside > 0.0 else 0.0), (height if height > 0.0 else 0.0)

    def both(gone: float) -> float:
        one, other = gaps(gone)
        return one + LESSER * other if one > other else other + LESSER * one

    way = math.dist(start, end)
    if way < 2 * HAIR or both(0.0) <= both(HAIR / way):
        return (0.0, *gaps(0.0))
    if both(1.0) <= both(1.0 - HAIR / way):  # it comes nearer all the way
        return (1.0, *gaps(1.0))
    begin, finish = 0.0, 1.0
    for _ in range(NARROWED):
        one, other = begin + (finish - begin) / 3, finish - (finish - begin) / 3
        if both(one) <= both(other):
            finish = other
        else:
            begin = one
    gone = (begin + finish) / 2
    return (gone, *gaps(gone))
