"""Upright cylinders and boxes, and the first contact along a straight move, by closed forms.

Along a straight move the overlap in plan is a segment against a circle or a rounded rectangle, and in height an
interval. Shapes that just touch are not in contact: :data:`TOUCH` is taken off everywhere."""

import math
from dataclasses import dataclass
from typing import Literal

from orthotrope.machine.motion import Vector

TOUCH = 1e-6
"""mm; less than this is no contact."""

GLANCE = 1e-7
"""mm; an overlap along less of a move than this is none: a move away from a contact begins in one."""

Interval = tuple[float, float]

PartOf = Literal["", "changer", "reserved", "ground", "part", "way"]
"""What a body belongs to: the changer, what is in a pocket that no tool can have, the face below the changer, the part
that is touched, what is in the way there, or none of these."""


@dataclass(frozen=True, slots=True)
class StackPart:
    """One cylinder of spindle, nut and tool: ``low`` and ``high`` from the gauge line, up positive, mm."""

    name: str
    radius: float
    low: float
    high: float


@dataclass(frozen=True, slots=True)
class Well:
    """A hole in a box that goes down through all of it."""

    x: float
    y: float
    radius: float


@dataclass(frozen=True, slots=True)
class CylinderBody:
    """``makes``: the number of the input that a touch of it makes; ``give``: how far it can be pushed, ``travel``: from
    the contact until it switches, mm; ``part_of``: what it is a part of."""

    name: str
    x: float
    y: float
    radius: float
    bottom: float
    top: float
    pocket: int | None = None
    makes: int | None = None
    give: float = 0.0
    part_of: PartOf = ""
    travel: float = 0.0

    @property
    def reach(self) -> float:
        return self.radius

    def nearest(self, x: float, y: float) -> tuple[float, float]:
        """Its nearest place in plan; where one is within it, that one."""
        off = math.hypot(x - self.x, y - self.y)
        if off <= self.radius:
            return x, y
        return self.x + (x - self.x) * self.radius / off, self.y + (y - self.y) * self.radius / off

    def overlap(self, start: Vector, move: Vector, radius: float) -> Interval | None:
        """The part of the move (0 to 1) in which a cylinder of ``radius`` overlaps in plan."""
        return _circle(start[0] - self.x, start[1] - self.y, move[0], move[1], self.radius + radius - TOUCH)

    def leaves(self, start: Vector, end: Vector, radius: float) -> float | None:
        return 0.0


@dataclass(frozen=True, slots=True)
class BoxBody:
    """A box turned about its middle axis; ``half_x``, ``half_y`` in its own directions, (``cos``, ``sin``) of its turn;
    ``makes`` and ``give`` as a cylinder has them."""

    name: str
    x: float
    y: float
    half_x: float
    half_y: float
    cos: float
    sin: float
    bottom: float
    top: float
    wells: tuple[Well, ...] = ()
    pocket: int | None = None
    makes: int | None = None
    give: float = 0.0
    part_of: PartOf = ""
    travel: float = 0.0

    @property
    def reach(self) -> float:
        return math.hypot(self.half_x, self.half_y)

    def nearest(self, x: float, y: float) -> tuple[float, float]:
        """Its nearest place in plan; where one is within it, that one."""
        ox, oy = x - self.x, y - self.y
        along = max(-self.half_x, min(self.half_x, ox * self.cos + oy * self.sin))
        across = max(-self.half_y, min(self.half_y, oy * self.cos - ox * self.sin))
        return self.x + along * self.cos - across * self.sin, self.y + along * self.sin + across * self.cos

    def overlap(self, start: Vector, move: Vector, radius: float) -> Interval | None:
        """The part of the move (0 to 1) in which a cylinder of ``radius`` overlaps in plan: a rounded rectangle."""
        ox, oy = start[0] - self.x, start[1] - self.y
        x, y = ox * self.cos + oy * self.sin, oy * self.cos - ox * self.sin
        dx, dy = move[0] * self.cos + move[1] * self.sin, move[1] * self.cos - move[0] * self.sin
        grown = radius - TOUCH
        parts = [
            _rectangle(x, y, dx, dy, self.half_x + grown, self.half_y),
            _rectangle(x, y, dx, dy, self.half_x, self.half_y + grown),
            *(
                _circle(x - cx, y - cy, dx, dy, grown)
                for cx in (-self.half_x, self.half_x)
                for cy in (-self.half_y, self.half_y)
            ),
        ]
        found = [part for part in parts if part]
        return (min(p[0] for p in found), max(p[1] for p in found)) if found else None

    def leaves(self, start: Vector, end: Vector, radius: float) -> float | None:
        """After which part of a way within the box a cylinder leaves the well that it begins in: 0 where it begins in none,
        None where it stays within one (wells are round, so both ends tell)."""
        for well in self.wells:
            room = well.radius - radius + TOUCH
            if room < 0 or math.hypot(start[0] - well.x, start[1] - well.y) > room + GLANCE:
                continue
            if math.hypot(end[0] - well.x, end[1] - well.y) <= room:
                return None
            within = _circle(start[0] - well.x, start[1] - well.y, end[0] - start[0], end[1] - start[1], room)
            return within[1] if within else 0.0
        return 0.0


Body = CylinderBody | BoxBody


def stands_alone(body: Body) -> bool:
    """Whether it is neither touched nor entered on purpose: what passes it is to keep clear."""
    return body.part_of in ("", "reserved") and body.makes is None


def passed_by(body: Body) -> bool:
    """Whether it is reported how close something passes it: what is alone, and what is stored where it is not being taken."""
    return body.pocket is not None or stands_alone(body)


def _circle(x: float, y: float, dx: float, dy: float, radius: float) -> Interval | None:
    if radius <= 0:
        return None
    a, c = dx * dx + dy * dy, x * x + y * y - radius * radius
    if a == 0:
        return (0.0, 1.0) if c < 0 else None
    b = x * dx + y * dy
    under = b * b - a * c
    if under <= 0:
        return None
    root = math.sqrt(under)
    begin, end = (-b - root) / a, (-b + root) / a
    return (max(0.0, begin), min(1.0, end)) if end > 0 and begin < 1 else None


def _slab(value: float, change: float, low: float, high: float) -> Interval | None:
    """The part of [0, 1] in which value + part·change lies between low and high."""
    if change == 0:
        return (0.0, 1.0) if low < value < high else None
    one, other = (low - value) / change, (high - value) / change
    begin, end = (one, other) if one < other else (other, one)
    return (max(0.0, begin), min(1.0, end)) if end > 0 and begin < 1 else None


def _rectangle(x: float, y: float, dx: float, dy: float, half_x: float, half_y: float) -> Interval | None:
    first = _slab(x, dx, -half_x, half_x)
    second = _slab(y, dy, -half_y, half_y) if first else None
    if not first or not second:
        return None
    begin, end = max(first[0], second[0]), min(first[1], second[1])
    return (begin, end) if begin < end else None


@dataclass(frozen=True, slots=True)
class Contact:
    """The first contact of a move: after which ``part`` of it, of what with what; ``deep``: how far the overlap in
    height would go if the move went on, mm."""

    part: float
    mover: StackPart
    body: Body
    deep: float


def first_contact(
    stack: tuple[StackPart, ...], bodies: list[Body], start: Vector, end: Vector, lowest: float, widest: float
) -> Contact | None:
    """The first contact of a stack (gauge line going from ``start`` to ``end``) with any body, or None.

    ``lowest`` and ``widest`` are the stack's own lowest low and largest radius, for sorting out bodies far away.
    """
    bottom = min(start[2], end[2]) + lowest
    x0, x1 = (start[0], end[0]) if start[0] < end[0] else (end[0], start[0])
    y0, y1 = (start[1], end[1]) if start[1] < end[1] else (end[1], start[1])
    found: Contact | None = None
    move: Vector | None = None
    for body in bodies:
        if body.top <= bottom:
            continue
        reach = body.reach + widest
        if body.x + reach < x0 or body.x - reach > x1 or body.y + reach < y0 or body.y - reach > y1:
            continue
        move = move or (end[0] - start[0], end[1] - start[1], end[2] - start[2])
        for part in stack:
            low, high = body.bottom - part.high + TOUCH, body.top - part.low - TOUCH
            height = _slab(start[2], move[2], low, high)
            if not height:
                continue
            plan = body.overlap(start, move, part.radius)
            if not plan:
                continue
            begin, finish = max(plan[0], height[0]), min(plan[1], height[1])
            if begin >= finish or (found and begin >= found.part):
                continue
            way = math.dist(start, end)
            # Rounding makes what is exactly on a face overlap it by a hair on the way off.
            if way and (finish - begin) * way < GLANCE:  # it leaves what it had come to touch
                continue
            # A drill in the hole of its rack overlaps the block in plan and touches nothing until it leaves the hole.
            left = body.leaves(_at(start, move, begin), _at(start, move, finish), part.radius)
            if left is None:
                continue
            begin += left * (finish - begin)
            if found and begin >= found.part:
                continue
            deep = high + TOUCH - min(start[2] + move[2] * begin, start[2] + move[2] * finish)
            found = Contact(begin, part, body, deep)
    return found


def _at(start: Vector, move: Vector, part: float) -> Vector:
    return start[0] + move[0] * part, start[1] + move[1] * part, start[2] + move[2] * part
