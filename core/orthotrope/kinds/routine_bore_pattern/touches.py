"""Each bore by four touches, and the pattern through their middles."""

from collections.abc import Iterator, Sequence

from orthotrope.kinds.routine_bore_pattern.model import BorePattern
from orthotrope.sequence.probing.formulas import FormulaBackend, Scalar, Term
from orthotrope.sequence.probing.registry import PLANS, Aim, Found, Plan, Tip, Touched
from orthotrope.sequence.probing.rounds import Feature, measured, round_aims, round_found
from orthotrope.sequence.probing.writing import Probing
from orthotrope.sequence.steps import Compute, Step
from orthotrope.units import with_unit

TOUCHES = 4
"""Of each bore."""


def features(routine: BorePattern) -> list[Feature]:
    """The bores as they are expected."""
    return [
        Feature(True, routine.diameter, routine.depth, routine.before, bore.x, bore.y, f"bore {number}, ")
        for number, bore in enumerate(routine.bores, 1)
    ]


def placed(routine: BorePattern, middles: Sequence[tuple[Scalar, Scalar]], sums: FormulaBackend) -> Found:
    """Place and turn of the pattern by least squares, from the middles found.

    With places p about their own middle, the turn is atan(Σ p×m / Σ p·m); their middle goes to that of what was found."""
    count = len(routine.bores)
    mid_x, mid_y = sum(b.x for b in routine.bores) / count, sum(b.y for b in routine.bores) / count
    widest = max(max(abs(b.x - mid_x), abs(b.y - mid_y)) for b in routine.bores)
    cross: Scalar = 0.0
    dot: Scalar = 0.0
    sum_x: Scalar = 0.0
    sum_y: Scalar = 0.0
    for bore, (x, y) in zip(routine.bores, middles, strict=True):
        part_x, part_y = (bore.x - mid_x) / widest, (bore.y - mid_y) / widest
        cross = cross + (y * part_x - x * part_y)
        dot = dot + (x * part_x + y * part_y)
        sum_x, sum_y = sum_x + x, sum_y + y
    turn = sums.let("turn along x", sums.atan(cross, dot))
    cos, sin, from_x, from_y = sums.cos(turn), sums.sin(turn), sums.mm(mid_x), sums.mm(mid_y)
    return {
        "x": sum_x / float(count) - (from_x * cos - from_y * sin),
        "y": sum_y / float(count) - (from_x * sin + from_y * cos),
        "turn": turn,
    }


class BorePatternPlan(Plan[BorePattern]):
    def aims(self, routine: BorePattern, tip: Tip) -> Sequence[Aim]:
        return [aim for feature in features(routine) for aim in round_aims(feature, tip, TOUCHES, 0.0)]

    def found(self, routine: BorePattern, touched: Sequence[Touched], sums: FormulaBackend) -> Found:
        groups = [touched[index : index + TOUCHES] for index in range(0, len(touched), TOUCHES)]
        circles = [round_found(group, True) for group in groups]
        return placed(routine, [(circle["x"], circle["y"]) for circle in circles], sums)

    def steps(self, routine: BorePattern, p: Probing) -> Iterator[Step]:
        kept, middles = ("first side", "second side"), []
        for index, feature in enumerate(features(routine)):
            yield from measured(feature, p, TOUCHES, 0.0, kept)
            names = f"touch {3 + 2 * index}", f"touch {4 + 2 * index}"
            for name, total in zip(names, kept, strict=True):
                yield Compute(p.use.number(name), (Term(p.use.value(total)) * 2.0 / float(TOUCHES)).value, "its middle")
            middles.append((Term(p.use.value(names[0])), Term(p.use.value(names[1]))))
        yield from p.keep(placed(routine, middles, p.sums))

    def fits(self, routine: BorePattern, tip: Tip) -> str:
        too_wide = f"its tip of {with_unit(2 * tip.widest)} does not go into {with_unit(routine.diameter)}."
        return too_wide if routine.diameter <= 2 * tip.widest else ""


PLANS.add("bore pattern", BorePatternPlan())
