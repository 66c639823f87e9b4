"""A practice machine is homed, and moved by hand."""

import math
import time
from collections.abc import Callable
from typing import Any

from orthotrope.machine.motion import Vector
from orthotrope.machine.stops import Crashed, CutShort
from orthotrope.setup.machine import AXES, AxisName
from orthotrope.units import in_unit, shown_in, with_unit

from practice.playing import CREEP, Playing
from practice.standing import Activity, Refused

NEAR, ABOVE = 1e-3, 20.0
"""mm; what counts as being there, and how far above a place going there by itself ends."""

HOMING_SHARE = 0.25
"""Of the rapid, for homing."""


def _with(vector: Vector, index: int, value: float) -> Vector:
    """The vector with one part another."""
    x, y, z = (value if at == index else part for at, part in enumerate(vector))
    return x, y, z


class Jogging(Playing):
    """Its axes go home, one after the other, and jog by a step or for as long as someone holds them."""

    def home(self) -> None:
        """Home the axes in their order."""
        self.ready("go home")
        if abs(self.spindle()) > 0:
            raise Refused(
                f"The spindle turns at {abs(self.spindle()):.0f} rev/min; reset the machine to stop it, then home."
            )
        steps = iter([step for axis in self.setup.machine.homing_order for step in self._homing(axis)])
        left = [len(self.setup.machine.homing_order) * 3]

        def next_block() -> bool:
            left[0] -= 1
            try:
                next(steps)()
            except Crashed:
                return False
            return left[0] > 0

        self.machine.limited = False
        self._begin(Activity("home", next_block, self.control.kept, self._again_moving))

    def _homing(self, axis: AxisName) -> list[Callable[[], None]]:
        index, data = AXES.index(axis), self.setup.machine.axes[axis]
        machine, last = self.machine, axis == self.setup.machine.homing_order[-1]
        switch = data.least if data.home == "least" else data.greatest
        sign = -1.0 if data.home == "least" else 1.0
        feed = data.rapid * HOMING_SHARE

        def moved(to: float) -> None:
            machine.move(_with(machine.position, index, to), "jog", feed, len(machine.trace.blocks), True)

        def approach() -> None:
            machine.homed = False
            moved(switch - machine.error[index] + sign * machine.world.axes[index].backlash / 2)

        def count() -> None:
            scatter = self.chance.gauss(0.0, self.truth.home_sigma[axis])
            machine.heading = _with(machine.heading, index, sign)
            machine.position = _with(machine.position, index, switch)
            machine.error = _with(machine.error, index, scatter + sign * machine.world.axes[index].backlash / 2)
            machine.dwell(0.05, len(machine.trace.blocks))

        def pull_off() -> None:
            moved(data.home_at)
            if last:
                machine.homed, machine.limited = True, True
                self.homings += 1

        return [approach, count, pull_off]

    def _again_moving(self, kept: Any, deadline: float) -> None:
        """Stop what has no program at a moment: the block is gone through anew until then."""
        first = kept[0][-1][0]
        segments = self.machine.trace.segments[first:]
        self.control.restore(kept)
        self.machine.deadline = deadline
        was, self.machine.limited = self.machine.limited, False
        try:
            for segment in segments:
                self.machine.move(segment.whole_end, "jog", segment.feed, segment.block, segment.machine_frame)
        except CutShort:
            pass
        finally:
            self.machine.deadline, self.machine.limited = math.inf, was

    def jog(self, axis: AxisName, by: float, feed: float, creep: bool = False, held_by: object = None) -> None:
        """Move one axis by a step, or, held by someone, until it is released. ``creep``: slowly, past the soft limits.

        Raises:
            Refused: beyond a soft limit, or where the machine does not move now.
        """
        self._away_from_stop(axis, by)
        self.ready("jog")
        index = AXES.index(axis)
        limits = self.world.axes[index]
        start = self.machine.position[index]
        if not self.homed and feed > CREEP:
            feed = CREEP
        if creep:
            feed = min(feed, CREEP)
        free = creep or not self.homed
        if held_by is not None:
            whole = 2 * (self.setup.machine.axes[axis].greatest - self.setup.machine.axes[axis].least)
            end = start + math.copysign(whole, by) if free else (limits.greatest if by > 0 else limits.least)
            assert end is not None
        else:
            end = start + by
        if not free and limits.least is not None and limits.greatest is not None:
            low, high = limits.least - 1e-6, limits.greatest + 1e-6
            if not low <= end <= high or abs(end - start) < 1e-9:
                with shown_in(self.setup.machine.unit):
                    raise Refused(
                        f"{axis} {in_unit(end)} is beyond the soft limit, {in_unit(limits.least)} to "
                        f"{with_unit(limits.greatest)}. Creep to pass it."
                    )
        self._moved(_with(self.machine.position, index, end), feed, free, held_by)

    def go(self, to: dict[AxisName, float], feed: float) -> str:
        """The next step on the way to a place: up first, then across at the top, then down to :data:`ABOVE` above it; what it is.

        Raises:
            Refused: where it is not homed, the spindle turns, a limit is passed, or it is there already.
        """
        self.ready("go there")
        if not self.homed:
            raise Refused("The machine is not homed: places are machine coordinates. Home it first.")
        if self.spindle():
            raise Refused("The spindle turns; reset the machine to stop it first.")
        x, y, z = self.machine.position
        target = to.get("X", x), to.get("Y", y), to.get("Z", z)
        for (axis, limits), value in zip(self.setup.machine.axes.items(), target, strict=True):
            if not limits.soft_least - 1e-6 <= value <= limits.soft_greatest + 1e-6:
                with shown_in(self.setup.machine.unit):
                    raise Refused(f"{axis} {with_unit(value)} is beyond its soft limits.")
        top = self.setup.machine.axes.upright.soft_greatest
        if math.dist(target[:2], (x, y)) > NEAR:
            if z < top - NEAR:
                self._moved((x, y, top), feed, False)
                return "up"
            self._moved((target[0], target[1], z), feed, False)
            return "across"
        if "Z" in to and z > target[2] + ABOVE + NEAR:
            self._moved((x, y, target[2] + ABOVE), feed, False)
            return "down"
        raise Refused("It is as near as it goes by itself. Jog the rest.")

    def _away_from_stop(self, axis: AxisName, by: float) -> None:
        """A jog away from the hard stop that an axis stands at needs no reset: nothing else gets it off."""
        if self.at_stop and self.at_stop != (axis, math.copysign(1.0, by)) and self.at_stop[0] == axis:
            self.alarm, self.execution, self.at_stop = "", "READY", None

    def _moved(self, target: Vector, feed: float, free: bool, held_by: object = None) -> None:
        """Begin a move by hand; ``free``: past the soft limits."""

        def next_block() -> bool:
            self.machine.limited = not free
            try:
                self.machine.move(target, "jog", feed, len(self.machine.trace.blocks), True)
            except Crashed:
                return False
            finally:
                self.machine.limited = True
            return False

        self._begin(
            Activity(
                "jog", next_block, self.control.kept, self._again_moving, held_by=held_by, sign_of_life=time.monotonic()
            )
        )

    def keep_jog(self, held_by: object) -> None:
        """A sign of life from whoever holds the jog."""
        if self.activity and self.activity.held_by is held_by:
            self.activity.sign_of_life = time.monotonic()

    def release_jog(self, held_by: object = None) -> None:
        """Let go: the axis slows down and stands. Whoever holds it, or anyone where none is said."""
        activity = self.activity
        if activity is None or activity.held_by is None or (held_by is not None and activity.held_by is not held_by):
            return
        activity.held_by = None
        segment = self.machine.trace.segments[-1] if self.machine.trace.segments else None
        if segment is None or segment.law is None or self.now >= segment.t1 or activity.kept is None:
            return
        law, gone = segment.law, segment.law.gone(self.now - segment.t0)
        speed = law.speed_at(self.now - segment.t0)
        way = min(law.way, gone + speed * speed / (2 * law.acceleration))
        share = way / law.way
        start, end = segment.start, segment.whole_end
        target = (
            start[0] + (end[0] - start[0]) * share,
            start[1] + (end[1] - start[1]) * share,
            start[2] + (end[2] - start[2]) * share,
        )
        self.control.restore(activity.kept)
        self.heard = min(self.heard, len(self.machine.trace.events))
        limited, self.machine.limited = self.machine.limited, False
        try:
            self.machine.move(target, "jog", segment.feed, segment.block, True)
        except Crashed:
            pass
        finally:
            self.machine.limited = limited
