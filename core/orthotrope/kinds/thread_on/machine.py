"""What a nut does while the thread of the turning nose runs into it or out of it.

One coordinate says it all: ``engaged``, the millimetres of thread that have run on. The nose stands ``height`` above
the place where a tight nut is seated; then the nut is ``engaged − thread + height`` above its seat (positive: drawn up,
negative: pushed down against the pocket's float). Height is quadratic in time within a ramp or at speed, and so is the
thread that has run on; all moments are roots of quadratics."""

import itertools
import math
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from orthotrope.machine.changing import SEATED, ChangerEvent, Changing, GripWords, Magazine, MoveInterval, Spot
from orthotrope.machine.motion import MotionLaw, Ramp, Vector, first_root
from orthotrope.machine.shapes import Body, CylinderBody, StackPart
from orthotrope.machine.world import WorldTool
from orthotrope.setup.roles import InputRole

TINY = 1e-9

STAYS_ON = "the nut stays on"
"""As :attr:`Magazine.failing` has it, and what was asked: the nut turns with the nose, whatever it is commanded."""

MIN_TURNING = 1e-3
"""rev/s; slower counts as standing."""


@dataclass(frozen=True, slots=True)
class Stretch:
    """From ``t0`` to ``t1`` the nose is at height + speed·τ + change·τ²/2 and the spindle at rate + gain·τ (rev/s)."""

    t0: float
    t1: float
    height: float
    speed: float
    change: float
    rate: float
    gain: float


def stretches(
    law: MotionLaw | None, t0: float, t1: float, height: float, sign: float, ramps: list[Ramp]
) -> Iterator[Stretch]:
    """Cut a move (or a dwell: law None) where its law or the spindle's changes."""
    edges = {t0, t1}
    if law is not None:
        edges |= {t for t in (t0 + law.ramp, t0 + law.seconds - law.ramp) if t0 < t < t1}
    edges |= {t for ramp in ramps for t in (ramp.t0, ramp.t1) if t0 < t < t1}
    order = sorted(edges)
    for begin, end in itertools.pairwise(order):
        middle = (begin + end) / 2
        rate, later = _rate(ramps, begin, middle), _rate(ramps, end, middle)
        gain = (later - rate) / (end - begin)
        if law is None:
            yield Stretch(begin, end, height, 0.0, 0.0, rate, gain)
            continue
        since = begin - t0
        change = 0.0
        if middle - t0 < law.ramp:
            change = law.acceleration
        elif t0 + law.seconds - middle < law.ramp:
            change = -law.acceleration
        speed = (
            law.acceleration * since if since < law.ramp else min(law.speed, law.acceleration * (law.seconds - since))
        )
        yield Stretch(begin, end, height + sign * law.gone(since), sign * max(0.0, speed), sign * change, rate, gain)


def _rate(ramps: list[Ramp], t: float, within: float) -> float:
    """The spindle's rate at ``t``, as the ramp that is in force at ``within`` has it."""
    rate = 0.0
    for ramp in ramps:
        if ramp.t0 > within:
            break
        rate = ramp.rate(t)
    return rate


@dataclass(frozen=True, slots=True, kw_only=True)
class ThreadPockets(Magazine):
    """Pockets of a thread-on rack, and the thread. ``engaged``: the thread's length; ``float_allowed``: how far a nut
    may be drawn up or pushed down; ``flats``: how far above its seat the flats catch it; ``give``: how far below it a
    nut may be pushed as it is put down. mm."""

    lead: float
    engaged: float
    float_allowed: float
    flats: float
    give: float
    nut_radius: float

    def changing(self, tool: int, stored: dict[int, int]) -> "Threading":
        return Threading(self, tool, self.engaged if tool else 0.0, stored=stored)

    @property
    def above(self) -> float:
        return self.engaged


@dataclass(slots=True)
class Threading(Changing):
    """The state of nose, nuts and pockets of a thread-on rack."""

    rack: ThreadPockets
    tool: int = 0
    engaged: float = 0.0
    pocket: int | None = None
    stored: dict[int, int] = field(default_factory=dict)
    fresh: bool = False
    visited: bool = False
    lift: float = 0.0
    pushed: float = 0.0
    fetching: bool = False

    def place_in(self, magazine: Magazine) -> None:
        assert isinstance(magazine, ThreadPockets)
        self.rack = magazine

    @property
    def holds(self) -> int | None:
        """The tool that is tight in the spindle, 0 for none, None for neither held nor free."""
        if self.tool == 0:
            return 0
        return self.tool if self.engaged >= self.rack.engaged - TINY else None

    @property
    def zone(self) -> float:
        """Below this height above couple, something can happen."""
        return max(self.rack.engaged, self.rack.flats) + 0.01

    def is_made(self, role: InputRole, t: float) -> bool | None:
        """A nut that is on by a turn is there; whether it is tight nothing tells."""
        return self.tool != 0 if role.of_changer and role.tells is None else None

    def put(self, number: int) -> None:
        """Another tool by a person's hand: it is tight."""
        self.tool, self.engaged = number, self.rack.engaged if number else 0.0

    def key(self, place: Vector, upright: bool) -> tuple[object, ...]:
        """What the stack and the bodies depend on; second the pocket whose nut the nose may thread with."""
        over = self.place(place[0], place[1]) if upright and not self.tool else None
        return self.tool, over, self.holds, frozenset(self.stored)

    def stack(self, tool: WorldTool) -> Iterator[StackPart]:
        """The nut and tool below the gauge line."""
        nut = tool.stick_out - tool.length
        yield StackPart(f"the nut of T{tool.number}", self.rack.nut_radius, nut, self.rack.engaged)
        yield StackPart(f"T{tool.number}", tool.radius, -tool.length, nut)

    def bodies(self, tools: dict[int, WorldTool], over: object) -> Iterator[Body]:
        """The stored nuts, but the one that the nose is threading with."""
        rack = self.rack
        for number, stored in self.stored.items():
            if number == over or self.tool == stored:
                continue
            x, y = rack.places[number]
            nut_low = tools[stored].stick_out - tools[stored].length if stored in tools else -10.0
            yield CylinderBody(
                f"the nut of T{stored} in pocket {number}",
                x,
                y,
                rack.nut_radius,
                rack.couple_z + nut_low,
                rack.couple_z + rack.engaged,
                number,
            )
            tool = tools.get(stored)
            if tool and tool.radius > rack.nut_radius:
                low = rack.couple_z - tool.length
                yield CylinderBody(
                    f"T{stored} in pocket {number}", x, y, tool.radius, low, rack.couple_z + nut_low, number
                )

    def spots(self) -> Iterator[Spot]:
        rack = self.rack
        for number, (x, y) in rack.places.items():
            yield Spot(number, x, y, max(rack.nut_radius, rack.widest), rack.couple_z + rack.engaged)

    def place(self, x: float, y: float) -> int | None:
        """The pocket that the nose stands over closely enough to meet its thread."""
        for number, (px, py) in self.rack.places.items():
            if abs(px - x) <= self.rack.aligned and abs(py - y) <= self.rack.aligned:
                return number
        return None

    def changes_at(self, t: float, turning: bool) -> Iterator[float]:
        if turning:
            yield t

    def during(self, course: MoveInterval) -> Iterator[ChangerEvent]:
        height = course.place[2] - self.rack.couple_z
        if min(height, height + course.rise) > self.zone:
            return
        if course.sideways:
            if self.holds is None:
                data = {
                    "pocket": self.pocket,
                    "tool": self.tool,
                    "engaged": self.engaged,
                    "thread": self.rack.engaged,
                    "fetching": self.fetching,
                }
                yield ChangerEvent("moved-ungripped", course.t0, True, data)
            return
        pocket = self.place(course.place[0], course.place[1])
        if pocket is None or course.t1 <= course.t0:
            return
        sign = math.copysign(1.0, course.rise)
        yield from self.advance(pocket, stretches(course.law, course.t0, course.t1, height, sign, course.ramps))
        deep = -(height + course.rise)
        if course.rise < 0 and deep > max(SEATED, self.rack.give) + TINY and (self.tool or self.stored.get(pocket)):
            data = {"pocket": pocket, "tool": self.tool or self.stored[pocket], "deep": deep}
            yield ChangerEvent("driven-in", course.t1, True, data)

    def ways_out(self, place: Vector, low: bool, words: GripWords) -> Iterator[str]:
        if self.holds is None:
            yield "The nut is neither on nor off: hold it, and turn the spindle backwards by hand until it is free."
        if low:
            yield "Jog Z straight up to park before homing; if the nut holds, stop and look."

    def advance(self, pocket: int, parts: Iterator[Stretch]) -> Iterator[ChangerEvent]:
        """Go through a move or dwell over a pocket; ends with the first harm."""
        for part in parts:
            tau, end = 0.0, part.t1 - part.t0
            # Each change of state is found in closed form; twenty are more than a stretch can have, so this ends.
            for _ in range(20):  # a stretch has a few changes of state at most
                happening, tau = self._next(pocket, part, tau, end)
                if happening is None:
                    break
                yield happening
                if happening.harm:
                    return

    def _next(self, pocket: int, part: Stretch, tau: float, end: float) -> tuple[ChangerEvent | None, float]:
        if self.tool == 0:
            return self._empty(pocket, part, tau, end)
        if self.holds is None:
            return self._between(pocket, part, tau, end)
        return self._tight(pocket, part, tau, end)

    def _empty(self, pocket: int, part: Stretch, tau: float, end: float) -> tuple[ChangerEvent | None, float]:
        thread = self.rack.engaged
        there = self.stored.get(pocket, 0)
        above = _height(part, tau) - thread
        # The nose stands on the nut already: it catches when it turns, if it was coming for it.
        if above <= TINY:
            meet = tau if _rate_at(part, tau) > MIN_TURNING and there and self.fetching else None
        else:
            meet = first_root(part.change / 2, part.speed, part.height - thread, tau, end)
            if meet is not None and part.speed + part.change * meet >= 0:
                meet = None  # upwards
            if meet is not None:
                if _rate_at(part, meet) > MIN_TURNING and not there:
                    return ChangerEvent("pocket-empty", part.t0 + meet, False, {"pocket": pocket}), meet
                if there and _rate_at(part, meet) <= MIN_TURNING:
                    rate = _rate_at(part, meet) * 60
                    data = {"pocket": pocket, "speed": rate, "wanted": "forwards"}
                    return ChangerEvent("spindle-still", part.t0 + meet, True, data), meet
                self.fetching = True
        if meet is None or not there:
            return None, end
        self.tool, self.pocket, self.engaged, self.lift = there, pocket, 0.0, 0.0
        speed = abs(part.speed + part.change * meet)
        self.engaged = TINY * 2
        return ChangerEvent(
            "thread-meets", part.t0 + meet, False, {"pocket": pocket, "tool": there, "speed": speed}
        ), meet

    def _between(self, pocket: int, part: Stretch, tau: float, end: float) -> tuple[ChangerEvent | None, float]:
        rack, lead = self.rack, self.rack.lead
        base = self.engaged
        rate = _rate_at(part, tau)

        def run_on(t: float) -> float:
            return base + lead * (rate * (t - tau) + part.gain * (t - tau) ** 2 / 2)

        a, b = lead * part.gain / 2, lead * (rate - part.gain * tau)
        c = base - lead * (rate * tau - part.gain * tau * tau / 2)
        turning = _rate_at(part, (tau + end) / 2)
        stop = end
        limit = None
        if turning > MIN_TURNING:
            limit = first_root(a, b, c - rack.engaged, tau, end)
        elif turning < -MIN_TURNING:
            limit = first_root(a, b, c, tau, end)
        if limit is not None:
            stop = limit
        rising = part.speed + part.change * (tau + end) / 2 > TINY
        if rising:
            over = first_root(
                a + part.change / 2, b + part.speed, c + part.height - rack.engaged - rack.float_allowed, tau, stop
            )
            start = run_on(tau) - rack.engaged + _height(part, tau)
            if over is not None and start <= rack.float_allowed + TINY:
                self.engaged = run_on(over)
                data = {
                    "pocket": pocket,
                    "tool": self.tool,
                    "engaged": self.engaged,
                    "thread": rack.engaged,
                    "fetching": self.fetching,
                }
                return ChangerEvent("moved-ungripped", part.t0 + over, True, data), over
        moments = [tau, stop]
        slope = 2 * a + part.change
        if abs(slope) > 1e-15 and tau < -(b + part.speed) / slope < stop:
            moments.append(-(b + part.speed) / slope)
        for moment in moments:
            lift = run_on(moment) - rack.engaged + _height(part, moment)
            if self.fetching:
                self.lift = max(self.lift, lift, key=abs)
            else:
                self.pushed = max(self.pushed, -lift)
        self.engaged = min(rack.engaged, max(TINY * 2, run_on(stop)))
        if limit is None:
            return None, end
        if turning > 0:
            self.engaged, self.fresh, self.visited = rack.engaged, True, False
            self.stored.pop(pocket, None)
            data = {"pocket": pocket, "tool": self.tool, "lift": self.lift, "fetched": self.fetching}
            return ChangerEvent("gripped", part.t0 + limit, False, data), limit
        tool, self.tool, self.engaged, self.fetching = self.tool, 0, 0.0, False
        self.stored[pocket] = tool
        return ChangerEvent(
            "freed", part.t0 + limit, False, {"pocket": pocket, "tool": tool, "pushed": self.pushed}
        ), limit

    def _tight(self, pocket: int, part: Stretch, tau: float, end: float) -> tuple[ChangerEvent | None, float]:
        rack = self.rack
        height = _height(part, tau)
        below = height <= rack.flats + TINY
        if not below:
            self.fresh = False
            reach = first_root(part.change / 2, part.speed, part.height - rack.flats, tau, end)
            if reach is None or part.speed + part.change * reach >= 0:
                return None, end
            tau, below = reach, True
        turning = _rate_at(part, (tau + end) / 2)
        if turning < -MIN_TURNING and STAYS_ON in rack.failing:
            return None, end
        if turning < -MIN_TURNING:
            self.pocket, self.engaged, self.fetching, self.pushed = pocket, rack.engaged - TINY * 2, False, 0.0
            data = {"pocket": pocket, "tool": self.tool}
            return ChangerEvent("thread-leaves", part.t0 + tau, False, data, STAYS_ON), tau
        if self.fresh:
            return None, end
        wrong: dict[str, Any] = {"pocket": pocket, "speed": turning * 60, "wanted": "backwards"}
        if turning > MIN_TURNING:
            return ChangerEvent("spindle-still", part.t0 + tau, True, wrong), tau
        # It has come down to the seat; a spindle that stands there already, when it is called, has not.
        self.visited = self.visited or (_height(part, end) <= rack.lead and _height(part, end) < height - TINY)
        rising = part.speed + part.change * (tau + end) / 2 > TINY
        if self.visited and rising:
            return ChangerEvent("spindle-still", part.t0 + tau, True, wrong), tau
        return None, end


def _height(part: Stretch, tau: float) -> float:
    return part.height + part.speed * tau + part.change * tau * tau / 2


def _rate_at(part: Stretch, tau: float) -> float:
    return part.rate + part.gain * tau
