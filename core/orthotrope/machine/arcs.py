"""The words of an arc → the arc (NISTIR 6556, 3.5.3)."""

import math
from collections.abc import Mapping

from orthotrope.machine.motion import Arc, Vector
from orthotrope.program.faults import RunFault
from orthotrope.units import MM_PER_INCH, with_unit

PLANES = {17: ((0, 1, 2), "IJ"), 18: ((2, 0, 1), "KI"), 19: ((1, 2, 0), "JK")}
"""Plane → its two axes and the upright one, and the letters of its centre."""

REACH_MM, REACH_INCH = 0.002, 0.0002 * MM_PER_INCH
"""mm; how much the radius may differ between both ends of an arc (NISTIR 6556, 3.5.3.2)."""


def arc_between(
    start: Vector, end: Vector, clockwise: bool, plane: int, words: Mapping[str, float], scale: float
) -> Arc:
    """The arc from ``start`` to ``end`` (machine mm) in a plane (17, 18, 19); ``words`` hold R or the centre's offsets
    in units of ``scale`` mm. An end at the start is a whole turn.

    Raises:
        RunFault: where centre or radius is missing, or the arc can't reach its end.
    """
    axes, letters = PLANES[plane]
    sx, sy, ex, ey = start[axes[0]], start[axes[1]], end[axes[0]], end[axes[1]]
    reach = REACH_MM if scale == 1 else REACH_INCH
    if "R" in words:
        cx, cy = _by_radius(sx, sy, ex, ey, words["R"] * scale, clockwise, reach)
    elif letters[0] in words or letters[1] in words:
        cx, cy = sx + words.get(letters[0], 0.0) * scale, sy + words.get(letters[1], 0.0) * scale
    else:
        raise RunFault(f"An arc wants {letters[0]} and {letters[1]}, or R.")
    radius, other = math.hypot(sx - cx, sy - cy), math.hypot(ex - cx, ey - cy)
    if abs(radius - other) > reach or radius < 1e-9:
        raise RunFault(
            f"The arc can't reach its end: its radius is {with_unit(radius)} at the start and {with_unit(other)} at "
            "the end."
        )
    first, last = math.atan2(sy - cy, sx - cx), math.atan2(ey - cy, ex - cx)
    sweep = (first - last) % math.tau if clockwise else (last - first) % math.tau
    if sweep < 1e-9:
        sweep = math.tau
    return Arc(axes, (cx, cy), radius, first, -sweep if clockwise else sweep, end[axes[2]] - start[axes[2]])


def _by_radius(
    sx: float, sy: float, ex: float, ey: float, radius: float, clockwise: bool, reach: float
) -> tuple[float, float]:
    """The centre; a negative radius takes the longer way round."""
    chord = math.hypot(ex - sx, ey - sy)
    if chord < 1e-9:
        raise RunFault("An arc with R needs an end that is not its start.")
    under = radius * radius - chord * chord / 4
    if under < -reach * abs(radius):
        raise RunFault(
            f"The arc can't reach its end: R is {with_unit(abs(radius))}, and half the way is {with_unit(chord / 2)}."
        )
    away = math.sqrt(max(0.0, under)) / chord
    side = -1.0 if clockwise == (radius > 0) else 1.0
    return (sx + ex) / 2 - side * away * (ey - sy), (sy + ey) / 2 + side * away * (ex - sx)
