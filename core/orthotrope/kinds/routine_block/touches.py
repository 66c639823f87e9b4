"""All four faces from outside."""

from collections.abc import Sequence

from orthotrope.kinds.routine_block.model import RectangularBlock
from orthotrope.sequence.probing.formulas import FormulaBackend
from orthotrope.sequence.probing.registry import PLANS, Aim, Found, Plan, Tip, Touched
from orthotrope.sequence.probing.spans import around, middle


class RectangularBlockPlan(Plan[RectangularBlock]):
    def aims(self, routine: RectangularBlock, tip: Tip) -> Sequence[Aim]:
        return [
            *around("x", routine.size_x, routine.depth, routine.before, tip),
            *around("y", routine.size_y, routine.depth, routine.before, tip),
        ]

    def found(self, routine: RectangularBlock, touched: Sequence[Touched], sums: FormulaBackend) -> Found:
        (x, size_x), (y, size_y) = middle(touched[:2]), middle(touched[2:])
        return {"x": x, "y": y, "size_x": size_x, "size_y": size_y}

    def expected(self, routine: RectangularBlock) -> dict[str, float]:
        return {"size_x": routine.size_x, "size_y": routine.size_y}


PLANS.add("rectangular block", RectangularBlockPlan())
