"""Two faces opposite one another: the middle between them, and how far they are apart."""

from collections.abc import Sequence

from orthotrope.sequence.probing.formulas import Scalar
from orthotrope.sequence.probing.registry import Aim, Tip, Touched, Vector

SIDES = {"x": ("left", "right"), "y": ("front", "back")}


def _way(axis: str, sign: float) -> Vector:
    return (sign, 0.0, 0.0) if axis == "x" else (0.0, sign, 0.0)


def between(axis: str, size: float, depth: float, tip: Tip, first: bool = True) -> list[Aim]:
    """From the middle outwards to both faces, along an axis. ``first``: the tip comes down for it."""
    found = []
    for side, sign in zip(SIDES[axis], (-1.0, 1.0), strict=True):
        way = _way(axis, sign)
        gap = size / 2 - tip.reach(way)
        found.append(Aim(f"the {side} wall", (0.0, 0.0, -depth), way, gap, level=not first or sign > 0))
    return found


def around(axis: str, size: float, depth: float, before: float, tip: Tip) -> list[Aim]:
    """From outside to both faces, along an axis."""
    found = []
    for side, sign in zip(SIDES[axis], (1.0, -1.0), strict=True):
        way = _way(axis, sign)
        away = size / 2 + before + tip.reach(way)
        x, y = -way[0] * away, -way[1] * away
        found.append(Aim(f"the {side} face", (x, y, -depth), way, before))
    return found


def middle(touched: Sequence[Touched]) -> tuple[Scalar, Scalar]:
    """The middle between two faces, and how far they are apart, from the touches of both; each surface is so far along its own
    way."""
    one, other = touched
    sign = one.aim.way[0] + one.aim.way[1]
    apart = one.surface + other.surface
    outwards = one.aim.at[0] == other.aim.at[0] and one.aim.at[1] == other.aim.at[1]
    return (one.surface - other.surface) * (sign / 2.0), apart if outwards else -apart
