"""The middle of the boss first, then its wall round the clock."""

from collections.abc import Iterator, Sequence

from orthotrope.kinds.routine_boss.model import Boss
from orthotrope.sequence.probing.formulas import FormulaBackend
from orthotrope.sequence.probing.registry import PLANS, Aim, Found, Plan, Tip, Touched
from orthotrope.sequence.probing.rounds import Feature, round_aims, round_found, round_steps
from orthotrope.sequence.probing.writing import Probing
from orthotrope.sequence.steps import Step


def feature(routine: Boss) -> Feature:
    """The boss as it is expected."""
    return Feature(False, routine.diameter, routine.depth, routine.before)


class BossPlan(Plan[Boss]):
    def aims(self, routine: Boss, tip: Tip) -> Sequence[Aim]:
        return round_aims(feature(routine), tip, routine.touches, routine.first_deg)

    def found(self, routine: Boss, touched: Sequence[Touched], sums: FormulaBackend) -> Found:
        return round_found(touched, False)

    def expected(self, routine: Boss) -> dict[str, float]:
        return {"diameter": routine.diameter}

    def steps(self, routine: Boss, p: Probing) -> Iterator[Step]:
        return round_steps(feature(routine), p, routine.touches, routine.first_deg)


PLANS.add("boss", BossPlan())
