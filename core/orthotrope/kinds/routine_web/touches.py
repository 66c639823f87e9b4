"""Both faces from outside."""

from collections.abc import Sequence

from orthotrope.kinds.routine_web.model import Web
from orthotrope.sequence.probing.formulas import FormulaBackend
from orthotrope.sequence.probing.registry import PLANS, Aim, Found, Plan, Tip, Touched
from orthotrope.sequence.probing.spans import around, middle


class WebPlan(Plan[Web]):
    def aims(self, routine: Web, tip: Tip) -> Sequence[Aim]:
        return around(routine.across, routine.width, routine.depth, routine.before, tip)

    def found(self, routine: Web, touched: Sequence[Touched], sums: FormulaBackend) -> Found:
        place, width = middle(touched)
        return {routine.across: place, "width": width}

    def expected(self, routine: Web) -> dict[str, float]:
        return {"width": routine.width}


PLANS.add("web", WebPlan())
