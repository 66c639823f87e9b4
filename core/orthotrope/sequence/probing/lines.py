"""A line through touches that all went the same way along an axis."""

from collections.abc import Sequence
from dataclasses import dataclass

from orthotrope.sequence.probing.formulas import FormulaBackend, Scalar
from orthotrope.sequence.probing.registry import Touched


@dataclass(frozen=True, slots=True)
class Line:
    """``slope``: how much further along their way the touches are for each mm across it (Y for a way along X, X for one along
    Y); ``at_place``: how far along their way the surface is where that is zero, mm; ``turn``: by how much it is
    turned, degrees, counter-clockwise positive."""

    slope: Scalar
    at_place: Scalar
    turn: Scalar


def line_through(touched: Sequence[Touched], sums: FormulaBackend) -> Line:
    """The best line through two or more touches, whose sides of the tip are at right angles to it.

    Slope = Σ(a − ā)·c / Σ(a − ā)², a across the way; a tip of radius r meets a face that is turned by θ r/cos θ before
    it, along its way."""
    aims = [touch.aim for touch in touched]
    places = [aim.at[1] if aim.way[0] else aim.at[0] for aim in aims]
    middle = sum(places) / len(places)
    widest = max(abs(place - middle) for place in places)
    shares = [(place - middle) / widest for place in places]
    rise: Scalar = 0.0
    total: Scalar = 0.0
    for touch, share in zip(touched, shares, strict=True):
        rise = rise + touch.c * share
        total = total + touch.c
    way = aims[0].way
    axis = "x" if way[0] else "y"
    slope = sums.let(f"slope along {axis}", rise / sums.mm(widest * sum(share * share for share in shares)))
    # A way along +X: x = slope·y, so the face turns clockwise as the slope grows; along −X, and along Y, the other way.
    sign = -1.0 if way[0] > 0 or way[1] < 0 else 1.0
    turn = sums.let(f"turn along {axis}", sums.atan(slope, 1.0) * sign)
    mean = total / len(places) - slope * sums.mm(middle)
    return Line(slope, sums.let(f"line along {axis}", mean + touched[0].reach / sums.cos(turn)), turn)
