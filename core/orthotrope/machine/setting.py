"""What a control is set to: the modes of G words, lengths, work offsets, the shift of the zero."""

import math

from orthotrope.machine.driving import Driving
from orthotrope.program.faults import RunFault
from orthotrope.program.words import WORK_OFFSET_OF
from orthotrope.setup.numbering import ACTIVE_OFFSET, OFFSETS_FIRST, OFFSETS_STEP, SHIFT_FIRST


class Setting(Driving):
    """A control whose modes and offsets are set."""

    def _g(
        self, code: float, values: dict[str, float], special: float | None, motion: float | None
    ) -> tuple[float | None, float | None]:
        """Take one G word into the modes; returns the block's word without mode, and its motion."""
        modes = self.modes
        if code in (0, 1, 2, 3) or 80 <= code <= 89 or code in self.touching:
            modes.motion = code
            motion = code
            if code == 80:
                self.cycle.clear()
        elif code in (17, 18, 19):
            modes.plane = int(code)
        elif code in (90, 91):
            modes.distance = int(code)
        elif code in (93, 94):
            modes.feed_mode = int(code)
        elif code in (20, 21):
            if self.unit_first is None:
                self.unit_first = not (self._unit_used or self.parameters.unit_met)
            modes.unit = int(code)
            self.parameters.inch = code == 20
        elif code in (40, 41, 42):
            modes.cutter = int(code)
        elif code == 43:
            number = round(values.get("H", self.machine.tool))
            if number not in self.lengths and number != 0:
                raise RunFault(f"There is no length offset H{number}.")
            modes.length_mode, modes.length = 43, self.lengths.get(number, 0.0)
            modes.length_old, modes.length_number = "", number
            self.machine.event("length-active", tool=number, length=modes.length)
            self.offset = self.offset_now()
        elif code == 49:
            modes.length_mode, modes.length = 49, 0.0
            modes.length_old = ""
            self.offset = self.offset_now()
        elif code in WORK_OFFSET_OF:
            modes.work_offset = WORK_OFFSET_OF[code]
            self.parameters.values[ACTIVE_OFFSET] = modes.work_offset
            self.offset = self.offset_now()
        elif code in (98, 99):
            modes.return_level = int(code)
        elif code == 68:
            modes.rotation = 68
            modes.turned = (
                values.pop("X", 0.0) * modes.scale,
                values.pop("Y", 0.0) * modes.scale,
                math.radians(values.pop("R", 0.0)),
            )
            x, y, turn = modes.turned
            self.machine.event("turned", x=x, y=y, degrees=math.degrees(turn), active=modes.work_offset)
        elif code == 69:
            modes.rotation, modes.turned = 69, (0.0, 0.0, 0.0)
        elif code in (4, 10, 28, 28.1, 30, 30.1, 53, 92, 92.1, 92.2, 92.3):
            special = code
        return special, motion

    def _special(self, code: float, values: dict[str, float]) -> None:
        """G10, G28, G30, G92 and their like."""
        scale, store = self.modes.scale, self.parameters
        given = {axis: values[letter] * scale for axis, letter in enumerate("XYZ") if letter in values}
        if code == 10:
            self._g10(given, values)
        elif code in (28, 30):
            self._need_home()
            through = self._target_of(given)
            self.run.z_absolute = self.run.z_absolute or not given or 2 in given
            if given:
                self.machine.move(through, "rapid", 0.0, self._state, False)
            home = tuple(a.home if i in given or not given else through[i] for i, a in enumerate(self.world.axes))
            self.machine.move((home[0], home[1], home[2]), "rapid", 0.0, self._state, True)
        elif code == 92:
            work = store.offset(self.modes.work_offset)
            zeros = {}
            for axis, value in given.items():
                length = self.modes.length if axis == 2 else 0.0
                zeros[axis] = self.machine.position[axis] - value - length
                store.values[SHIFT_FIRST + axis] = zeros[axis] - work[axis]
            self._zero_set("place", 0, zeros, {axis: self._of_place(axis) for axis in zeros})
            self.machine.event("offset-set", word="G92", axes=sorted(given))
        elif code in (92.1, 92.2):
            for axis in range(3):
                store.values[SHIFT_FIRST + axis] = 0.0
        self.offset = self.offset_now()

    def _g10(self, given: dict[int, float], values: dict[str, float]) -> None:
        kind, number = round(values.get("L", 0)), round(values.get("P", 0))
        if kind == 1:
            if number < 1:
                raise RunFault("G10 L1 wants a tool's number in P.")
            if 2 in given:
                if (
                    self.modes.length_mode == 43
                    and number == self.modes.length_number
                    and given[2] != self.modes.length
                ):
                    self.modes.length_old = f"the length of T{number} was changed"
                self.lengths[number] = given[2]
                self.machine.event(
                    "length-set",
                    tool=number,
                    length=given[2],
                    active=self.modes.work_offset,
                    touches=self._of_word("Z"),
                    tested=sorted(self.touches.tested) if self.touches else [],
                )
            return
        if kind not in (2, 20):
            raise RunFault(f"G10 L{kind} is not known; there are L1, L2 and L20.")
        number = number or self.modes.work_offset
        if not 1 <= number <= 9:
            raise RunFault(f"G10 wants a work offset from 1 to 9 in P; got {number}.")
        first = OFFSETS_FIRST + (number - 1) * OFFSETS_STEP
        shift = self.parameters.shift()
        zeros, touched = dict(given), {axis: self._of_word("XYZ"[axis]) for axis in given}
        between = {axis: self._between(number, axis) for axis in given}
        if kind == 20:
            for axis, value in given.items():
                length = self.modes.length if axis == 2 else 0.0
                zeros[axis] = self.machine.position[axis] - value - shift[axis] - length
                touched[axis] = touched[axis] or self._of_place(axis)
        for axis, zero in zeros.items():
            self.parameters.values[first + axis] = zero
        self._zero_set("value" if kind == 2 else "place", number, zeros, touched, between)
        self.machine.event("offset-set", word="G10", offset=number, axes=sorted(given))

    def _between(self, number: int, axis: int) -> float:
        """How far a work offset is from the active one, before it is set, mm."""
        there, active = (
            self.parameters.offset(number or self.modes.work_offset),
            self.parameters.offset(self.modes.work_offset),
        )
        return there[axis] - active[axis]

    def _of_place(self, axis: int) -> list[int]:
        stands = self.touches.stands[axis] if self.touches else None
        return [] if stands is None else [stands]
