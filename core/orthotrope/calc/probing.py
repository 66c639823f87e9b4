"""Touches: surfaces, spans, angles, corners, circles, styli, a rotary table's centre."""

import math
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import BeforeValidator, Field

from orthotrope.calc.geometry import INDISTINCT, Points, as_array, best_line, spread
from orthotrope.calc.pocket_fits import known_angle_circle
from orthotrope.calc.pockets import Sense
from orthotrope.calc.points import Point
from orthotrope.calc.registry import Result, calculation
from orthotrope.errors import InputError
from orthotrope.validation import Angle, Distance, Length, PositiveLength, Record

PointList = Annotated[list[Point], Field(max_length=100_000)]
Points1 = Annotated[PointList, Field(min_length=1)]
Points2 = Annotated[PointList, Field(min_length=2)]
Points3 = Annotated[PointList, Field(min_length=3)]


def _no_truth(value: object) -> object:
    """True is no 1 here."""
    return str(value).lower() if isinstance(value, bool) else value


class EdgeSurfaceInput(Record):
    latched: Length
    direction: Annotated[Literal[1, -1], BeforeValidator(_no_truth)]
    effective_diameter: Distance


class EdgeSurfaceOutput(Result):
    surface: Length


@calculation("edge-surface", "a surface from one latched touch")
def edge_surface(data: EdgeSurfaceInput) -> EdgeSurfaceOutput:
    """Latched + direction·D/2, mm; ``direction`` is the sign of the touching move."""
    return EdgeSurfaceOutput(surface=data.latched + data.direction * data.effective_diameter / 2)


class SpanCentreInput(Record):
    kind: Literal["slot", "web"]
    first: Length
    second: Length
    effective_diameter: Distance


class SpanCentreOutput(Result):
    centre: Length
    width: Length


@calculation("span-centre", "centre and width of a slot or web from two opposite touches")
def span_centre(data: SpanCentreInput) -> SpanCentreOutput:
    """Centre (mean of the touches) and width, mm: slot |second − first| + D, web − D.

    Raises:
        InputError: if a web's touches are no further apart than the tip is wide.
    """
    apart = abs(data.second - data.first)
    width = apart + data.effective_diameter if data.kind == "slot" else apart - data.effective_diameter
    if width <= 0:
        raise InputError.at(
            "/second",
            f"`second` leaves a {data.kind} of no width ({width:g} mm); the touches must be "
            f"further apart than the tip is wide.",
        )
    return SpanCentreOutput(centre=(data.first + data.second) / 2, width=width)


class AngleFromEdgeInput(Record):
    points: Points2
    along: Literal["x", "y"]


class AngleFromEdgeOutput(Result):
    skew_deg: Angle


def folded(angle_deg: float) -> float:
    """The angle of a line, brought into (−90, 90]."""
    rest = angle_deg % 180.0
    return rest - 180.0 if rest > 90.0 else rest


@calculation("angle-from-edge", "how far an edge is turned from an axis")
def angle_from_edge(data: AngleFromEdgeInput) -> AngleFromEdgeOutput:
    """Total least squares line against the axis; ``skew_deg`` in (−90, 90], counter-clockwise positive."""
    _, (dx, dy) = best_line(as_array(data.points), "/points")
    axis = 0.0 if data.along == "x" else 90.0
    return AngleFromEdgeOutput(skew_deg=folded(math.degrees(math.atan2(dy, dx)) - axis))


class CornerEdge(Record):
    approach: Point
    points: Points1


class CornerInput(Record):
    effective_diameter: Distance
    edges: Annotated[list[CornerEdge], Field(min_length=2, max_length=2)]


class CornerOutput(Result):
    x: Length
    y: Length
    angle_deg: Angle


@calculation("corner", "a corner from touches on two edges")
def corner(data: CornerInput) -> CornerOutput:
    """Place of the corner (mm) and its inside angle, 180° − the angle between the edges' normals.

    Each edge is the best line through its latched points (one point: at right angles to its approach), moved D/2 along
    the side of its normal that the approach goes to.

    Raises:
        InputError: if an approach has no direction or runs along its edge, or the edges are parallel.
    """
    normals, offsets = [], []
    for index, edge in enumerate(data.edges):
        approach = np.array([edge.approach.x, edge.approach.y])
        length = float(np.hypot(*approach))
        if length == 0:
            raise InputError.at(f"/edges/{index}/approach", "`approach` has no direction; x or y must not be 0.")
        points = as_array(edge.points)
        if len(points) == 1:
            place, normal = points[0], approach / length
        else:
            place, (dx, dy) = best_line(points, f"/edges/{index}/points")
            normal = np.array([-dy, dx])
        side = float(normal @ approach) / length
        if abs(side) < 1e-6:
            raise InputError.at(f"/edges/{index}/approach", "`approach` runs along its edge; it must go towards it.")
        normal = normal * math.copysign(1.0, side)
        normals.append(normal)
        offsets.append(float(normal @ place) + data.effective_diameter / 2)
    matrix = np.array(normals)
    if abs(float(np.linalg.det(matrix))) < 1e-6:
        raise InputError.at("/edges", "The two edges are parallel; they have no corner.")
    x, y = np.linalg.solve(matrix, np.array(offsets))
    between = math.degrees(math.acos(max(-1.0, min(1.0, float(normals[0] @ normals[1])))))
    return CornerOutput(x=float(x), y=float(y), angle_deg=180.0 - between)


class CircleFitInput(Record):
    points: Points3


class CircleFitOutput(Result):
    optional: ClassVar[frozenset[str]] = frozenset({"centre_u", "radius_u"})

    centre: Point
    radius: PositiveLength
    residuals: list[Length]
    form_error: Distance
    rms: Distance
    centre_u: Point | None = None
    radius_u: float | None = None


def geometric_circle(points: Points, where: str) -> tuple[float, float, float]:
    """Centre x, y and radius of the circle with the least sum of squared radial deviations, mm.

    Starts from the algebraic fit (Kåsa) and goes on by Levenberg–Marquardt.

    Raises:
        InputError: at ``where``, if the points lie on one line or on fewer than three places.
    """
    from scipy.optimize import least_squares  # takes half a second to load: what fits no circle does not wait for it

    centre, values, _, size = spread(points)
    if len(values) < 2 or values[1] <= INDISTINCT * size:
        raise InputError.at(where, "The points lie on one line or one place; a circle needs three that don't.")
    local = (points - centre) / values[0]
    matrix = np.column_stack([2 * local, np.ones(len(local))])
    solution, _, rank, _ = np.linalg.lstsq(matrix, (local**2).sum(axis=1), rcond=None)
    if rank < 3:
        raise InputError.at(where, "The points stand on fewer than three different places; a circle needs three.")
    start = [solution[0], solution[1], math.sqrt(max(solution[2] + solution[0] ** 2 + solution[1] ** 2, 1e-12))]

    def deviations(parameters: Points) -> Points:
        return np.asarray(np.hypot(local[:, 0] - parameters[0], local[:, 1] - parameters[1]) - parameters[2])

    fit = least_squares(deviations, start, method="lm", xtol=1e-14, ftol=1e-14, gtol=1e-14)
    x, y, radius = (float(v) for v in fit.x)
    return x * values[0] + centre[0], y * values[0] + centre[1], radius * values[0]


@calculation("circle-fit", "centre, radius and form error of a circle through touched points")
def circle_fit(data: CircleFitInput) -> CircleFitOutput:
    """Geometric least squares. ``residuals`` are radial, positive outside, in the points' order; ``form_error`` is the
    largest less the smallest; standard uncertainties with four or more points; mm."""
    points = as_array(data.points)
    x, y, radius = geometric_circle(points, "/points")
    away = np.hypot(points[:, 0] - x, points[:, 1] - y)
    residuals = away - radius
    uncertain: dict[str, Any] = {}
    if len(points) >= 4:
        jacobian = np.column_stack([(x - points[:, 0]) / away, (y - points[:, 1]) / away, -np.ones(len(points))])
        variance = float(residuals @ residuals) / (len(points) - 3)
        errors = np.sqrt(np.diag(np.linalg.pinv(jacobian.T @ jacobian)) * variance)
        uncertain = {"centre_u": Point(x=float(errors[0]), y=float(errors[1])), "radius_u": float(errors[2])}
    return CircleFitOutput(
        centre=Point(x=x, y=y),
        radius=radius,
        residuals=[float(r) for r in residuals],
        form_error=float(residuals.max() - residuals.min()),
        rms=float(np.sqrt((residuals**2).mean())),
        **uncertain,
    )


class StylusQualifyInput(Record):
    artefact: Literal["ring", "sphere", "plug"]
    diameter: PositiveLength
    points: Points3


class StylusQualifyOutput(Result):
    effective_diameter: PositiveLength
    centre: Point
    form_error: Distance


@calculation("stylus-qualify", "a stylus' effective diameter from touches on a ring, sphere or plug")
def stylus_qualify(data: StylusQualifyInput) -> StylusQualifyOutput:
    """Effective diameter, mm, from latched centres of the tip: ring: diameter − 2·fitted radius; sphere at its equator
    and plug: 2·fitted radius − diameter.

    Raises:
        InputError: if that is not above 0, so that artefact and points don't belong together.
    """
    fit = circle_fit(CircleFitInput(points=data.points))
    effective = data.diameter - 2 * fit.radius if data.artefact == "ring" else 2 * fit.radius - data.diameter
    if effective <= 0:
        raise InputError.at(
            "/diameter",
            f"`diameter` of the {data.artefact} and the points don't belong together: the "
            f"tip would be {effective:.4g} mm.",
        )
    return StylusQualifyOutput(effective_diameter=effective, centre=fit.centre, form_error=fit.form_error)


class StylusRunoutInput(Record):
    at_0: Point
    at_180: Point


class StylusRunoutOutput(Result):
    dx: Length
    dy: Length
    runout: Distance


@calculation("stylus-runout", "where the stylus stands off the spindle axis, by the half-turn method")
def stylus_runout(data: StylusRunoutInput) -> StylusRunoutOutput:
    """Where the tip stands off the spindle axis at 0°, mm: half the difference of one artefact's centre at 180° and
    0°."""
    dx, dy = (data.at_180.x - data.at_0.x) / 2, (data.at_180.y - data.at_0.y) / 2
    return StylusRunoutOutput(dx=dx, dy=dy, runout=math.hypot(dx, dy))


class RotaryPoint(Record):
    angle_deg: Angle
    x: Length
    y: Length


class RotaryCentreInput(Record):
    points: Annotated[list[RotaryPoint], Field(min_length=2, max_length=100_000)]
    sense: Sense


class RotaryCentreOutput(Result):
    centre: Point
    radius: PositiveLength
    worst: Distance


@calculation("rotary-centre", "a rotary table's centre from a ball found at known angles")
def rotary_centre(data: RotaryCentreInput) -> RotaryCentreOutput:
    """Least squares with the angles known; ``sense`` is the way the table turns for a positive angle; mm."""
    sign = 1 if data.sense == "ccw" else -1
    angles = [sign * math.radians(p.angle_deg) for p in data.points]
    places = [(p.x, p.y) for p in data.points]
    centre, radius, _, fitted = known_angle_circle(angles, places, "/points")
    worst = max(math.dist(place, fit) for place, fit in zip(places, fitted, strict=True))
    return RotaryCentreOutput(centre=Point(x=centre[0], y=centre[1]), radius=radius, worst=worst)
