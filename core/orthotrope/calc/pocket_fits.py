"""Racks and discs fitted to taught pockets."""

import math
from typing import Annotated, Any, ClassVar

import numpy as np
from pydantic import Field, model_validator

from orthotrope.calc.geometry import INDISTINCT
from orthotrope.calc.pockets import Pocket, Sense
from orthotrope.calc.points import Point
from orthotrope.calc.registry import Result, calculation
from orthotrope.errors import InputError
from orthotrope.validation import Angle, Distance, Length, PocketNumber, PositiveLength, Record


class Residual(Record):
    """Taught less fitted, mm."""

    pocket: PocketNumber
    dx: Length
    dy: Length
    distance: Distance


def _residuals(pockets: list[Pocket], fitted: list[tuple[float, float]]) -> list[Residual]:
    return [
        Residual(pocket=p.pocket, dx=p.x - x, dy=p.y - y, distance=math.hypot(p.x - x, p.y - y))
        for p, (x, y) in zip(pockets, fitted, strict=True)
    ]


class RackFitInput(Record):
    pockets: Annotated[list[Pocket], Field(min_length=2, max_length=10_000)]
    pitch: PositiveLength | None = None
    tolerance: Distance


class RackFitOutput(Result):
    optional: ClassVar[frozenset[str]] = frozenset({"origin_u", "bearing_u_deg", "pitch_u"})

    origin: Point
    bearing_deg: Angle
    pitch: PositiveLength
    residuals: list[Residual]
    worst: Distance
    rms: Distance
    within_tolerance: bool
    origin_u: Point | None = None
    bearing_u_deg: float | None = None
    pitch_u: float | None = None


@calculation("rack-fit", "place, bearing and pitch of a rack from taught pockets, with residuals")
def rack_fit(data: RackFitInput) -> RackFitOutput:
    """Least squares in both axes of one row of taught pockets; with a given ``pitch`` only place and bearing are
    fitted.

    ``origin`` is pocket 1, ``bearing_deg`` in (−180, 180], residuals are taught less fitted, ``rms`` is over distances.
    Standard uncertainties (coordinate scatter taken equal in x and y) where there are more equations than unknowns;
    with a given pitch ``pitch_u`` is left out.

    Raises:
        InputError: if the pockets are fewer than two different numbers or all stand on one place.
    """
    steps = np.array([p.pocket - 1 for p in data.pockets], dtype=float)
    taught = np.array([(p.x, p.y) for p in data.pockets])
    centre, middle = taught.mean(axis=0), float(steps.mean())
    weight = float(((steps - middle) ** 2).sum())
    if weight == 0:
        raise InputError.at("/pockets", "All are one pocket number; a fit needs two different pockets.")
    direction = ((steps - middle)[:, None] * (taught - centre)).sum(axis=0) / weight
    fitted_pitch = float(np.hypot(*direction))
    if fitted_pitch <= INDISTINCT * (float(np.abs(taught).max()) + 1e-12):
        raise InputError.at("/pockets", "The taught places give no direction (all the same, or cancelling each other).")
    pitch = data.pitch or fitted_pitch
    unit = direction / fitted_pitch
    fitted = centre + (steps - middle)[:, None] * pitch * unit
    origin = centre - middle * pitch * unit
    residuals = _residuals(data.pockets, [(float(x), float(y)) for x, y in fitted])
    squares = sum(r.distance**2 for r in residuals)
    freedom = 2 * len(data.pockets) - (3 if data.pitch else 4)
    uncertain: dict[str, Any] = {}
    if freedom > 0:
        s = math.sqrt(squares / freedom)
        across = s * math.sqrt(1 / len(steps) + middle**2 / weight)
        along = s / math.sqrt(len(steps)) if data.pitch else across
        uncertain["origin_u"] = Point(
            x=math.hypot(along * unit[0], across * unit[1]), y=math.hypot(along * unit[1], across * unit[0])
        )
        uncertain["bearing_u_deg"] = math.degrees(s / (pitch * math.sqrt(weight)))
        if not data.pitch:
            uncertain["pitch_u"] = s / math.sqrt(weight)
    bearing = math.degrees(math.atan2(unit[1], unit[0]))
    worst = max(r.distance for r in residuals)
    return RackFitOutput(
        origin=Point(x=float(origin[0]), y=float(origin[1])),
        bearing_deg=180.0 if bearing == -180.0 else bearing,
        pitch=pitch,
        residuals=residuals,
        worst=worst,
        rms=math.sqrt(squares / len(residuals)),
        within_tolerance=worst <= data.tolerance,
        **uncertain,
    )


class DiscFitInput(Record):
    pockets: Annotated[list[Pocket], Field(min_length=3, max_length=10_000)]
    count: Annotated[int, Field(ge=2, le=10_000)]
    sense: Sense

    @model_validator(mode="after")
    def _numbers_exist(self) -> "DiscFitInput":
        for index, taught in enumerate(self.pockets):
            if taught.pocket > self.count:
                raise InputError.at(
                    f"/pockets/{index}/pocket",
                    f"`pocket` must be at most {self.count}, the count of the disc; got {taught.pocket}.",
                )
        return self


class DiscFitOutput(Result):
    centre: Point
    radius: PositiveLength
    first_bearing_deg: Angle
    residuals: list[Residual]
    worst: Distance


@calculation("disc-fit", "centre, radius and first bearing of a disc from taught pockets")
def disc_fit(data: DiscFitInput) -> DiscFitOutput:
    """Least squares of taught pockets whose numbers are known; ``first_bearing_deg`` in [0, 360), residuals taught less
    fitted, mm. (Linear in centre, radius·cos and radius·sin of the first bearing.).

    Raises:
        InputError: if the pockets don't determine centre and radius.
    """
    sign = 1 if data.sense == "ccw" else -1
    angles = [sign * 2 * math.pi * (p.pocket - 1) / data.count for p in data.pockets]
    centre, radius, first, fitted = known_angle_circle(angles, [(p.x, p.y) for p in data.pockets], "/pockets")
    residuals = _residuals(data.pockets, fitted)
    bearing = math.degrees(first) % 360.0
    return DiscFitOutput(
        centre=Point(x=centre[0], y=centre[1]),
        radius=radius,
        first_bearing_deg=0.0 if bearing == 360.0 else bearing,
        residuals=residuals,
        worst=max(r.distance for r in residuals),
    )


def known_angle_circle(
    angles: list[float], places: list[tuple[float, float]], where: str
) -> tuple[tuple[float, float], float, float, list[tuple[float, float]]]:
    """Least-squares circle through places whose angles from the first are known (radians, counter-clockwise).

    Returns centre, radius, the bearing (radians) of angle 0, and the fitted places, mm.

    Raises:
        InputError: at ``where``, if fewer than two different places or angles are given.
    """
    rows, values = [], []
    for angle, (x, y) in zip(angles, places, strict=True):
        cos, sin = math.cos(angle), math.sin(angle)
        rows += [(1.0, 0.0, cos, -sin), (0.0, 1.0, sin, cos)]
        values += [x, y]
    matrix = np.array(rows)
    solution, _, rank, _ = np.linalg.lstsq(matrix, np.array(values), rcond=1e-12)
    cx, cy, a, b = (float(v) for v in solution)
    radius = math.hypot(a, b)
    size = max(abs(v) for v in values) + 1e-12
    if rank < 4 or radius <= INDISTINCT * size:
        raise InputError.at(where, "The points don't determine a circle; they need two different places and angles.")
    fit = matrix @ solution
    fitted = [(float(fit[i]), float(fit[i + 1])) for i in range(0, len(fit), 2)]
    return (cx, cy), radius, math.atan2(b, a), fitted
