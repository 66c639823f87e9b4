"""What sets offsets: G10, G28, G30, G92 and their like."""

from orthotrope.machine.drive import Drive
from orthotrope.machine.memory import ControlMemory
from orthotrope.program.faults import RunFault
from orthotrope.setup.numbering import OFFSETS_FIRST, OFFSETS_STEP, SHIFT_FIRST

OFFSET_WORDS = frozenset({10, 28, 28.1, 30, 30.1, 92, 92.1, 92.2, 92.3})
"""G words that are for their block alone and set an offset, or go home."""


class Offsets:
    """Tool lengths, work offsets and the shift of the zero, as a block sets them."""

    def __init__(self, memory: ControlMemory, drive: Drive):
        self.memory, self.drive = memory, drive

    def run(self, code: float, values: dict[str, float]) -> None:
        """Run one of :data:`OFFSET_WORDS` with the block's other words.

        Raises:
            RunFault: what RS-274 calls an error.
            Crashed: where the machine stops by itself.
        """
        scale = self.memory.modes.scale
        given = {axis: values[letter] * scale for axis, letter in enumerate("XYZ") if letter in values}
        if code == 10:
            self._g10(given, values)
        elif code in (28, 30):
            self._go_home(given)
        elif code == 92:
            self._shift(given)
        elif code == 92.1:
            self.memory.modes.shift_off = False
            for axis in range(3):
                self.memory.parameters.values[SHIFT_FIRST + axis] = 0.0
        elif code in (92.2, 92.3):  # the parameters stay (NISTIR 6556, 3.5.18)
            self.memory.modes.shift_off = code == 92.2
        self.memory.offset = self.memory.offset_now()

    def _go_home(self, given: dict[int, float]) -> None:
        memory, machine = self.memory, self.memory.machine
        memory.must_be_homed()
        through = self.drive.target_of(given)
        memory.run.z_absolute = memory.run.z_absolute or not given or 2 in given
        if given:
            machine.move(through, "rapid", 0.0, memory.block, False)
        home = tuple(a.home if i in given or not given else through[i] for i, a in enumerate(memory.world.axes))
        machine.move((home[0], home[1], home[2]), "rapid", 0.0, memory.block, True)

    def _shift(self, given: dict[int, float]) -> None:
        """G92: the zero is shifted so that the place has these coordinates."""
        memory, modes, machine = self.memory, self.memory.modes, self.memory.machine
        modes.shift_off = False
        work, zeros = memory.parameters.offset(modes.work_offset), {}
        for axis, value in given.items():
            length = modes.length if axis == 2 else 0.0
            zeros[axis] = machine.axes.position[axis] - value - length
            memory.parameters.values[SHIFT_FIRST + axis] = zeros[axis] - work[axis]
        memory.zero_set("place", 0, zeros, {axis: self._touch_of_place(axis) for axis in zeros})
        machine.journal.event("offset-set", word="G92", axes=sorted(given))

    def _g10(self, given: dict[int, float], values: dict[str, float]) -> None:
        kind, number = round(values.get("L", 0)), round(values.get("P", 0))
        if kind == 1:
            self._set_length(number, given)
        elif kind in (2, 20):
            self._set_work_offset(kind, number, given)
        else:
            raise RunFault(f"G10 L{kind} is not known; there are L1, L2 and L20.")

    def _set_length(self, number: int, given: dict[int, float]) -> None:
        memory, modes = self.memory, self.memory.modes
        if number < 1:
            raise RunFault("G10 L1 wants a tool's number in P.")
        if 2 not in given:
            return
        if modes.length_mode == 43 and number == modes.length_number and given[2] != modes.length:
            modes.length_old = f"the length of T{number} was changed"
        memory.lengths[number] = given[2]
        memory.machine.journal.event(
            "length-set",
            tool=number,
            length=given[2],
            active=modes.work_offset,
            touches=memory.touches_of("Z"),
            tested=sorted(memory.touches.tested) if memory.touches else [],
        )

    def _set_work_offset(self, kind: int, number: int, given: dict[int, float]) -> None:
        """L2: to these machine coordinates; L20: so that the place has these part coordinates."""
        memory, modes, machine = self.memory, self.memory.modes, self.memory.machine
        number = number or modes.work_offset
        if not 1 <= number <= 9:
            raise RunFault(f"G10 wants a work offset from 1 to 9 in P; got {number}.")
        first = OFFSETS_FIRST + (number - 1) * OFFSETS_STEP
        shift = memory.parameters.shift()
        zeros, touched = dict(given), {axis: memory.touches_of("XYZ"[axis]) for axis in given}
        there, active = memory.parameters.offset(number), memory.parameters.offset(modes.work_offset)
        between = {axis: there[axis] - active[axis] for axis in given}
        if kind == 20:
            for axis, value in given.items():
                length = modes.length if axis == 2 else 0.0
                zeros[axis] = machine.axes.position[axis] - value - shift[axis] - length
                touched[axis] = touched[axis] or self._touch_of_place(axis)
        for axis, zero in zeros.items():
            memory.parameters.values[first + axis] = zero
        memory.zero_set("value" if kind == 2 else "place", number, zeros, touched, between)
        machine.journal.event("offset-set", word="G10", offset=number, axes=sorted(given))

    def _touch_of_place(self, axis: int) -> list[int]:
        """The touch because of which an axis is where it is, if any."""
        touch = self.memory.touches.stands[axis] if self.memory.touches else None
        return [] if touch is None else [touch]
