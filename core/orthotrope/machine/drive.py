"""How a control drives the machine: straight moves, arcs, canned cycles and touches, in part and in machine coordinates."""

import math
from collections.abc import Iterable
from typing import Any

from orthotrope.machine.arcs import arc_between
from orthotrope.machine.cycles import cycle_moves
from orthotrope.machine.memory import ControlMemory
from orthotrope.machine.motion import Vector
from orthotrope.machine.stops import Crashed
from orthotrope.machine.touches import Touches
from orthotrope.program.faults import RunFault

NOT_SIMULATED = {
    84: "the spindle does not turn back at the bottom, and the way up is a rapid",
    86: "the spindle does not stand on the way up",
    87: "boring from behind is run as boring from the front",
    88: "the spindle does not stand, and nobody draws it up by hand",
}
"""What canned cycles do that is not run."""


class Drive:
    """Turns a block's axis words into moves of the machine, in the modes of the control."""

    def __init__(self, memory: ControlMemory):
        self.memory = memory

    def target_of(self, given: dict[int, float]) -> Vector:
        """The machine place of part coordinates (mm) for the axes given."""
        memory = self.memory
        if memory.modes.rotation == 68 and (0 in given or 1 in given):
            return self._turned(given)
        place = list(memory.machine.axes.position)
        if memory.modes.distance == 91:
            for axis, value in given.items():
                place[axis] += value
        else:
            for axis, value in given.items():
                place[axis] = value + memory.offset[axis]
        return place[0], place[1], place[2]

    def _turned(self, given: dict[int, float]) -> Vector:
        memory, place, offset = self.memory, self.memory.machine.axes.position, self.memory.offset
        cx, cy, angle = memory.modes.turned
        cos, sin = math.cos(angle), math.sin(angle)
        x, y = place[0] - offset[0] - cx, place[1] - offset[1] - cy
        part = [x * cos + y * sin + cx, y * cos - x * sin + cy, place[2] - offset[2]]
        for axis, value in given.items():
            part[axis] = part[axis] + value if memory.modes.distance == 91 else value
        x, y = part[0] - cx, part[1] - cy
        return x * cos - y * sin + cx + offset[0], x * sin + y * cos + cy + offset[1], part[2] + offset[2]

    def go(self, motion: float, values: dict[str, float], machine_frame: bool) -> None:
        """Run the axis words of a block in a ``motion`` mode (a G number).

        Raises:
            RunFault: what RS-274 calls an error (NISTIR 6556: 3.5.1, 3.5.16: no machine coordinates and no touching move while
                cutter compensation is on).
            Crashed: where the machine stops by itself.
        """
        memory, modes, machine, run = self.memory, self.memory.modes, self.memory.machine, self.memory.run
        scale, place = modes.scale, machine.axes.position
        given = {axis: values[letter] * scale for axis, letter in ((0, "X"), (1, "Y"), (2, "Z")) if letter in values}
        if modes.cutter != 40 and (machine_frame or motion in memory.touching):
            what = "Machine coordinates (G53)" if machine_frame else "A touching move"
            raise RunFault(f"{what} while cutter compensation is on; cancel it first (G40).")
        if machine_frame:
            memory.must_be_homed()
            target = (given.get(0, place[0]), given.get(1, place[1]), given.get(2, place[2]))
        else:
            target = self.target_of(given)
        run.request_used = run.request_used or memory.request_read
        absolute, touches = machine_frame or modes.distance == 90, memory.touches
        if absolute and touches:
            self._note_sent(given, target, machine_frame)
        if 2 in given and absolute and not machine_frame and modes.length_old:
            machine.journal.event("length-old", why=modes.length_old)
            modes.length_old = ""
        if target != place:
            memory.watch.moves()
            if touches:
                self._note_leaving(touches, target)
                touches.moved(given, absolute)
        run.z_absolute = run.z_absolute or (2 in given and absolute)
        if modes.cutter != 40 and motion in (1, 2, 3):
            memory.not_simulated(f"cutter compensation (G{modes.cutter}); the path is run as it is written")
        if motion == 0:
            machine.move(target, "rapid", 0.0, memory.block, machine_frame)
        elif motion == 1:
            machine.move(target, "feed", self._feed(target), memory.block, machine_frame)
        elif motion in (2, 3):
            arc = arc_between(place, target, motion == 2, modes.plane, self._centre(values), scale)
            machine.arc(target, arc, self._feed(target, arc.length), memory.block, machine_frame)
        elif motion in memory.touching:
            self._touch(target, memory.touching[motion])
        elif motion >= 81:
            self._canned(motion, given, values)
        elif given:
            raise RunFault("Axis words stand in the block and no motion is active (G80).")

    def _centre(self, values: dict[str, float]) -> dict[str, float]:
        """The words of an arc, its centre turned as the part coordinates are."""
        modes = self.memory.modes
        if modes.rotation != 68 or values.keys().isdisjoint("IJ"):
            return values
        if modes.plane != 17:
            self.memory.not_simulated("an arc outside the XY plane while part coordinates are turned")
        cos, sin = math.cos(modes.turned[2]), math.sin(modes.turned[2])
        i, j = values.get("I", 0.0), values.get("J", 0.0)
        return {**values, "I": i * cos - j * sin, "J": i * sin + j * cos}

    def _note_sent(self, given: Iterable[int], target: Vector, machine_frame: bool) -> None:
        """Note where axes are sent because of touches."""
        memory = self.memory
        for axis in given:
            if touched := memory.touches_of("XYZ"[axis]):
                memory.machine.journal.event(
                    "touched-move",
                    axis=axis,
                    target=target[axis],
                    machine_frame=machine_frame,
                    frame=memory.offset[axis],
                    touches=touched,
                )

    def _note_leaving(self, touches: Touches, target: Vector) -> None:
        """Where the contact of a touch is still kept, a move must go back from it first."""
        if touches.left is None:
            return
        machine = self.memory.machine
        way, touches.left = touches.left, None
        move = [end - start for start, end in zip(machine.axes.position, target, strict=True)]
        along = sum(m * w for m, w in zip(move, way, strict=True))
        aside = math.sqrt(max(0.0, sum(m * m for m in move) - along * along))
        if along > -1e-6 and aside > 1e-6:
            machine.journal.event("contact-kept", aside=aside)

    def _touch(self, target: Vector, stops: bool) -> None:
        """A touching move, and its result in the parameters; a miss ``stops`` the control or not."""
        memory, machine, parameters = self.memory, self.memory.machine, self.memory.parameters
        known, here = memory.profile.parameters, machine.axes.position
        feed, given = self._feed(target), memory.run.feed is not None
        parameters.values[known.touch_made] = 0.0
        touched = machine.touch(target, feed, memory.block)
        way = [end - start for start, end in zip(here, target, strict=True)]
        long = math.hypot(*way) or 1.0
        x, y, z = (part / long for part in way)
        if parameters.touches is None:
            parameters.touches = Touches()
        latched = range(known.latched_first, known.latched_first + 3)
        number = parameters.touches.begun((x, y, z), latched, known.touch_made, touched.latched is not None)
        data: dict[str, Any] = {"touch": number, "stops": stops, "way": [x, y, z], "feed": feed, "feed_given": given}
        if touched.latched is None:
            machine.journal.event("missed-touch", **data)
            if stops:
                raise Crashed
            return
        frame = memory.offset if memory.profile.latched != "machine" else (0.0, 0.0, 0.0)
        for index, place, zero in zip(latched, touched.latched, frame, strict=True):
            parameters.values[index] = place - zero
        parameters.values[known.touch_made] = 1.0
        machine.journal.event("touch", latched=touched.latched, stopped=touched.stopped, input=touched.input, **data)

    def _feed(self, target: Vector, distance: float | None = None) -> float:
        """The feed of a move to a place, mm/min; its ``distance`` where it is no straight one, mm."""
        modes, machine = self.memory.modes, self.memory.machine
        machine.journal.dependencies.add("override")
        feed = modes.feed if modes.override_locked else modes.feed * self.memory.run.call.override
        if modes.feed_mode == 93:
            if not self.memory.feed_given:
                raise RunFault("In inverse time (G93) each move gives its own F.")
            feed *= math.dist(machine.axes.position, target) if distance is None else distance
        if feed <= 0:
            raise RunFault("The feed is zero; give an F word.")
        return feed

    def _canned(self, cycle: float, given: dict[int, float], values: dict[str, float]) -> None:
        memory, modes, machine, kept = self.memory, self.memory.modes, self.memory.machine, self.memory.cycle
        if modes.plane != 17:
            raise RunFault("Canned cycles are run in the XY plane (G17) only.")
        kept.update({letter: values[letter] for letter in "RZQP" if letter in values})
        if "R" not in kept or "Z" not in kept:
            raise RunFault("A canned cycle wants R and Z.")
        scale, relative, offset = modes.scale, modes.distance == 91, memory.offset
        if says := NOT_SIMULATED.get(int(cycle)):
            memory.not_simulated(f"G{cycle:g}: {says}")
        for _ in range(max(1, round(values.get("L", 1)))):  # more moves than a run may have end it
            here = machine.axes.position
            x, y, _z = self.target_of({axis: value for axis, value in given.items() if axis < 2})
            clear = kept["R"] * scale + (here[2] if relative else offset[2])
            deep = kept["Z"] * scale + (clear if relative else offset[2])
            peck = kept.get("Q", 0.0) * scale
            for go in cycle_moves(cycle, here, x, y, clear, deep, peck, modes.return_level == 98):
                place = (go.x, go.y, go.z)
                if go.kind == "wait":
                    machine.dwell(kept.get("P", 0.0) * memory.profile.dwell_seconds, memory.block)
                else:
                    feed = self._feed(place) if go.kind == "feed" else 0.0
                    machine.move(place, go.kind, feed, memory.block, False)
