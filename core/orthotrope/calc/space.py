"""How much of the table is left: the travel less what the changer, and what stands for the setter, keep for
themselves."""

from dataclasses import dataclass

from shapely import LineString, Polygon, box, union_all
from shapely import Point as ShapelyPoint
from shapely.affinity import rotate

from orthotrope.calc.derived import DerivedChanger, Outline
from orthotrope.setup import Setup
from orthotrope.setup.surround import Body, Box

ROUND_STEPS = 12
"""Corners of a quarter circle."""

Point = tuple[float, float]
Limits = tuple[float, float, float, float]


@dataclass(frozen=True, slots=True)
class KeptClear:
    """What keeps a part of the plan for itself: its outline grown by half the spindle and the margin, machine mm."""

    name: str
    outline: tuple[Point, ...]


@dataclass(frozen=True, slots=True)
class UsableSpace:
    """Areas in mm²: of the data sheet's travel, within the soft limits, and what is left of that; ``rectangle`` the
    largest upright rectangle beside what is kept clear (least x, least y, greatest x, greatest y)."""

    data_sheet: float
    within_limits: float
    left: float
    rectangle: Limits
    kept_clear: tuple[KeptClear, ...]


def usable_space(setup: Setup, derived: DerivedChanger | None) -> UsableSpace:
    """The plan that jobs have. The spindle's body must stay clear of the changer, and of bodies that make a setter's
    input, by its radius and the margin of the heights; that is the footprint with the safe way in beside it."""
    x, y = setup.machine.axes.across
    limits = (x.soft_least, y.soft_least, x.soft_greatest, y.soft_greatest)
    clear = _kept_clear(setup, derived)
    within = box(*limits)
    left = within.difference(union_all([shape for _, shape in clear]))
    kept = tuple(KeptClear(name, tuple(shape.exterior.coords[:-1])) for name, shape in clear)
    return UsableSpace(
        (x.greatest - x.least) * (y.greatest - y.least),
        within.area,
        left.area,
        _rectangle(limits, [shape.bounds for _, shape in clear]),
        kept,
    )


GRID = 13
"""Places along each axis that are looked at for something new on the table."""

INSET = 0.06
"""Of the travel: how far from its ends the outermost of them are."""


def free_places(setup: Setup, derived: DerivedChanger | None) -> list[tuple[float, float]]:
    """Where something new can stand on the table (machine X, Y, mm), the spindle's body being clear of the changer, of setters and
    of all bodies there: those at the edge of the travel first, and of these the ones furthest from everything that is there."""
    spindle = setup.machine.spindle
    grown = max(spindle.body_diameter, spindle.nose_diameter) / 2
    shapes = [shape for _, shape in _kept_clear(setup, derived)]
    shapes += [_grown(_plan_of(body), grown) for body in setup.bodies]
    there = union_all(shapes)
    along = [
        [
            axis.soft_least + (axis.soft_greatest - axis.soft_least) * (INSET + (1 - 2 * INSET) * step / (GRID - 1))
            for step in range(GRID)
        ]
        for axis in setup.machine.axes.across
    ]
    found = []
    for column, x in enumerate(along[0]):
        for row, y in enumerate(along[1]):
            away = 0.0 if there.is_empty else there.distance(ShapelyPoint(x, y))
            if there.is_empty or away > 0:
                inside = {column, row}.isdisjoint({0, GRID - 1})
                found.append((inside, -away, round(x, 1), round(y, 1)))
    return [(x, y) for _, _, x, y in sorted(found)]


def _kept_clear(setup: Setup, derived: DerivedChanger | None) -> list[tuple[str, Polygon]]:
    spindle = setup.machine.spindle
    grown = max(spindle.body_diameter, spindle.nose_diameter) / 2 + (setup.changer.margin if setup.changer else 0.0)
    found = []
    if derived and derived.outline:
        found.append(("the changer", _grown(derived.outline, grown)))
    found += [(setter.name, _grown(_plan_of(setter.body), grown)) for setter in setup.setters if setter.body]
    return found


def _plan_of(body: Body) -> Outline:
    if isinstance(body, Box):
        return Outline((body.x, body.y), body.size_x / 2, body.size_y / 2, body.turn_deg)
    return Outline((body.x, body.y), 0.0, 0.0, 0.0, body.diameter / 2)


def _grown(outline: Outline, by: float) -> Polygon:
    """An outline in plan with everything that is nearer to it than ``by``."""
    (x, y), half_x, half_y = outline.middle, outline.half_length, outline.half_width
    core = box(x - half_x, y - half_y, x + half_x, y + half_y) if half_x and half_y else LineString([(x, y), (x, y)])
    grown = core.buffer(outline.round_by + by, quad_segs=ROUND_STEPS)
    return rotate(grown, outline.bearing_deg, origin=(x, y))


def _rectangle(limits: Limits, clear: list[Limits]) -> Limits:
    """The largest upright rectangle within the limits that no bounding box of what is kept clear reaches into, when
    each is passed on one side."""
    best = limits
    for least_x, least_y, greatest_x, greatest_y in clear:
        low_x, low_y, high_x, high_y = best
        if least_x >= high_x or greatest_x <= low_x or least_y >= high_y or greatest_y <= low_y:
            continue
        beside = [
            (low_x, low_y, min(high_x, least_x), high_y),
            (max(low_x, greatest_x), low_y, high_x, high_y),
            (low_x, low_y, high_x, min(high_y, least_y)),
            (low_x, max(low_y, greatest_y), high_x, high_y),
        ]
        best = max(beside, key=_area)
    return best


def _area(within: Limits) -> float:
    return max(0.0, within[2] - within[0]) * max(0.0, within[3] - within[1])
