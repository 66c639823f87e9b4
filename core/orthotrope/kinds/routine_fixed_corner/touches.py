"""No touch: the zero is set from the numbers."""

from collections.abc import Iterator, Sequence

from orthotrope.kinds.routine_fixed_corner.model import FixedCorner
from orthotrope.sequence.probing.formulas import FormulaBackend
from orthotrope.sequence.probing.registry import PLANS, Aim, Found, Plan, Tip, Touched
from orthotrope.sequence.probing.writing import Probing
from orthotrope.sequence.steps import AxisName, Move, Say, SetOffset, Step, Stop
from orthotrope.sequence.values import Number, length


class FixedCornerPlan(Plan[FixedCorner]):
    def aims(self, routine: FixedCorner, tip: Tip) -> Sequence[Aim]:
        return []

    def found(self, routine: FixedCorner, touched: Sequence[Touched], sums: FormulaBackend) -> Found:
        return {}

    def steps(self, routine: FixedCorner, p: Probing) -> Iterator[Step]:
        """Up, over the corner, its zero set; the height is said to be missing."""
        yield from p.stand(touches=False)
        yield p.top
        yield Move((("X", length(routine.x)), ("Y", length(routine.y))), note="over the corner")
        zero: tuple[tuple[AxisName, Number], ...] = (
            ("X", length(routine.x - routine.readout_x)),
            ("Y", length(routine.y - routine.readout_y)),
        )
        if routine.work_offset is not None and p.wanted.profile.offset_word == "G10 L2":
            yield SetOffset(routine.work_offset, zero, note="the zero, as it was found once")
        elif routine.work_offset is not None:
            said = ", ".join(f"{axis} {p.said(value.value)}" for axis, value in zero)
            yield Say(f"Enter on the card for work offset {routine.work_offset}: {said}")
        if p.asks:
            yield p.modes()
        yield Say("X and Y are set as they were. The height is still to be touched")
        yield Stop("pause")
        yield Stop("end")
        if p.asks:
            yield from p.refusals()


PLANS.add("fixed corner", FixedCornerPlan())
