"""Repeatability, uncertainty (JCGM 100), stopping, cutting data."""

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator
from scipy.special import ndtri, stdtrit

from orthotrope.calc.registry import Result, calculation
from orthotrope.errors import Fault, InputError
from orthotrope.validation import Acceleration, Count, Distance, Feed, Length, PositiveLength, Record, Seconds


class StoppingDistanceInput(Record):
    feed: Feed
    acceleration: Acceleration
    latency: Seconds


class StoppingDistanceOutput(Result):
    distance: Distance


@calculation("stopping-distance", "how far an axis goes on from an event until it stands")
def stopping_distance(data: StoppingDistanceInput) -> StoppingDistanceOutput:
    """v·latency + v²/(2·acceleration), mm, v in mm/s."""
    speed = data.feed / 60
    return StoppingDistanceOutput(distance=speed * data.latency + speed**2 / (2 * data.acceleration))


class CuttingDataInput(Record):
    unit: Literal["mm", "inch"]
    diameter: PositiveLength
    flutes: Annotated[int, Field(ge=1, le=1000)]
    speed: Annotated[float, Field(gt=0)] | None = None
    surface_speed: Annotated[float, Field(gt=0)] | None = None
    feed: Annotated[float, Field(gt=0)] | None = None
    chip_load: Annotated[float, Field(gt=0)] | None = None

    @model_validator(mode="after")
    def _one_of_each(self) -> "CuttingDataInput":
        faults = []
        for one, other in (("speed", "surface_speed"), ("feed", "chip_load")):
            given = [getattr(self, one) is not None, getattr(self, other) is not None]
            if all(given):
                faults.append(Fault("/" + one, f"`{one}` and `{other}` are both given; keep one of them."))
            elif not any(given):
                faults.append(Fault("/" + one, f"`{one}` is missing; give it, or `{other}`."))
        if faults:
            raise InputError(faults)
        return self


class CuttingDataOutput(Result):
    speed: float
    surface_speed: float
    feed: float
    chip_load: float
    computed: list[str]


@calculation("cutting-data", "speed, surface speed, feed and chip load from one of each pair")
def cutting_data(data: CuttingDataInput) -> CuttingDataOutput:
    """Metric: m/min and mm; inch: ft/min and in (the one calculation not in millimetres only). Surface speed =
    π·D·speed/1000 (inch: /12); feed = speed·flutes·chip load. ``computed`` names what was worked out."""
    per_turn = math.pi * data.diameter / (1000 if data.unit == "mm" else 12)
    computed = []
    speed, surface, feed, chip = data.speed, data.surface_speed, data.feed, data.chip_load
    if speed is None:
        assert surface is not None
        speed = surface / per_turn
        computed.append("speed")
    if surface is None:
        surface = speed * per_turn
        computed.append("surface_speed")
    if feed is None:
        assert chip is not None
        feed = speed * data.flutes * chip
        computed.append("feed")
    if chip is None:
        chip = feed / (speed * data.flutes)
        computed.append("chip_load")
    return CuttingDataOutput(speed=speed, surface_speed=surface, feed=feed, chip_load=chip, computed=computed)


class RepeatabilityInput(Record):
    readings: Annotated[list[Length], Field(min_length=2, max_length=100_000)]


class RepeatabilityOutput(Result):
    n: Count
    mean: Length
    std: Distance
    range: Distance
    uncertainty95: Distance


@calculation("repeatability", "mean, scatter and uncertainty of repeated readings")
def repeatability(data: RepeatabilityInput) -> RepeatabilityOutput:
    """Standard deviation with n − 1; ``uncertainty95`` of the mean by Student's t at 95 % (JCGM 100, 4.2 and G.3)."""
    readings = np.array(data.readings)
    n = len(readings)
    std = float(readings.std(ddof=1))
    return RepeatabilityOutput(
        n=n,
        mean=float(readings.mean()),
        std=std,
        range=float(np.ptp(readings)),
        uncertainty95=float(stdtrit(n - 1, 0.975)) * std / math.sqrt(n),
    )


Distribution = Literal["normal", "rectangular", "triangular", "u-shaped"]
DIVISORS: dict[str, float] = {
    "normal": 1.0,
    "rectangular": math.sqrt(3),
    "triangular": math.sqrt(6),
    "u-shaped": math.sqrt(2),
}
"""JCGM 100, 4.3.7 and 4.3.9; u-shaped: the arcsine distribution."""


class UncertaintyTerm(Record):
    name: Annotated[str, Field(min_length=1, max_length=200)]
    value: Annotated[float, Field(ge=0)]
    distribution: Distribution
    divisor: Annotated[float, Field(gt=0)] | None = None
    sensitivity: float = 1.0
    dof: Annotated[float, Field(ge=1)] | None = None


class UncertaintyBudgetInput(Record):
    confidence: Annotated[float, Field(gt=0, lt=1)]
    terms: Annotated[list[UncertaintyTerm], Field(min_length=1, max_length=10_000)]


class Share(Record):
    name: str
    share: float


class UncertaintyBudgetOutput(Result):
    combined: float
    effective_dof: float | None
    coverage_factor: float
    expanded: float
    shares: list[Share]


@calculation("uncertainty-budget", "combined and expanded uncertainty of several terms, with their shares")
def uncertainty_budget(data: UncertaintyBudgetInput) -> UncertaintyBudgetOutput:
    """JCGM 100: terms combined in quadrature, effective degrees of freedom by Welch–Satterthwaite (given unrounded,
    None where no term has any; the factor takes them rounded down, or the normal factor); ``share`` is a part of the
    variance, 0 to 1."""
    parts = [abs(t.sensitivity) * t.value / (t.divisor or DIVISORS[t.distribution]) for t in data.terms]
    combined = math.sqrt(sum(p * p for p in parts))
    if not math.isfinite(combined):
        raise InputError.at("/terms", "The terms are too large to be combined.")
    tail = 1 - (1 - data.confidence) / 2
    scaled = [p / combined for p in parts] if combined > 0 else parts
    weight = sum(p**4 / t.dof for p, t in zip(scaled, data.terms, strict=True) if t.dof is not None)
    dof = 1 / weight if weight > 0 else None
    factor = float(stdtrit(math.floor(dof + 1e-9), tail)) if dof is not None else float(ndtri(tail))
    shares = [Share(name=t.name, share=p * p) for t, p in zip(data.terms, scaled, strict=True)]
    return UncertaintyBudgetOutput(
        combined=combined, effective_dof=dof, coverage_factor=factor, expanded=factor * combined, shares=shares
    )
