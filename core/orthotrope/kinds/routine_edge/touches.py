"""One touch from outside, below the upper face."""

from collections.abc import Sequence

from orthotrope.kinds.routine_edge.model import EdgeRoutine
from orthotrope.sequence.probing.formulas import FormulaBackend
from orthotrope.sequence.probing.registry import PLANS, Aim, Found, Plan, Tip, Touched
from orthotrope.setup.routines import WAYS


class EdgePlan(Plan[EdgeRoutine]):
    def aims(self, routine: EdgeRoutine, tip: Tip) -> Sequence[Aim]:
        way = WAYS[routine.way]
        away = routine.before + tip.reach(way)
        return [Aim("the edge", (-way[0] * away, -way[1] * away, -routine.depth), way, routine.before)]

    def found(self, routine: EdgeRoutine, touched: Sequence[Touched], sums: FormulaBackend) -> Found:
        axis = routine.axes[0]
        return {axis: touched[0].surface * WAYS[routine.way]["xyz".index(axis)]}


PLANS.add("edge", EdgePlan())
