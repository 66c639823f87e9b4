"""Touches along an edge, all the same way."""

from collections.abc import Sequence

from orthotrope.kinds.routine_angle.model import EdgeAngle
from orthotrope.sequence.probing.formulas import FormulaBackend, Scalar
from orthotrope.sequence.probing.lines import line_through
from orthotrope.sequence.probing.registry import PLANS, Aim, Found, Plan, Tip, Touched
from orthotrope.setup.routines import WAYS


class AnglePlan(Plan[EdgeAngle]):
    def aims(self, routine: EdgeAngle, tip: Tip) -> Sequence[Aim]:
        way, found = WAYS[routine.way], []
        away = routine.before + tip.reach(way)
        for index in range(routine.touches):
            along = routine.span * (index / (routine.touches - 1) - 0.5)
            x = -way[0] * away if way[0] else along
            y = -way[1] * away if way[1] else along
            found.append(Aim(f"the edge, {index + 1}", (x, y, -routine.depth), way, routine.before, level=index > 0))
        return found

    def found(self, routine: EdgeAngle, touched: Sequence[Touched], sums: FormulaBackend) -> Found:
        way = WAYS[routine.way]
        line = line_through(touched, sums)
        place: Scalar = line.at_place * (way[0] + way[1])
        return {routine.axes[0]: place, "turn": line.turn}


PLANS.add("angle", AnglePlan())
