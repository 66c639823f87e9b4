"""Round features. The middle is found first, by a search along each axis; then it is measured from there, so that every touch
goes straight at the wall and what a touch is late by is the same all round.

A tip whose touches are at equal steps round a middle m stands, at each, so far along its way w that c = m·w + r. Least squares
of that is m = 2/n·Σ c·w and r = 1/n·Σ c; being off by e to begin with leaves e²/2r of it."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from orthotrope.calc.points import Point
from orthotrope.calc.probing import CircleFitInput, circle_fit
from orthotrope.sequence.probing.formulas import Scalar, Term
from orthotrope.sequence.probing.registry import Aim, Found, Tip, Touched, Vector, around
from orthotrope.sequence.probing.writing import Probing
from orthotrope.sequence.steps import Compute, Step
from orthotrope.sequence.values import Number

CROSS = ((-1.0, 0.0), (1.0, 0.0), (0.0, -1.0), (0.0, 1.0))
"""The ways out of the middle by which it is searched for."""


@dataclass(frozen=True, slots=True)
class Feature:
    """A bore (touched from ``inside``) or a boss: its diameter, how deep it is touched, how far before it a search from outside
    begins, and where its middle is expected, from the routine's place; mm."""

    inside: bool
    diameter: float
    depth: float
    before: float
    x: float = 0.0
    y: float = 0.0
    name: str = ""

    def aims(self, tip: Tip, ways: Sequence[tuple[float, float]]) -> list[Aim]:
        """Touches by these ways out of its middle: outwards from there, or from outside inwards."""
        found = []
        for index, (x, y) in enumerate(ways, 1):
            name = f"{self.name}touch {index}"
            if self.inside:
                way: Vector = (x, y, 0.0)
                gap = self.diameter / 2 - tip.reach(way)
                found.append(Aim(name, (self.x, self.y, -self.depth), way, gap, level=index > 1))
            else:
                way = (-x, -y, 0.0)
                away = self.diameter / 2 + tip.reach(way) + self.before
                found.append(Aim(name, (self.x + x * away, self.y + y * away, -self.depth), way, self.before))
        return found


def round_aims(feature: Feature, tip: Tip, touches: int, first_deg: float) -> list[Aim]:
    """Touches at equal steps round the clock."""
    return feature.aims(tip, around(touches, first_deg))


def measured(feature: Feature, p: Probing, touches: int, first_deg: float, kept: Sequence[str]) -> Iterator[Step]:
    """The search for the middle and the touches from there; the sums of c·w in X and Y, and of c where a third is named, are
    ``kept`` by these names."""
    yield from _searched(feature, p)
    aims = round_aims(feature, p.tip, touches, first_deg)
    use, clear = p.use, p.clear(aims)
    for index, aim in enumerate(aims):
        yield from p.touch(aim, "touch 1", clear)
        reached = Term(use.value("touch 1")) + p.sums.mm(p.tip.reach(aim.way))
        for name, part in zip(kept, (reached * aim.way[0], reached * aim.way[1], reached), strict=False):
            if index == 0:
                yield Compute(use.number(name), part.value)
            elif part.value != Number(0):
                yield Compute(use.number(name), (Term(use.value(name)) + part).value)
    p.about = (0.0, 0.0)


def _searched(feature: Feature, p: Probing) -> Iterator[Step]:
    """One search each way along X, then from the middle of that along Y; places count from the middle afterwards."""
    use, aims = p.use, feature.aims(p.tip, CROSS)
    for axis, pair in enumerate((aims[:2], aims[2:])):
        for number, aim in enumerate(pair, 1):
            yield from p.go_to(aim, p.clear(aims))
            yield from p.search(aim)
            yield p.latched_at(aim, f"touch {number}")
            yield from p.retreat(aim)
        # Both were latched late by the same, so that it is not in the middle between them.
        one, other = Term(use.value("touch 1")), Term(use.value("touch 2"))
        sign = pair[0].way[0] + pair[0].way[1]
        name, expected = ("middle x", "middle y")[axis], (feature.x, feature.y)[axis]
        off = (one - other) * sign / 2.0 - p.sums.mm(expected)
        yield Compute(use.number(name), off.value, "the middle, from where it is expected")
        yield from p.recentre(axis, Term(use.value(name)))


def round_steps(feature: Feature, p: Probing, touches: int, first_deg: float) -> Iterator[Step]:
    """A round feature by itself: its middle and diameter."""
    kept = ("first side", "second side", "beside")
    yield from measured(feature, p, touches, first_deg, kept)
    x, y, r = (Term(p.use.value(name)) for name in kept)
    across = r * 2.0 / float(touches)
    share = float(touches)
    found: Found = {"x": x * 2.0 / share, "y": y * 2.0 / share, "diameter": across if feature.inside else -across}
    yield from p.keep(found)


def round_found(touched: Sequence[Touched], inside: bool) -> Found:
    """The circle through the places of the tip (circle-fit in calculations.md), and the diameter of the feature."""
    fit = circle_fit(CircleFitInput(points=[place_of(touch) for touch in touched]))
    reach = sum(_number(touch.reach) for touch in touched) / len(touched)
    diameter = 2 * (fit.radius + reach) if inside else 2 * (fit.radius - reach)
    return {"x": fit.centre.x, "y": fit.centre.y, "diameter": diameter}


def place_of(touch: Touched) -> Point:
    """Where the tip stood, from the place where the feature is expected: along its way, and across it to the left."""
    way_x, way_y, _ = touch.aim.way
    along, across = _number(touch.c), _number(touch.across)
    return Point(x=along * way_x - across * way_y, y=along * way_y + across * way_x)


def _number(part: Scalar) -> float:
    assert not isinstance(part, Term)
    return float(part)
