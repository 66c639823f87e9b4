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
        target = _with(self.machine.position, index, end)

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
