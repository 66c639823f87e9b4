"""Places and directions in the plane."""

import math

from orthotrope.validation import Length, Record


class Point(Record):
    """A place in the plane, machine or part coordinates, mm."""

    x: Length
    y: Length


def unit_vector(bearing_deg: float) -> tuple[float, float]:
    """Cosine and sine of a bearing, exact at multiples of 90°."""
    quarter, rest = divmod(bearing_deg, 90.0)
    if rest == 0:
        return [(1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0)][int(quarter) % 4]
    angle = math.radians(bearing_deg)
    return math.cos(angle), math.sin(angle)
