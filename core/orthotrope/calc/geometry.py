"""Points and least-squares lines in the plane, shared by the calculations."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from orthotrope.calc.points import Point
from orthotrope.errors import InputError

Points = NDArray[np.float64]

INDISTINCT = 1e-9
"""Spreads smaller than this part of the points' own size count as none (the rounding of double precision)."""


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
