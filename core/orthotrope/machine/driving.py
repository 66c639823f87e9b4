"""How a control drives the machine: straight moves, arcs, canned cycles and touches, in part and in machine coordinates."""

import math
from collections.abc import Iterable
from typing import Any

from orthotrope.machine.arcs import arc_between
from orthotrope.machine.called import Called
from orthotrope.machine.cycles import cycle_moves
from orthotrope.machine.motion import Vector
from orthotrope.machine.stops import Crashed
from orthotrope.machine.touches import Touches
from orthotrope.program.faults import RunFault

MOST_REPEATS = 100
"""Times that one block may repeat its cycle (L)."""


class Driving(Called):
    """A control that moves its machine."""

    def _need_home(self) -> None:
        if not self.machine.homed:
            self.machine.event("not-homed")
            raise Crashed

    def _target_of(self, given: dict[int, float]) -> Vector:
        """The machine place of part coordinates (mm) for the axes given."""
        place = list(self.machine.position)
        if self.modes.rotation == 68 and (0 in given or 1 in given):
            return self._turned(given)
        if self.modes.distance == 91:
            for axis, value in given.items():
                place[axis] += value
        else:
            for axis, value in given.items():
                place[axis] = value + self.offset[axis]
        return place[0], place[1], place[2]

    def _turned(self, given: dict[int, float]) -> Vector:
        cx, cy, angle = self.modes.turned
        cos, sin = math.cos(angle), math.sin(angle)
        place = self.machine.position
        x, y = place[0] - self.offset[0] - cx, place[1] - self.offset[1] - cy
        part = [x * cos + y * sin + cx, y * cos - x * sin + cy, place[2] - self.offset[2]]
        for axis, value in given.items():
            part[axis] = part[axis] + value if self.modes.distance == 91 else value
        x, y = part[0] - cx, part[1] - cy
        return (
            x * cos - y * sin + cx + self.offset[0],
            x * sin + y * cos + cy + self.offset[1],
            part[2] + self.offset[2],
        )

    def _motion(self, motion: float, values: dict[str, float], machine_frame: bool) -> None:
        scale = self.modes.scale
        given = {axis: values[letter] * scale for axis, letter in ((0, "X"), (1, "Y"), (2, "Z")) if letter in values}
        if machine_frame:
            self._need_home()
            place = self.machine.position
            target = (given.get(0, place[0]), given.get(1, place[1]), given.get(2, place[2]))
        else:
            target = self._target_of(given)
        self.run.request_used = self.run.request_used or self._request_read
        absolute = machine_frame or self.modes.distance == 90
        if absolute and self.touches:
            self._sent(given, target, machine_frame)
        if 2 in given and absolute and not machine_frame and self.modes.length_old:
            self.machine.event("length-old", why=self.modes.length_old)
            self.modes.length_old = ""
        if target != self.machine.position:
            self.watch.moves()
            if self.touches:
                self._leaves(target)
                self.touches.moved(given, absolute)
        self.run.z_absolute = self.run.z_absolute or (2 in given and absolute)
        if motion == 0:
            self.machine.move(target, "rapid", 0.0, self._state, machine_frame)
        elif motion == 1:
            self.machine.move(target, "feed", self._feed(target), self._state, machine_frame)
        elif motion in (2, 3):
            self._arc(motion, target, values, machine_frame)
        elif motion in self.touching:
            self._touch(target, self.touching[motion])
        elif motion >= 81:
            self._canned(motion, given, values)
        elif given:
            raise RunFault("Axis words stand in the block and no motion is active (G80).")

    def _sent(self, given: Iterable[int], target: Vector, machine_frame: bool) -> None:
        """Note where axes are sent because of touches."""
        for axis in given:
            if touched := self._of_word("XYZ"[axis]):
                self.machine.event(
                    "touched-move",
                    axis=axis,
                    target=target[axis],
                    machine_frame=machine_frame,
                    frame=self.offset[axis],
                    touches=touched,
                )

    def _leaves(self, target: Vector) -> None:
        """Where the contact of a touch is still kept, a move goes back from it first."""
        touches, here = self.touches, self.machine.position
        assert touches
        if touches.left is None:
            return
        way, touches.left = touches.left, None
        move = [end - start for start, end in zip(here, target, strict=True)]
        along = sum(m * w for m, w in zip(move, way, strict=True))
        aside = math.sqrt(max(0.0, sum(m * m for m in move) - along * along))
        if along > -1e-6 and aside > 1e-6:
            self.machine.event("contact-kept", aside=aside)

    def _of_word(self, letter: str) -> list[int]:
        return sorted(self.touches.words.get(letter, ())) if self.touches else []

    def _touch(self, target: Vector, stops: bool) -> None:
        """A touching move, and its result in the parameters; a miss ``stops`` the control or not."""
        known, here = self.profile.parameters, self.machine.position
        feed, given = self._feed(target), self.run.feed is not None
        self.parameters.values[known.touch_made] = 0.0
        touched = self.machine.touch(target, feed, self._state)
        way = [end - start for start, end in zip(here, target, strict=True)]
        long = math.hypot(*way) or 1.0
        x, y, z = (part / long for part in way)
        if self.parameters.touches is None:
            self.parameters.touches = Touches()
        first = known.latched_first
        touches = self.parameters.touches
        number = touches.begun((x, y, z), range(first, first + 3), known.touch_made, touched.latched is not None)
        data: dict[str, Any] = {"touch": number, "stops": stops, "way": [x, y, z], "feed": feed, "feed_given": given}
        if touched.latched is None:
            self.machine.event("missed-touch", **data)
            if stops:
                raise Crashed
            return
        frame = self.offset if self.profile.latched != "machine" else (0.0, 0.0, 0.0)
        for axis in range(3):
            self.parameters.values[known.latched_first + axis] = touched.latched[axis] - frame[axis]
        self.parameters.values[known.touch_made] = 1.0
        self.machine.event("touch", latched=touched.latched, stopped=touched.stopped, input=touched.input, **data)

    def _feed(self, target: Vector, way: float | None = None) -> float:
        self.machine.asked.add("override")
        feed = self.modes.feed if self.modes.override_locked else self.modes.feed * self.run.call.override
        if self.modes.feed_mode == 93:
            way = math.dist(self.machine.position, target) if way is None else way
            feed = feed * way
        if feed <= 0:
            raise RunFault("The feed is zero; give an F word.")
        return feed

    def _arc(self, motion: float, target: Vector, values: dict[str, float], frame: bool) -> None:
        arc = arc_between(self.machine.position, target, motion == 2, self.modes.plane, values, self.modes.scale)
        self.machine.arc(target, arc, self._feed(target, arc.length), self._state, frame)

    def _canned(self, cycle: float, given: dict[int, float], values: dict[str, float]) -> None:
        if self.modes.plane != 17:
            raise RunFault("Canned cycles are run in the XY plane (G17) only.")
        self.cycle.update({letter: values[letter] for letter in "RZQP" if letter in values})
        if "R" not in self.cycle or "Z" not in self.cycle:
            raise RunFault("A canned cycle wants R and Z.")
        scale, machine, relative = self.modes.scale, self.machine, self.modes.distance == 91
        for _ in range(max(1, min(MOST_REPEATS, round(values.get("L", 1))))):
            here = machine.position
            x, y, _z = self._target_of({axis: value for axis, value in given.items() if axis < 2})
            clear = self.cycle["R"] * scale + (here[2] if relative else self.offset[2])
            deep = self.cycle["Z"] * scale + (clear if relative else self.offset[2])
            peck = self.cycle.get("Q", 0.0) * scale
            for go in cycle_moves(cycle, here, x, y, clear, deep, peck, self.modes.return_level == 98):
                place = (go.x, go.y, go.z)
                if go.kind == "wait":
                    machine.dwell(self.cycle.get("P", 0.0) * self.profile.dwell_seconds, self._state)
                else:
                    feed = self._feed(place) if go.kind == "feed" else 0.0
                    machine.move(place, go.kind, feed, self._state, False)
