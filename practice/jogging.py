"""A practice machine is homed, and moved by hand."""

import math
import time
from collections.abc import Callable
from typing import Any

from orthotrope.machine.motion import Vector
from orthotrope.machine.stops import Crashed, CutShort
from orthotrope.setup.machine import AXES, AxisName
from orthotrope.units import in_unit, shown_in, with_unit

from practice.playback import CREEP, Playback
from practice.state import Activity, PracticeState, Refused

NEAR, ABOVE = 1e-3, 20.0
"""mm; what counts as being there, and how far above a place going there by itself ends."""

HOMING_SHARE = 0.25
"""Of the rapid, for homing."""


def _with(vector: Vector, index: int, value: float) -> Vector:
    """The vector with one part another."""
    x, y, z = (value if at == index else part for at, part in enumerate(vector))
    return x, y, z


class Jogging:
    """Its axes go home, one after the other, and jog by a step or for as long as someone holds them."""

    def __init__(self, state: PracticeState, playback: Playback):
        self.state, self.playback = state, playback

    def home(self) -> None:
        """Home the axes in their order."""
        self.playback.ready("go home")
        if abs(self.state.spindle()) > 0:
            raise Refused(
                f"The spindle turns at {abs(self.state.spindle()):.0f} rev/min; reset the machine to stop it, then home."
            )
        steps = iter([step for axis in self.state.setup.machine.homing_order for step in self._homing(axis)])
        left = [len(self.state.setup.machine.homing_order) * 3]

        def next_block() -> bool:
            left[0] -= 1
            try:
                next(steps)()
            except Crashed:
                return False
            return left[0] > 0

        self.state.machine.axes.limited = False
        self.playback.begin(Activity("home", next_block, self.state.control.kept, self._again_moving))

    def _homing(self, axis: AxisName) -> list[Callable[[], None]]:
        index, data = AXES.index(axis), self.state.setup.machine.axes[axis]
        machine, last = self.state.machine, axis == self.state.setup.machine.homing_order[-1]
        switch = data.least if data.home == "least" else data.greatest
        sign = -1.0 if data.home == "least" else 1.0
        feed = data.rapid * HOMING_SHARE

        def moved(to: float) -> None:
            machine.move(_with(machine.position, index, to), "jog", feed, len(machine.trace.blocks), True)

        def approach() -> None:
            machine.axes.homed = False
            moved(switch - machine.axes.error[index] + sign * machine.world.axes[index].backlash / 2)

        def count() -> None:
            scatter = self.state.chance.gauss(0.0, self.state.truth.home_sigma[axis])
            machine.axes.heading = _with(machine.axes.heading, index, sign)
            machine.axes.position = _with(machine.position, index, switch)
            machine.axes.error = _with(
                machine.axes.error, index, scatter + sign * machine.world.axes[index].backlash / 2
            )
            machine.dwell(0.05, len(machine.trace.blocks))

        def pull_off() -> None:
            moved(data.home_at)
            if last:
                machine.axes.homed, machine.axes.limited = True, True
                self.state.homings += 1

        return [approach, count, pull_off]

    def _again_moving(self, kept: Any, deadline: float) -> None:
        """Stop what has no program at a moment: the block is gone through anew until then."""
        first = kept[0][-1][0]
        segments = self.state.machine.trace.segments[first:]
        self.state.control.restore(kept)
        self.state.machine.deadline = deadline
        was, self.state.machine.axes.limited = self.state.machine.axes.limited, False
        try:
            for segment in segments:
                self.state.machine.move(segment.whole_end, "jog", segment.feed, segment.block, segment.machine_frame)
        except CutShort:
            pass
        finally:
            self.state.machine.deadline, self.state.machine.axes.limited = math.inf, was

    def jog(self, axis: AxisName, by: float, feed: float, creep: bool = False, held_by: object = None) -> None:
        """Move one axis by a step, or, held by someone, until it is released. ``creep``: slowly, past the soft limits.

        Raises:
            Refused: beyond a soft limit, or where the machine does not move now.
        """
        self._away_from_stop(axis, by)
        self.playback.ready("jog")
        index = AXES.index(axis)
        limits = self.state.world.axes[index]
        start = self.state.machine.position[index]
        if not self.state.homed and feed > CREEP:
            feed = CREEP
        if creep:
            feed = min(feed, CREEP)
        free = creep or not self.state.homed
        if held_by is not None:
            whole = 2 * (self.state.setup.machine.axes[axis].greatest - self.state.setup.machine.axes[axis].least)
            end = start + math.copysign(whole, by) if free else (limits.greatest if by > 0 else limits.least)
            assert end is not None
        else:
            end = start + by
        if not free and limits.least is not None and limits.greatest is not None:
            low, high = limits.least - 1e-6, limits.greatest + 1e-6
            if not low <= end <= high or abs(end - start) < 1e-9:
                with shown_in(self.state.setup.machine.unit):
                    raise Refused(
                        f"{axis} {in_unit(end)} is beyond the soft limit, {in_unit(limits.least)} to "
                        f"{with_unit(limits.greatest)}. Creep to pass it."
                    )
        self._moved(_with(self.state.machine.position, index, end), feed, free, held_by)

    def go(self, to: dict[AxisName, float], feed: float) -> str:
        """The next step on the way to a place: up first, then across at the top, then down to :data:`ABOVE` above it; what it is.

        Raises:
            Refused: where it is not homed, the spindle turns, a limit is passed, or it is there already.
        """
        self.playback.ready("go there")
        if not self.state.homed:
            raise Refused("The machine is not homed: places are machine coordinates. Home it first.")
        if self.state.spindle():
            raise Refused("The spindle turns; reset the machine to stop it first.")
        x, y, z = self.state.machine.position
        target = to.get("X", x), to.get("Y", y), to.get("Z", z)
        for (axis, limits), value in zip(self.state.setup.machine.axes.items(), target, strict=True):
            if not limits.soft_least - 1e-6 <= value <= limits.soft_greatest + 1e-6:
                with shown_in(self.state.setup.machine.unit):
                    raise Refused(f"{axis} {with_unit(value)} is beyond its soft limits.")
        top = self.state.setup.machine.axes.upright.soft_greatest
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
        if (
            self.state.at_stop
            and self.state.at_stop != (axis, math.copysign(1.0, by))
            and self.state.at_stop[0] == axis
        ):
            self.state.alarm, self.state.execution, self.state.at_stop = "", "READY", None

    def _moved(self, target: Vector, feed: float, free: bool, held_by: object = None) -> None:
        """Begin a move by hand; ``free``: past the soft limits."""

        def next_block() -> bool:
            self.state.machine.axes.limited = not free
            try:
                self.state.machine.move(target, "jog", feed, len(self.state.machine.trace.blocks), True)
            except Crashed:
                return False
            finally:
                self.state.machine.axes.limited = True
            return False

        self.playback.begin(
            Activity(
                "jog",
                next_block,
                self.state.control.kept,
                self._again_moving,
                held_by=held_by,
                sign_of_life=time.monotonic(),
            )
        )
