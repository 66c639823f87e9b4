"""How much of the table is left: the travel less what the changer, and what stands for the setter, keep for themselves."""

import math
from dataclasses import dataclass

from orthotrope.calc.derived import DerivedChanger, block_corners, disc_centre
from orthotrope.calc.geometry import unit_vector
from orthotrope.setup import Setup
from orthotrope.setup.styles import ByHand, DiscChanger, RackChanger
from orthotrope.setup.surround import Box

STRIPS = 600
"""Strips that the area is summed over."""

ROUND_STEPS = 12
"""Corners of a quarter circle."""

Point = tuple[float, float]


@dataclass(frozen=True, slots=True)
class KeptClear:
    """What keeps a part of the plan for itself: its outline grown by half the spindle and the margin, machine mm."""

    name: str
    outline: tuple[Point, ...]


@dataclass(frozen=True, slots=True)
class UsableSpace:
    """Areas in mm²: of the data sheet's travel, within the soft limits, and what is left of that; ``rectangle`` the largest
    upright rectangle beside what is kept clear (least x, least y, greatest x, greatest y)."""

    data_sheet: float
    within_limits: float
    left: float
    rectangle: tuple[float, float, float, float]
    kept_clear: tuple[KeptClear, ...]


def usable_space(setup: Setup, derived: DerivedChanger | None) -> UsableSpace:
    """The plan that jobs have. The spindle's body must stay clear of the changer, and of bodies that make a setter's input,
    by its radius and the margin of the heights; that is the footprint with the safe way in beside it."""
    x, y = setup.machine.axes.X, setup.machine.axes.Y
    limits = (x.soft_least, y.soft_least, x.soft_greatest, y.soft_greatest)
    clear = _kept_clear(setup, derived)
    height = (limits[3] - limits[1]) / STRIPS
    taken = 0.0
    for index in range(STRIPS):
        at = limits[1] + (index + 0.5) * height
        taken += height * _covered([_across(kept.outline, at) for kept in clear], limits[0], limits[2])
    whole = (limits[2] - limits[0]) * (limits[3] - limits[1])
    return UsableSpace((x.greatest - x.least) * (y.greatest - y.least), whole, whole - taken,
                       _rectangle(limits, clear), tuple(clear))  # fmt: skip


def _kept_clear(setup: Setup, derived: DerivedChanger | None) -> list[KeptClear]:
    spindle = setup.machine.spindle
    grown = max(spindle.body_diameter, spindle.nose_diameter) / 2
    changer = setup.changer
    margin = changer.heights.margin if changer and not isinstance(changer, ByHand) else 0.0
    found = []
    if isinstance(changer, RackChanger) and derived:
        middle, length, width, bearing = block_corners(changer.rack, derived)
        found.append(KeptClear("the changer", _rounded_box(middle, length / 2, width / 2, bearing, grown + margin)))
    elif isinstance(changer, DiscChanger):
        reach = changer.disc.radius + changer.grip.holder_diameter / 2
        found.append(
            KeptClear("the changer", _rounded_box(disc_centre(changer, swung=False), 0.0, 0.0, 0.0, reach + grown + margin))
        )
    setters = {entry.number for entry in setup.inputs if entry.role == "setter"}
    for body in setup.bodies:
        if body.makes in setters:
            half_x, half_y = (body.size_x / 2, body.size_y / 2) if isinstance(body, Box) else (0.0, 0.0)
            more = grown + margin + (0.0 if isinstance(body, Box) else body.diameter / 2)
            turn = body.turn_deg if isinstance(body, Box) else 0.0
            found.append(KeptClear(body.name, _rounded_box((body.x, body.y), half_x, half_y, turn, more)))
    return found


def _rounded_box(middle: Point, half_x: float, half_y: float, turn_deg: float, grown: float) -> tuple[Point, ...]:
    cos, sin = unit_vector(turn_deg)
    points = []
    for corner, (sx, sy) in enumerate(((1, 1), (-1, 1), (-1, -1), (1, -1))):
        for step in range(ROUND_STEPS + 1):
            angle = (corner + step / ROUND_STEPS) * math.pi / 2
            px, py = sx * half_x + grown * math.cos(angle), sy * half_y + grown * math.sin(angle)
            points.append((middle[0] + px * cos - py * sin, middle[1] + px * sin + py * cos))
    return tuple(points)


def _across(outline: tuple[Point, ...], y: float) -> tuple[float, float] | None:
    """Where a line along X at ``y`` is inside a convex outline."""
    found = []
    for (x0, y0), (x1, y1) in zip(outline, (*outline[1:], outline[0]), strict=True):
        if (y0 <= y) != (y1 <= y):
            found.append(x0 + (x1 - x0) * (y - y0) / (y1 - y0))
    return (min(found), max(found)) if len(found) >= 2 else None


def _covered(parts: list[tuple[float, float] | None], least: float, greatest: float) -> float:
    """Length of [least, greatest] that the parts cover together."""
    covered, until = 0.0, least
    for low, high in sorted(part for part in parts if part):
        low, high = max(low, until), min(high, greatest)
        if high > low:
            covered += high - low
            until = high
    return covered


def _rectangle(limits: tuple[float, float, float, float], clear: list[KeptClear]) -> tuple[float, float, float, float]:
    """The largest upright rectangle within the limits that no bounding box of what is kept clear reaches into, when each
    is passed on one side."""
    best = limits
    for kept in clear:
        xs, ys = [p[0] for p in kept.outline], [p[1] for p in kept.outline]
        low_x, low_y, high_x, high_y = best
        if min(xs) >= high_x or max(xs) <= low_x or min(ys) >= high_y or max(ys) <= low_y:
            continue
        beside = [(low_x, low_y, min(high_x, min(xs)), high_y), (max(low_x, max(xs)), low_y, high_x, high_y),
                  (low_x, low_y, high_x, min(high_y, min(ys))), (low_x, max(low_y, max(ys)), high_x, high_y)]  # fmt: skip
        best = max(beside, key=_area)
    return best


def _area(box: tuple[float, float, float, float]) -> float:
    return max(0.0, box[2] - box[0]) * max(0.0, box[3] - box[1])
