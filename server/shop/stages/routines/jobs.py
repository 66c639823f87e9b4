"""What a routine comes to, and what follows from its touches."""

from dataclasses import dataclass, replace
from typing import Any

from orthotrope.calc.metrology import Share
from orthotrope.formats.result_sheet import as_pdf
from orthotrope.program.writer import write
from orthotrope.proof.review import review
from orthotrope.proof.routines import case_of, prove_routine
from orthotrope.proof.sequences.registry import SequenceResult
from orthotrope.proof.text_fixes.trying import MOST_FIXED, TextFix, text_fixes
from orthotrope.sequence.probing import PLANS, summing, tip_of
from orthotrope.sequence.probing.qualifying import routine_named
from orthotrope.sequence.steps import Sequence, SetOffset
from orthotrope.sequence.values import length
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.routines import Routine
from orthotrope.units import shown_in

from shop.job import answers
from shop.stages.written import MOST_PLAYED

Place = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class FoundQuantity:
    """One thing that was found: ``value`` and what was ``expected`` (mm, or degrees), its half width at 95 % with the shares of it,
    how far it is ``off``, and whether it is as near as it has to be; ``moved``: how far from what was found the last time, None:
    there is no last time."""

    name: str
    unit: str
    value: float
    expected: float
    off: float
    half_width_95: float
    shares: tuple[Share, ...]
    allowed: float | None
    fits: bool
    moved: float | None


@dataclass(frozen=True, slots=True)
class TouchedAt:
    """A touch: where it was expected and how far along its way it was off that, mm; positive: further on."""

    name: str
    off: float


@dataclass(frozen=True, slots=True)
class Summed:
    """What a routine has found. ``zero``: machine coordinates of the zero by axis, mm; ``line``: what sets it at this control, "":
    it is keyed in; ``says``: why nothing is to be set, "": it is."""

    routine: str
    quantities: list[FoundQuantity]
    touches: list[TouchedAt]
    zero: dict[str, float]
    line: str
    says: str


@answers(SequenceResult)
def prove(document: dict[str, Any], routine: str, program: str | None) -> SequenceResult:
    """A routine as it should go, under every fault, from every caller, with the part otherwise."""
    setup = read_setup(document)
    with shown_in(setup.machine.unit):
        return prove_routine(setup, routine, None, program)


@answers(list[TextFix])
def fixes(document: dict[str, Any], routine: str, program: str) -> list[TextFix]:
    """What fixes what is said of a program that is to make a routine, each tried."""
    setup = read_setup(document)
    with shown_in(setup.machine.unit):
        case = case_of(setup, setup.profile, routine_named(setup, routine), program)
        case = replace(case, call=replace(case.call, most_moves=MOST_PLAYED), _runs={})
        if len(program) > MOST_FIXED or not case.program.readable or case.main.endless:
            return []
        return text_fixes(case, program, review(case))


@answers(Summed)
def summed(
    document: dict[str, Any], name: str, places: list[Place], stood: bool, last: dict[str, float] | None = None
) -> Summed:
    """What follows from the touches, beside what was found the ``last`` time. Where the machine stood is further on than where it was latched by the way of stopping,
    v²/(2a) (stopping-distance in calculations.md)."""
    setup = read_setup(document)
    routine = routine_named(setup, name)
    with shown_in(setup.machine.unit):
        latched = _taken_back(setup, routine, places) if stood else places
        found = summing.summed(setup, routine, latched)
        tip = tip_of(setup, routine)
        assert tip
        touches = [
            TouchedAt(aim.name, summing.off_along(routine, tip, aim, place))
            for aim, place in zip(PLANS[routine.kind].aims(routine, tip), latched, strict=True)
        ]
    quantities = [
        FoundQuantity(
            q.name,
            q.unit,
            q.value,
            q.expected,
            q.off,
            q.half_width_95,
            q.shares,
            q.allowed,
            q.fits,
            q.value - last[q.name] if last and q.name in last else None,
        )
        for q in found.quantities
    ]
    return Summed(found.routine, quantities, touches, found.zero, _line(setup, routine, found.zero), found.says)


def sheet(
    document: dict[str, Any], name: str, places: list[Place], stood: bool, last: dict[str, float], by: str
) -> bytes:
    """A result on paper."""
    setup = read_setup(document)
    routine, tip = routine_named(setup, name), tip_of(setup, routine_named(setup, name))
    latched = _taken_back(setup, routine, places) if stood else places
    with shown_in(setup.machine.unit):
        found = summing.summed(setup, routine, latched)
        assert tip
        aims = PLANS[routine.kind].aims(routine, tip)
        offs = [summing.off_along(routine, tip, aim, place) for aim, place in zip(aims, latched, strict=True)]
        return as_pdf(setup, routine, found, list(zip(aims, offs, strict=True)), last, by)


def _taken_back(setup: Setup, routine: Routine, places: list[Place]) -> list[Place]:
    tip = tip_of(setup, routine)
    aims = PLANS[routine.kind].aims(routine, tip) if tip else ()
    back = []
    for aim, place in zip(aims, places, strict=False):
        assert tip
        over = summing.overrun(setup, tip, aim)
        x, y, z = (at - way * over for at, way in zip(place, aim.way, strict=True))
        back.append((x, y, z))
    return back


def _line(setup: Setup, routine: Routine, zero: dict[str, float]) -> str:
    """The words that set the zero."""
    if not zero or routine.work_offset is None or setup.profile.offset_word != "G10 L2":
        return ""
    axes = tuple((axis.upper(), length(value)) for axis, value in zero.items())
    text = write(Sequence("zero", (SetOffset(routine.work_offset, axes),)), setup.profile)  # type: ignore[arg-type]
    return next(line for line in text.splitlines() if "G10" in line)
