"""What qualifying a probe comes to: its effective diameter with its form round the clock, where its tip stands off the axis, and
its length; each with what it is uncertain by (JCGM 100)."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from orthotrope.calc.metrology import (
    RepeatabilityInput,
    Share,
    UncertaintyBudgetInput,
    UncertaintyTerm,
    repeatability,
    uncertainty_budget,
)
from orthotrope.calc.points import Point
from orthotrope.calc.probes import lobes
from orthotrope.calc.probing import (
    CircleFitInput,
    StylusQualifyInput,
    StylusRunoutInput,
    circle_fit,
    stylus_qualify,
    stylus_runout,
)
from orthotrope.errors import InputError
from orthotrope.sequence.probing.summing import Place
from orthotrope.setup import Setup
from orthotrope.setup.probes import Artefact, Probe


@dataclass(frozen=True, slots=True)
class QualifiedDiameter:
    """``effective_diameter`` with its half width at 95 % and the shares of it; ``form_error``: by how much the radius differs round
    the clock; ``lobes``: the angle of each touch, degrees, and how much further out than the mean it was; where the middle
    of the artefact was found; mm."""

    effective_diameter: float
    half_width_95: float
    shares: tuple[Share, ...]
    form_error: float
    lobes: tuple[tuple[float, float], ...]
    x: float
    y: float


@dataclass(frozen=True, slots=True)
class QualifiedLength:
    """``length`` with its half width at 95 %, and the ``scatter`` of one touch (a standard deviation), mm."""

    length: float
    half_width_95: float
    scatter: float


@dataclass(frozen=True, slots=True)
class OffCentre:
    """Where the tip stands off the spindle's axis, the half width of each at 95 %, mm; ``angle_deg``: of the spindle, at which that
    holds: the one that the changer's exchanges orient it to, 0 where nothing orients it."""

    x: float
    y: float
    runout: float
    half_width_95: float
    angle_deg: float


def _artefact(probe: Probe) -> Artefact:
    if probe.artefact is None:
        raise InputError.at(
            "/artefact", f"{probe.name} has nothing yet that it is qualified on; enter a ring, plug or ball."
        )
    return probe.artefact


def _points(places: Sequence[Place]) -> list[Point]:
    return [Point(x=x, y=y) for x, y, _ in places]


def diameter_from(setup: Setup, probe: Probe, places: Sequence[Place]) -> QualifiedDiameter:
    """From where the touches round the clock were latched (gauge line, machine coordinates, mm).

    Raises:
        InputError: with fewer than four, or where they don't belong to the artefact.
    """
    artefact, points = _artefact(probe), _points(places)
    if len(points) < 4:
        raise InputError.at("/places", f"At least four touches round the clock are needed; got {len(points)}.")
    kind = "sphere" if artefact.kind == "ball" else artefact.kind
    found = stylus_qualify(StylusQualifyInput(artefact=kind, diameter=artefact.diameter, points=points))
    fit = circle_fit(CircleFitInput(points=points))
    budget = uncertainty_budget(
        UncertaintyBudgetInput(
            confidence=0.95,
            terms=[
                _of_touches(setup, fit.radius_u or 0.0, len(points), 2.0),
                UncertaintyTerm(name=artefact.kind, value=artefact.diameter_uncertainty / 2, distribution="normal"),
            ],
        )
    )
    around = lobes([(point.x, point.y) for point in points], fit.centre.x, fit.centre.y, fit.radius)
    return QualifiedDiameter(
        found.effective_diameter,
        budget.expanded,
        tuple(share for share in budget.shares if share.share > 0),
        found.form_error,
        tuple(around),
        found.centre.x,
        found.centre.y,
    )


def _of_touches(setup: Setup, radius_u: float, count: int, sensitivity: float) -> UncertaintyTerm:
    """What a circle through so many touches is uncertain by: their form and scatter, which have the steps of the axes in them,
    or those where they are larger."""
    steps = max(axis.resolution for axis in setup.machine.axes.across) / 2 / math.sqrt(count)
    if steps / math.sqrt(3) > radius_u:
        return UncertaintyTerm(name="resolution", value=steps, distribution="rectangular", sensitivity=sensitivity)
    return UncertaintyTerm(
        name="form and scatter of the touches",
        value=radius_u,
        distribution="normal",
        sensitivity=sensitivity,
        dof=count - 3,
    )


def off_centre_from(setup: Setup, probe: Probe, at_0: Sequence[Place], at_180: Sequence[Place]) -> OffCentre:
    """From the same touches with the spindle as it is set, and half a turn further (stylus-runout in calculations.md).

    Raises:
        InputError: as :func:`diameter_from` does; for the same touches twice, which would tell that it stands on the axis.
    """
    if list(at_0) == list(at_180):
        raise InputError.at(
            "/turned", "These are the touches before the half turn; turn the spindle and run the program once more."
        )
    one, other = diameter_from(setup, probe, at_0), diameter_from(setup, probe, at_180)
    found = stylus_runout(StylusRunoutInput(at_0=Point(x=one.x, y=one.y), at_180=Point(x=other.x, y=other.y)))
    # A middle is as uncertain as a radius times the square root of two; of the difference of two middles half is left.
    radius_u = circle_fit(CircleFitInput(points=_points(at_0))).radius_u or 0.0
    terms = [_of_touches(setup, radius_u, len(at_0), 1.0)]
    half = uncertainty_budget(UncertaintyBudgetInput(confidence=0.95, terms=terms)).expanded
    orientation = getattr(setup.changer, "orientation", None)
    return OffCentre(found.dx, found.dy, found.runout, half, orientation.angle_deg if orientation else 0.0)


def length_from(setup: Setup, probe: Probe, heights: Sequence[float]) -> QualifiedLength:
    """From machine Z of the gauge line at repeated touches of the reference face.

    Raises:
        InputError: with fewer than two, or where there is no reference face.
    """
    artefact = _artefact(probe)
    if artefact.face_z is None:
        raise InputError.at("/artefact/face_z", f"{probe.name} has no reference face; enter its height.")
    if len(heights) < 2:
        raise InputError.at("/heights", "One touch gives no scatter; at least two are needed.")
    found = repeatability(RepeatabilityInput(readings=list(heights)))
    resolution = setup.machine.axes.upright.resolution / 2
    touched = max(found.uncertainty95, 2 * resolution / math.sqrt(3))  # the readings have the steps of the axis in them
    half = math.hypot(touched, artefact.face_uncertainty)
    return QualifiedLength(found.mean - artefact.face_z, half, found.std)
