"""All four walls from the middle."""

from collections.abc import Sequence

from orthotrope.kinds.routine_pocket.model import RectangularPocket
from orthotrope.sequence.probing.formulas import FormulaBackend
from orthotrope.sequence.probing.registry import PLANS, Aim, Found, Plan, Tip, Touched
from orthotrope.sequence.probing.spans import between, middle
from orthotrope.units import with_unit


class RectangularPocketPlan(Plan[RectangularPocket]):
    def aims(self, routine: RectangularPocket, tip: Tip) -> Sequence[Aim]:
        return [
            *between("x", routine.size_x, routine.depth, tip),
            *between("y", routine.size_y, routine.depth, tip, first=False),
        ]

    def found(self, routine: RectangularPocket, touched: Sequence[Touched], sums: FormulaBackend) -> Found:
        (x, size_x), (y, size_y) = middle(touched[:2]), middle(touched[2:])
        return {"x": x, "y": y, "size_x": size_x, "size_y": size_y}

    def expected(self, routine: RectangularPocket) -> dict[str, float]:
        return {"size_x": routine.size_x, "size_y": routine.size_y}

    def fits(self, routine: RectangularPocket, tip: Tip) -> str:
        least = min(routine.size_x, routine.size_y)
        too_wide = f"its tip of {with_unit(2 * tip.widest)} does not go into {with_unit(least)}."
        return too_wide if least <= 2 * tip.widest else ""


PLANS.add("rectangular pocket", RectangularPocketPlan())
