"""The middle of the bore first, then its wall round the clock."""

from collections.abc import Iterator, Sequence

from orthotrope.kinds.routine_bore.model import Bore
from orthotrope.sequence.probing.formulas import FormulaBackend
from orthotrope.sequence.probing.registry import PLANS, Aim, Found, Plan, Tip, Touched
from orthotrope.sequence.probing.rounds import Feature, round_aims, round_found, round_steps
from orthotrope.sequence.probing.writing import Probing
from orthotrope.sequence.steps import Step
from orthotrope.units import with_unit


def feature(routine: Bore) -> Feature:
    """The bore as it is expected."""
    return Feature(True, routine.diameter, routine.depth, routine.before)


class BorePlan(Plan[Bore]):
    def aims(self, routine: Bore, tip: Tip) -> Sequence[Aim]:
        return round_aims(feature(routine), tip, routine.touches, routine.first_deg)

    def found(self, routine: Bore, touched: Sequence[Touched], sums: FormulaBackend) -> Found:
        return round_found(touched, True)

    def expected(self, routine: Bore) -> dict[str, float]:
        return {"diameter": routine.diameter}

    def steps(self, routine: Bore, p: Probing) -> Iterator[Step]:
        return round_steps(feature(routine), p, routine.touches, routine.first_deg)

    def fits(self, routine: Bore, tip: Tip) -> str:
        too_wide = f"its tip of {with_unit(2 * tip.widest)} does not go into {with_unit(routine.diameter)}."
        return too_wide if routine.diameter <= 2 * tip.widest else ""


PLANS.add("bore", BorePlan())
