"""Both sides from outside."""

from collections.abc import Sequence

from orthotrope.kinds.routine_outside_corner.model import OutsideCorner
from orthotrope.sequence.probing.corners import corner_found, named, sides, top_aim
from orthotrope.sequence.probing.formulas import FormulaBackend
from orthotrope.sequence.probing.registry import PLANS, Aim, Found, Plan, Tip, Touched


class OutsideCornerPlan(Plan[OutsideCorner]):
    def aims(self, routine: OutsideCorner, tip: Tip) -> Sequence[Aim]:
        into_x, into_y = routine.inwards
        xs, ys = sides(routine)
        way_x, way_y = (into_x, 0.0, 0.0), (0.0, into_y, 0.0)
        away_x, away_y = routine.before + tip.reach(way_x), routine.before + tip.reach(way_y)
        found = [top_aim(routine, (xs[0], ys[0]), tip.reach((0.0, 0.0, -1.0)))] if routine.top else []
        left, front = ("left" if into_x > 0 else "right"), ("front" if into_y > 0 else "back")
        found += [
            Aim(named(left, index, routine), (-into_x * away_x, y, -routine.depth), way_x, routine.before, index > 0)
            for index, y in enumerate(ys)
        ]
        found += [
            Aim(named(front, index, routine), (x, -into_y * away_y, -routine.depth), way_y, routine.before, index > 0)
            for index, x in enumerate(xs)
        ]
        return found

    def found(self, routine: OutsideCorner, touched: Sequence[Touched], sums: FormulaBackend) -> Found:
        return corner_found(routine, touched, sums)


PLANS.add("outside corner", OutsideCornerPlan())
