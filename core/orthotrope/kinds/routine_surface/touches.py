"""One touch, straight at the surface."""

from collections.abc import Sequence

from orthotrope.kinds.routine_surface.model import Surface
from orthotrope.sequence.probing.formulas import FormulaBackend
from orthotrope.sequence.probing.registry import PLANS, Aim, Found, Plan, Tip, Touched
from orthotrope.setup.routines import WAYS


class SurfacePlan(Plan[Surface]):
    def aims(self, routine: Surface, tip: Tip) -> Sequence[Aim]:
        way = WAYS[routine.way]
        away = routine.before + tip.reach(way)
        return [Aim("the surface", (-way[0] * away, -way[1] * away, -way[2] * away), way, routine.before)]

    def found(self, routine: Surface, touched: Sequence[Touched], sums: FormulaBackend) -> Found:
        axis = routine.axes[0]
        return {axis: touched[0].surface * WAYS[routine.way]["xyz".index(axis)]}


PLANS.add("surface", SurfacePlan())
