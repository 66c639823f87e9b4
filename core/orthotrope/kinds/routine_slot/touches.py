"""Both walls from the middle."""

from collections.abc import Sequence

from orthotrope.kinds.routine_slot.model import Slot
from orthotrope.sequence.probing.formulas import FormulaBackend
from orthotrope.sequence.probing.registry import PLANS, Aim, Found, Plan, Tip, Touched
from orthotrope.sequence.probing.spans import between, middle
from orthotrope.units import with_unit


class SlotPlan(Plan[Slot]):
    def aims(self, routine: Slot, tip: Tip) -> Sequence[Aim]:
        return between(routine.across, routine.width, routine.depth, tip)

    def found(self, routine: Slot, touched: Sequence[Touched], sums: FormulaBackend) -> Found:
        place, width = middle(touched)
        return {routine.across: place, "width": width}

    def expected(self, routine: Slot) -> dict[str, float]:
        return {"width": routine.width}

    def fits(self, routine: Slot, tip: Tip) -> str:
        too_wide = f"its tip of {with_unit(2 * tip.widest)} does not go into {with_unit(routine.width)}."
        return too_wide if routine.width <= 2 * tip.widest else ""


PLANS.add("slot", SlotPlan())
