"""Points and least-squares lines in the plane, shared by the calculations."""

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from orthotrope.errors import InputError
from orthotrope.validation import Length, Record

Points = NDArray[np.float64]

INDISTINCT = 1e-9
"""Spreads smaller than this part of the points' own size count as none (the rounding of double precision)."""


class Point(Record):
    """A place in the plane, machine or part coordinates, mm."""

    x: Length
    y: Length


def as_array(points: Sequence[Point]) -> Points:
    """An (n, 2) array of the points, mm."""
    return np.array([(point.x, point.y) for point in points], dtype=float)


def spread(points: Points) -> tuple[Points, Points, Points, float]:
    """Centre, singular values and directions (rows, largest first) of points, and their own size."""
    centre = points.mean(axis=0)
    _, values, directions = np.linalg.svd(points - centre, full_matrices=False)
    return centre, values, directions, float(np.abs(points).max()) + 1e-12


def best_line(points: Points, where: str) -> tuple[Points, Points]:
    """Total least squares line through 2 or more points: a point on it (their mean) and its unit direction.

    Raises:
        InputError: at ``where``, if the points are all the same or have no main direction.
    """
    centre, values, directions, size = spread(points)
    if values[0] <= INDISTINCT * size:
        raise InputError.at(where, "The points are all the same; a line needs two different ones.")
    if len(values) > 1 and values[0] - values[1] <= INDISTINCT * values[0]:
        raise InputError.at(where, "The points have no main direction; no line is the best one.")
    return centre, directions[0]


def unit_vector(bearing_deg: float) -> tuple[float, float]:
    """Cosine and sine of a bearing, exact at multiples of 90°."""
    quarter, rest = divmod(bearing_deg, 90.0)
    if rest == 0:
        return [(1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0)][int(quarter) % 4]
    angle = math.radians(bearing_deg)
    return math.cos(angle), math.sin(angle)
