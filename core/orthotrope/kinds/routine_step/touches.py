"""Both faces from above."""

from collections.abc import Sequence

from orthotrope.kinds.routine_step.model import StepHeight
from orthotrope.sequence.probing.formulas import FormulaBackend
from orthotrope.sequence.probing.registry import PLANS, Aim, Found, Plan, Tip, Touched

DOWN = (0.0, 0.0, -1.0)


class StepPlan(Plan[StepHeight]):
    def aims(self, routine: StepHeight, tip: Tip) -> Sequence[Aim]:
        above = routine.before + tip.reach(DOWN)
        return [
            Aim("the upper face", (0.0, 0.0, above), DOWN, routine.before),
            Aim("the lower face", (routine.to_x, routine.to_y, above - routine.height), DOWN, routine.before),
        ]

    def found(self, routine: StepHeight, touched: Sequence[Touched], sums: FormulaBackend) -> Found:
        upper, lower = touched
        return {"z": -upper.surface, "height": lower.surface - upper.surface}

    def expected(self, routine: StepHeight) -> dict[str, float]:
        return {"height": routine.height}


PLANS.add("step height", StepPlan())
