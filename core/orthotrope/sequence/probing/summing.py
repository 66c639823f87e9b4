"""What a routine finds, from where its touches were latched: the sum that a control does in its text, with what it is uncertain
by (JCGM 100)."""

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from orthotrope.calc.metrology import Distribution, Share, UncertaintyBudgetInput, UncertaintyTerm, uncertainty_budget
from orthotrope.calc.unmeasured import LENGTH_TYPED, LOBING, TIP_NOT_QUALIFIED, TIP_OFF_AXIS
from orthotrope.errors import InputError
from orthotrope.sequence.probing.formulas import EvaluatedFormulas, Scalar, Term
from orthotrope.sequence.probing.registry import PLANS, Aim, Tip, Touched, Vector, tip_of
from orthotrope.setup import Setup
from orthotrope.setup.routines import Routine
from orthotrope.units import with_unit

STEP = 0.01
"""mm; how far a touch is moved to see what it does to a result."""

Place = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Quantity:
    """One thing that was found: ``value`` and what was ``expected`` (mm, or degrees), its half width at 95 % and the shares of
    that; ``allowed``: how far off it may be either way, None: as far as it likes."""

    name: str
    unit: str
    value: float
    expected: float
    half_width_95: float
    shares: tuple[Share, ...]
    allowed: float | None = None

    @property
    def off(self) -> float:
        """How far it is off what was expected."""
        return self.value - self.expected

    @property
    def fits(self) -> bool:
        """Whether it is as near to what was expected as it has to be."""
        return self.allowed is None or abs(self.off) <= self.allowed


@dataclass(frozen=True, slots=True)
class Result:
    """What a routine has found. ``zero``: machine coordinates of the zero that follows, by axis, mm; ``says``: why it is not to
    be set, "": it is."""

    routine: str
    quantities: tuple[Quantity, ...]
    zero: dict[str, float]
    says: str

    def quantity(self, name: str) -> Quantity:
        """A quantity by its name."""
        return next(entry for entry in self.quantities if entry.name == name)


def along(routine: Routine, tip: Tip, aim: Aim, place: Place) -> Touched:
    """A touch, from machine coordinates of the gauge line where it was latched."""
    x = place[0] + tip.probe.off_x - routine.x
    y = place[1] + tip.probe.off_y - routine.y
    z = place[2] - tip.tool.whole_length - routine.z
    c = x * aim.way[0] + y * aim.way[1] + z * aim.way[2]
    return Touched(aim, c, tip.reach(aim.way), y * aim.way[0] - x * aim.way[1])


def off_along(routine: Routine, tip: Tip, aim: Aim, place: Place) -> float:
    """How much further along its way a touch was than it was expected, mm."""
    meets = sum(at * way for at, way in zip(aim.meets, aim.way, strict=True))
    return _number(along(routine, tip, aim, place).c) - meets


def overrun(setup: Setup, tip: Tip, aim: Aim) -> float:
    """How far a measuring touch goes on after the latch until the machine stands, mm: v²/(2a) of the slowest axis in its way."""
    axes = zip(aim.way, (axis for _, axis in setup.machine.axes.items()), strict=True)
    slows = min(axis.acceleration / abs(part) for part, axis in axes if abs(part) > 1e-9)
    return (tip.probe.measure_feed / 60) ** 2 / (2 * slows)


def summed(setup: Setup, routine: Routine, places: Sequence[Place]) -> Result:
    """What follows from where the touches were latched, in their order.

    Raises:
        InputError: where there are not as many as the routine makes.
    """
    tip = tip_of(setup, routine)
    if tip is None:
        raise InputError.at("/places", f"{routine.name} touches nothing; there is nothing to be worked out.")
    plan = PLANS[routine.kind]
    aims = plan.aims(routine, tip)
    if len(places) != len(aims):
        raise InputError.at("/places", f"`places` must be {len(aims)}, one for each touch; got {len(places)}.")
    touched = [along(routine, tip, aim, place) for aim, place in zip(aims, places, strict=True)]

    def worked(changed: Sequence[Touched]) -> dict[str, float]:
        return {name: _number(value) for name, value in plan.found(routine, changed, EvaluatedFormulas()).items()}

    found = worked(touched)
    slopes = [_slopes(worked, touched, index) for index in range(len(touched))]
    order = ("x", "y", "z", *routine.sizes, "turn")
    quantities = tuple(
        _quantity(setup, routine, tip, aims, name, found[name], slopes) for name in order if name in found
    )
    off = next((entry for entry in quantities if not entry.fits), None)
    says = ""
    if off:
        much = f"{off.off:+.3f}°" if off.unit == "°" else with_unit(abs(off.off))
        says = (
            f"{off.name} is off what is expected by {much}: nothing is set. Look at the part, or at what is expected."
        )
    return Result(routine.name, quantities, {} if says else zero_of(routine, found), says)


def _number(value: Scalar) -> float:
    assert not isinstance(value, Term)
    return float(value)


def _slopes(
    worked: Callable[[Sequence[Touched]], dict[str, float]], touched: list[Touched], index: int
) -> dict[str, float]:
    """What a touch that was latched 1 mm further along its way does to each result."""
    one, other = list(touched), list(touched)
    one[index] = replace(touched[index], c=_number(touched[index].c) + STEP)
    other[index] = replace(touched[index], c=_number(touched[index].c) - STEP)
    high, low = worked(one), worked(other)
    return {name: (high[name] - low[name]) / (2 * STEP) for name in high}


def _quantity(
    setup: Setup,
    routine: Routine,
    tip: Tip,
    aims: Sequence[Aim],
    name: str,
    value: float,
    slopes: list[dict[str, float]],
) -> Quantity:
    probe, machine = tip.probe, setup.machine
    own = [slope[name] for slope in slopes]
    each, together = math.sqrt(sum(slope * slope for slope in own)), abs(sum(own))
    # What a tip is late by towards a side is the same in all touches that go that way.
    ways: dict[Vector, float] = {}
    for aim, slope in zip(aims, own, strict=True):
        ways[aim.way] = ways.get(aim.way, 0.0) + slope
    by_way = math.sqrt(sum(slope * slope for slope in ways.values()))
    resolution = max(axis.resolution for _, axis in machine.axes.items())
    upright = name in ("z", "height")
    # What repeated touches scatter by has the steps of the axes in it already: the larger of both counts, not both.
    scatter, steps = probe.repeatability / 2 / math.sqrt(probe.touches), resolution / 2
    if steps / math.sqrt(3) > scatter:
        scatter = 0.0
    else:
        steps = 0.0
    # What stands off the axis moves every touch across alike: a place by all of it, a size not at all.
    moves = math.hypot(*(sum(slope * aim.way[axis] for aim, slope in zip(aims, own, strict=True)) for axis in (0, 1)))
    terms: list[tuple[str, float, Distribution]] = [
        ("scatter of the touches", scatter * each, "normal"),
        *_of_the_tip(tip, together, by_way, moves, upright),
        ("resolution", steps * each, "rectangular"),
        ("polling of the input", probe.measure_feed / 60 * probe.polling / 2 * each, "rectangular"),
    ]
    budget = uncertainty_budget(
        UncertaintyBudgetInput(
            confidence=0.95,
            terms=[
                UncertaintyTerm(name=term, value=size, distribution=distribution) for term, size, distribution in terms
            ],
        )
    )
    shares = tuple(share for share in budget.shares if share.share > 0)
    place = {"x": routine.x, "y": routine.y, "z": routine.z}
    if name in place:
        return Quantity(name, "mm", place[name] + value, place[name], budget.expanded, shares, routine.place_tolerance)
    if name == "turn":
        return Quantity(name, "°", value, 0.0, budget.expanded, shares, routine.turn_tolerance)
    expected = PLANS[routine.kind].expected(routine)[name]
    return Quantity(name, "mm", value, expected, budget.expanded, shares, routine.size_tolerance)


def _of_the_tip(
    tip: Tip, together: float, by_way: float, moves: float, upright: bool
) -> Iterator[tuple[str, float, Distribution]]:
    """What a result is uncertain by because of the tip; what was not measured of it counts with the size that the build allows. Of a
    plate the tool's own diameter counts."""
    probe = tip.probe
    if upright:
        known = probe.length_uncertainty > 0
        half = probe.length_uncertainty / 2 if known else LENGTH_TYPED
        name = "length of the probe" if known else "length of the probe, typed without its uncertainty"
        yield name, half * together, "normal" if known else "rectangular"
        return
    if probe.effective_diameter is None:
        yield "the tip is not qualified", TIP_NOT_QUALIFIED / 2 * together, "rectangular"
    else:
        yield "effective diameter", probe.effective_uncertainty / 4 * together, "normal"
    lobing = probe.lobing or (LOBING if probe.effective_diameter is None and probe.tells_itself else 0.0)
    yield "the tip round the clock", lobing / 2 * by_way, "rectangular"
    if probe.angle_deg is None:
        yield "the tip off the axis: no half turn set", TIP_OFF_AXIS * moves, "rectangular"
    else:
        yield "place of the tip", probe.repeatability / 2 * moves, "normal"


def zero_of(routine: Routine, found: dict[str, float]) -> dict[str, float]:
    """Machine coordinates of the zero that is to be set, by axis, from how far what was found is off its expected place, mm."""
    if routine.work_offset is None:
        return {}
    turn = math.radians(found["turn"]) if routine.sets_turn else 0.0
    x, y = routine.readout_x, routine.readout_y
    shown = {
        "x": x * math.cos(turn) - y * math.sin(turn),
        "y": x * math.sin(turn) + y * math.cos(turn),
        "z": routine.readout_z,
    }
    place = {"x": routine.x, "y": routine.y, "z": routine.z}
    return {axis: place[axis] + found[axis] - shown[axis] for axis in routine.axes}
