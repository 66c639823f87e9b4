"""The plane height of a setter from touches of a reference tool, and tool lengths that rest on it, with what they are
uncertain by (JCGM 100)."""

import math
import statistics
from dataclasses import dataclass

from orthotrope.calc.metrology import (
    Distribution,
    Share,
    UncertaintyBudgetInput,
    UncertaintyBudgetOutput,
    UncertaintyTerm,
    uncertainty_budget,
)
from orthotrope.calc.unmeasured import home_scatter
from orthotrope.errors import InputError
from orthotrope.setup import Setup
from orthotrope.setup.setters import Setter
from orthotrope.units import with_unit

CONFIDENCE = 0.95
OUTLIER = 3.5
"""A touch whose modified z score is above this stands out (Iglewicz and Hoaglin: 0.6745·|x − median| / MAD)."""

SCALE = 50e-6
"""Of a length difference: what a screw's scale is taken to be off at the most, where it was not measured."""


@dataclass(frozen=True, slots=True)
class Calibration:
    """A plane height, mm: ``value``, its half width at 95 %, its shares; ``scatter``: the standard deviation of one
    touch, from ``touches``; ``spread`` between them; ``outlier``: the place of the one that stands out, None: none; ``refused``: why
    it is no plane height, "": it is one."""

    value: float
    half_width_95: float
    scatter: float
    touches: int
    spread: float
    outlier: int | None
    shares: tuple[Share, ...]
    refused: str = ""


def _term(name: str, value: float, distribution: Distribution = "normal", dof: float | None = None) -> UncertaintyTerm:
    return UncertaintyTerm(name=name, value=value, distribution=distribution, dof=dof)


def _budget(*terms: UncertaintyTerm) -> UncertaintyBudgetOutput:
    return uncertainty_budget(UncertaintyBudgetInput(confidence=CONFIDENCE, terms=list(terms)))


def outlier_of(values: list[float]) -> int | None:
    """The place of the one value that stands out from the others, by its modified z score; None: none does."""
    if len(values) < 4:
        return None
    middle = statistics.median(values)
    away = [abs(value - middle) for value in values]
    spread = statistics.median(away)
    worst = max(range(len(values)), key=lambda place: away[place])
    stands_out = away[worst] > 0 if spread == 0 else 0.6745 * away[worst] / spread > OUTLIER
    return worst if stands_out else None


def calibrated(
    triggers: list[float],
    reference_length: float,
    reference_u: float,
    resolution: float,
    jitter: float = 0.0,
    growth: float = 0.0,
    home: float = 0.0,
    apart: float = math.inf,
) -> Calibration:
    """The plane height from machine Z of the gauge line at ``triggers`` of a reference tool: their mean less its length.

    ``reference_u``: its standard uncertainty; ``resolution`` of the axis, ``jitter``: what the latch may be late by and
    does not repeat (v·T of a polled input), ``growth`` of the machine as it warms up; whole widths, mm. ``home``: what homing
    scatters by (two standard deviations) where it is not in the touches, since all were made after the same homing. ``apart``: by
    how much they may differ; beyond it something else was measured, or something is loose.

    Raises:
        InputError: with fewer than two touches.
    """
    if len(triggers) < 2:
        raise InputError.at("/touches", "One touch gives no scatter; at least two are needed.")
    scatter, count = statistics.stdev(triggers), len(triggers)
    found = _budget(
        _term("scatter of the touches", scatter / math.sqrt(count), dof=count - 1),
        _term("reference length", reference_u),
        _term("resolution", resolution / 2, "rectangular"),
        _term("polling of the input", jitter / 2, "rectangular"),
        _term("growth as it warms up", growth / 2, "rectangular"),
        _term("homing, done once only", home / 2),
    )
    spread, refused = max(triggers) - min(triggers), ""
    if spread > apart:
        refused = (
            f"The runs are {with_unit(spread)} apart, and {with_unit(apart)} is allowed (the greatest spread of the setter, and what homing "
            "between them scatters by). Leave out the one that is off, or find out what is loose."
        )
    return Calibration(
        statistics.fmean(triggers) - reference_length,
        found.expanded,
        scatter,
        count,
        spread,
        outlier_of(triggers),
        tuple(share for share in found.shares if share.share > 0),
        refused,
    )


@dataclass(frozen=True, slots=True)
class Measured:
    """A length, mm, and its half width at 95 %, with the shares of it."""

    value: float
    half_width_95: float
    shares: tuple[Share, ...]


def length_measured(
    trigger: float, plane: Calibration, reference_length: float, reference_u: float, resolution: float
) -> Measured:
    """A tool's length: its trigger less the plane. It scatters as the plane's touches did, once for itself and once by
    their number for the plane; a screw's scale comes with the difference from the reference's length."""
    value = trigger - plane.value
    found = _budget(
        _term(
            "scatter of this touch and of the plane's",
            plane.scatter * math.sqrt(1 + 1 / plane.touches),
            dof=plane.touches - 1,
        ),
        _term("reference length", reference_u),
        _term("resolution", resolution / 2, "rectangular"),
        _term("scale of the screw", SCALE * abs(value - reference_length), "rectangular"),
    )
    return Measured(value, found.expanded, tuple(share for share in found.shares if share.share > 0))


@dataclass(frozen=True, slots=True)
class LengthDoubt:
    """The half width at 95 % of a length that a control has measured, mm, and what of it was ``assumed`` since it was not measured,
    in words."""

    half_width_95: float
    assumed: tuple[str, ...]


PLANE_TYPED = 0.05
"""mm; half width that a plane height is given which has no reading with one: read off by eye or taken from a drawing."""


def length_doubt(setup: Setup, setter: Setter, length: float, plane_half: float | None) -> LengthDoubt:
    """What a length measured at a setter is uncertain by: the scatter of its touches, the plane's half width (None: it is not known),
    the homing that it was measured after, the steps of the axis, polling, the scale of the screw."""
    axis, assumed = setup.machine.axes.upright, []
    home = home_scatter(axis)
    if plane_half is None:
        assumed.append(f"the plane height is typed: ± {with_unit(PLANE_TYPED)}")
    if axis.home_scatter is None:
        assumed.append(f"the scatter of home is not measured: {with_unit(home)}")
    scatter, steps = setter.repeatability / 2 / math.sqrt(setter.touches), axis.resolution / 2
    reference = next((tool.whole_length for tool in setup.tools if tool.type == "reference tool"), 0.0)
    found = _budget(
        _term("scatter of the touches", scatter),
        _term("plane height", (PLANE_TYPED if plane_half is None else plane_half) / 2),
        _term("homing", home / 2),
        _term("resolution", steps, "rectangular"),
        _term("polling of the input", setter.measure_feed / 60 * setter.polling / 2, "rectangular"),
        _term("scale of the screw", SCALE * abs(length - reference), "rectangular"),
    )
    return LengthDoubt(found.expanded, tuple(assumed))


@dataclass(frozen=True, slots=True)
class BlockCheck:
    """What a block of known height says: the ``error`` of the length (positive: it is recorded too short), the plane that
    would be right, its half width at 95 %, and whether the error is more than that explains."""

    error: float
    true_length: float
    true_plane_z: float
    half_width_95: float
    matters: bool
    says: str


@dataclass(frozen=True, slots=True)
class BlockDoubt:
    """What a block check is uncertain by: the ``scatter`` of a touch on the setter (a standard deviation), known from so
    many ``touches`` (None: it is known well); ``feel``: the standard uncertainty of resting the tool on the block, and
    of setting the zero, each; ``reference_u`` of the length of the tool that set the zero; mm."""

    scatter: float
    touches: int | None
    feel: float
    reference_u: float


def block_checked(length: float, plane_z: float, block_height: float, reading: float, doubt: BlockDoubt) -> BlockCheck:
    """The check of a plane height with a tool that rests on a block, on a zero that another tool set (setter-block-check
    in calculations.md); mm."""
    error = reading - block_height
    found = _budget(
        _term("scatter of the touch", doubt.scatter, dof=None if doubt.touches is None else max(1, doubt.touches - 1)),
        _term("resting the tool on the block", doubt.feel),
        _term("setting the zero", doubt.feel),
        _term("reference length", doubt.reference_u),
    )
    matters = abs(error) > found.expanded
    way = "shorter" if error > 0 else "longer"
    says = (
        f"The length is recorded {with_unit(abs(error))} {way} than it is: the plane height is off by as much, and so is "
        "every length that was measured with it."
        if matters
        else f"{with_unit(abs(error))} off is within what the check itself is uncertain by, {with_unit(found.expanded)}."
    )
    return BlockCheck(error, length + error, plane_z - error, found.expanded, matters, says)
