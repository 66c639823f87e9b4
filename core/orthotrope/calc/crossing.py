"""How an axis gets across its travel, and whether it stops before its hard stop."""

import math

from orthotrope.calc.registry import Result, calculation
from orthotrope.validation import Acceleration, Distance, Feed, PositiveLength, Record, Seconds


class CurvePoint(Record):
    """A corner of the speed curve: seconds, and mm/min."""

    seconds: float
    speed: float


class AxisCrossingInput(Record):
    travel: PositiveLength
    rapid: Feed
    acceleration: Acceleration
    latency: Seconds = 0.0
    margin: Distance = 0.0


class AxisCrossingOutput(Result):
    """``top_speed`` is what is reached, below ``rapid`` where the travel is too short; ``stopping`` the way from the
    soft limit to standing, mm; ``curve`` the speed over time, its corners."""

    seconds: float
    seconds_to_speed: float
    distance_to_speed: float
    top_speed: float
    full_speed: bool
    stopping: float
    stops_in_margin: bool
    curve: list[CurvePoint]


@calculation("axis-crossing", "the time across an axis, the way to full speed, and whether it stops within its margin")
def axis_crossing(data: AxisCrossingInput) -> AxisCrossingOutput:
    """From rest to rest at constant acceleration a: top v = min(rapid, √(a·travel)) in mm/s, v/a seconds and v²/(2a) mm
    to reach it, travel/v + v/a seconds in all. Stopping: rapid·latency + rapid²/(2a), as stopping-distance has it."""
    rapid = data.rapid / 60
    top = min(rapid, math.sqrt(data.acceleration * data.travel))
    ramp = top / data.acceleration
    seconds = data.travel / top + ramp
    stopping = rapid * data.latency + rapid * rapid / (2 * data.acceleration)
    corners = [(0.0, 0.0), (ramp, top), (seconds - ramp, top), (seconds, 0.0)]
    return AxisCrossingOutput(
        seconds=seconds,
        seconds_to_speed=ramp,
        distance_to_speed=top * ramp / 2,
        top_speed=top * 60,
        full_speed=top >= rapid,
        stopping=stopping,
        stops_in_margin=stopping <= data.margin,
        curve=[CurvePoint(seconds=at, speed=speed * 60) for at, speed in corners],
    )
