"""A corner as the place where the lines of its two sides meet."""

from collections.abc import Sequence

from orthotrope.sequence.probing.formulas import FormulaBackend, Scalar
from orthotrope.sequence.probing.lines import line_through
from orthotrope.sequence.probing.registry import Aim, Found, Touched, Vector
from orthotrope.setup.routines import CornerRoutine


def sides(routine: CornerRoutine) -> tuple[list[float], list[float]]:
    """How far from the corner the sides are touched, along X and along Y, mm."""
    into_x, into_y = routine.inwards
    steps = [routine.away + routine.span * index for index in range(routine.touches)]
    return [into_x * step for step in steps], [into_y * step for step in steps]


def named(side: str, index: int, routine: CornerRoutine) -> str:
    """The name of a touch of a side."""
    return f"the {side} side, {index + 1}" if routine.touches > 1 else f"the {side} side"


def top_aim(routine: CornerRoutine, at: tuple[float, float], reach: float) -> Aim:
    """The touch of the upper face."""
    place: Vector = (at[0], at[1], routine.before + reach)
    return Aim("the upper face", place, (0.0, 0.0, -1.0), routine.before)


def corner_found(routine: CornerRoutine, touched: Sequence[Touched], sums: FormulaBackend) -> Found:
    """X and Y of the corner, Z of the upper face, and the turn: the mean of the two sides'."""
    along_x = [touch for touch in touched if touch.aim.way[0]]
    along_y = [touch for touch in touched if touch.aim.way[1]]
    way_x, way_y = along_x[0].aim.way[0], along_y[0].aim.way[1]
    found: Found = {}
    if routine.touches == 1:
        found["x"], found["y"] = along_x[0].surface * way_x, along_y[0].surface * way_y
    else:
        one, other = line_through(along_x, sums), line_through(along_y, sums)
        # x = x0 + a·y and y = y0 + b·x; a side's way has the sign of its line.
        x0, a = one.at_place * way_x, one.slope * way_x
        y0, b = other.at_place * way_y, other.slope * way_y
        x: Scalar = sums.let("result", (x0 + a * y0) / (1.0 - a * b))
        found["x"], found["y"] = x, y0 + b * x
        found["turn"] = (one.turn + other.turn) / 2.0
    for touch in touched:
        if touch.aim.way[2]:
            found["z"] = -touch.surface
    return found
