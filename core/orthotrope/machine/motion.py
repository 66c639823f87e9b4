"""Laws of time: where a move is at any moment, by formula."""

import math
from dataclasses import dataclass

Vector = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class MotionLaw:
    """A trapezoid: from rest to rest over ``way`` mm, at most ``speed`` mm/s, ramps at ``acceleration`` mm/s².

    ``ramp`` and ``seconds`` are the seconds of one ramp and of the whole.
    """

    way: float
    speed: float
    acceleration: float
    ramp: float
    seconds: float

    def gone(self, t: float) -> float:
        """Way gone after ``t`` seconds, mm."""
        if t <= 0:
            return 0.0
        if t >= self.seconds:
            return self.way
        if t < self.ramp:
            return self.acceleration * t * t / 2
        rest = self.seconds - t
        if rest < self.ramp:
            return self.way - self.acceleration * rest * rest / 2
        return self.speed * (t - self.ramp / 2)

    def speed_at(self, t: float) -> float:
        """Speed after ``t`` seconds, mm/s."""
        if t <= 0 or t >= self.seconds:
            return 0.0
        return min(self.speed, self.acceleration * t, self.acceleration * (self.seconds - t))

    def when(self, gone: float) -> float:
        """Seconds until ``gone`` mm of the way are behind."""
        if gone <= 0:
            return 0.0
        if gone >= self.way:
            return self.seconds
        ramp_way = self.acceleration * self.ramp * self.ramp / 2
        if gone <= ramp_way:
            return math.sqrt(2 * gone / self.acceleration)
        if gone >= self.way - ramp_way:
            return self.seconds - math.sqrt(2 * (self.way - gone) / self.acceleration)
        return self.ramp / 2 + gone / self.speed


def trapezoid(way: float, speed: float, acceleration: float) -> MotionLaw:
    """The quickest law from rest to rest; where the way is too short for ``speed``, the peak is lower."""
    peak = math.sqrt(way * acceleration)
    if peak <= speed:
        ramp = peak / acceleration if way > 0 else 0.0
        return MotionLaw(way, peak, acceleration, ramp, 2 * ramp)
    ramp = speed / acceleration
    return MotionLaw(way, speed, acceleration, ramp, way / speed + ramp)


@dataclass(frozen=True, slots=True)
class Arc:
    """An arc in a plane: ``axes`` the plane's two axes, then the upright one (0 X, 1 Y, 2 Z); angles in radians."""

    axes: tuple[int, int, int]
    centre: tuple[float, float]
    radius: float
    start_angle: float
    sweep: float
    rise: float

    @property
    def length(self) -> float:
        return math.hypot(self.radius * self.sweep, self.rise)

    def at(self, start: Vector, part: float) -> Vector:
        """The place after ``part`` (0 to 1) of the arc."""
        angle = self.start_angle + self.sweep * part
        place = [0.0, 0.0, 0.0]
        place[self.axes[0]] = self.centre[0] + self.radius * math.cos(angle)
        place[self.axes[1]] = self.centre[1] + self.radius * math.sin(angle)
        place[self.axes[2]] = start[self.axes[2]] + self.rise * part
        return place[0], place[1], place[2]


@dataclass(frozen=True, slots=True)
class Ramp:
    """The spindle from ``t0`` to ``t1``: ``rate0`` to ``rate1`` in rev/s, forwards positive, evenly changing."""

    t0: float
    t1: float
    rate0: float
    rate1: float

    def rate(self, t: float) -> float:
        if t >= self.t1 or self.t1 <= self.t0:
            return self.rate1
        if t <= self.t0:
            return self.rate0
        return self.rate0 + (self.rate1 - self.rate0) * (t - self.t0) / (self.t1 - self.t0)


def first_root(a: float, b: float, c: float, begin: float, end: float) -> float | None:
    """The first t in (begin, end] with a·t² + b·t + c = 0, or None."""
    roots: list[float] = []
    if abs(a) < 1e-15:
        if abs(b) > 1e-15:
            roots = [-c / b]
    else:
        under = b * b - 4 * a * c
        if under >= 0:
            half = -(b + math.copysign(math.sqrt(under), b)) / 2
            roots = [half / a]
            if half != 0:
                roots.append(c / half)
    within = [root for root in roots if begin + 1e-12 < root <= end]
    return min(within) if within else None
