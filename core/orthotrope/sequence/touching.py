"""What every text that touches begins and ends with, whatever it touches: the record asked, the inputs idle, the spindle
standing, up; and what was latched turned into machine coordinates."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Protocol

from orthotrope.sequence.allotment import Allotment
from orthotrope.sequence.exchanges.registry import planner_of
from orthotrope.sequence.positions import KNOWN_STATE, NO_LENGTH, SPIN_MARGIN
from orthotrope.sequence.steps import Choose, Compute, ComputeIf, Dwell, Move, SetModes, Spindle, Step, UseLength, Wait
from orthotrope.sequence.values import Binary, Number, Parameter, Value, length, parameter
from orthotrope.sequence.waiting import still_made
from orthotrope.setup import Setup
from orthotrope.setup.control import ControlProfile
from orthotrope.setup.numbering import ACTIVE_OFFSET, OFFSETS_FIRST, OFFSETS_STEP, SHIFT_FIRST
from orthotrope.setup.touch_device import TouchDevice
from orthotrope.units import MM_PER_INCH

ABSOLUTE = SetModes((Number(90),))
OWN_LABELS = 2001
"""Labels of measuring and probing begin here, so that an exchange in the same text has others."""

BEFORE = frozenset({"another tool", "made", "another offset"})
"""Labels of refusals that are gone to before the state is a known one: the caller's length is still in force, and whichever tool is
there."""

SETTLES = 0.1
"""Seconds from a back-off until the input is asked whether it is idle again."""


class WritingContext(Protocol):
    """What a text is written for: the Setup, the control, and machine X, Y that a control without parameters goes back to, mm."""

    @property
    def setup(self) -> Setup: ...

    @property
    def profile(self) -> ControlProfile: ...

    @property
    def called_at(self) -> tuple[float, float]: ...


@dataclass(slots=True)
class Touching:
    """A text with touches on its way: what is wanted, the numbers it uses of the control, and the tool that it holds (0: whichever
    is there)."""

    wanted: WritingContext
    use: Allotment
    tool_held: int = 0

    @property
    def works_out(self) -> bool:
        """Whether the text does the sum itself: it has parameters and conditions, and finds the touch in them."""
        profile = self.wanted.profile
        return profile.arithmetic and profile.conditions and profile.latched != "none"

    @property
    def asks(self) -> bool:
        """Whether the text asks before it goes on: the record, inputs, whether a touch was made."""
        return self.works_out

    def said(self, value: float) -> str:
        """A length in a message, as this control shows it."""
        profile = self.wanted.profile
        if profile.unit == "inch":
            return f"{value / MM_PER_INCH:.{profile.decimals}f} in"
        return f"{value:.{profile.decimals}f} mm"

    @property
    def top(self) -> Move:
        """Up to the top of travel."""
        return Move((("Z", length(self.wanted.setup.machine.axes.upright.soft_greatest)),), note="up")

    def holds(self, number: int) -> Iterator[Step]:
        """Go on only where this tool is in the spindle, as the record says."""
        known = self.wanted.profile.parameters
        self.tool_held = number
        if self.wanted.profile.record == "parameter" and self.asks:
            doubtful = Binary("EQ", parameter(known.record_doubtful), Number(1))
            other = Binary("NE", parameter(known.record), Number(number))
            yield Choose(doubtful, self.use.label("another tool"), "correct the record first")
            yield Choose(other, self.use.label("another tool"), f"T{number} must be in the spindle")

    def _free(self) -> Iterator[Step]:
        """Go on only where straight up pulls at nothing that the changer holds."""
        setup, profile = self.wanted.setup, self.wanted.profile
        if setup.changer is None or not self.asks:
            return
        planner, derived = planner_of(setup)
        held = planner.held_where(setup, derived, profile)
        if held is not None:
            yield Choose(held, self.use.label("in the changer"), "the changer holds it: not straight up")

    def idle(self, label: str, first: int) -> Iterator[Step]:
        """Go on only where every input that a touch makes is idle: the control stops at any of them. ``first``: the number
        of the one that is asked first."""
        if self.asks:
            before = self.wanted.profile.parameters.input_first
            touching = {entry.number for entry in self.wanted.setup.inputs if entry.touches} | {first}
            for number in sorted(touching, key=lambda entry: entry != first):
                made = Binary("EQ", parameter(before + number), Number(1))
                yield Choose(made, self.use.label(label), "idle, or stop")

    def stand(self, *more: Value, touches: bool = True) -> Iterator[Step]:
        """A known state, with ``more`` modes, and the spindle standing; no length is in force where it ``touches``, since what is
        latched would have it in it."""
        setup = self.wanted.setup
        yield SetModes((*KNOWN_STATE, *((NO_LENGTH,) if touches else ()), *more), "a known state")
        yield from self._free()
        yield Spindle("stop")
        still = setup.input_of("spindle still")
        seconds = setup.machine.spindle.seconds_to_speed
        if still and self.asks:
            turns, timer = self.use.label("turns"), self.use.number("timer")
            yield Wait(still.number, Number(seconds), 2 * seconds + 1, turns, timer, "until it stands")
            state = parameter(self.wanted.profile.parameters.input_first + still.number)
            yield from still_made(state, timer, max(0.1, seconds * SPIN_MARGIN), turns, "still made")
        else:
            yield Dwell(Number(max(0.1, seconds * SPIN_MARGIN)), "until it stands")

    def back(self) -> Iterator[Step]:
        """Back to where it was called, Z up; the modes as they were."""
        known = self.wanted.profile.parameters
        x, y = self.wanted.called_at
        if self.asks:
            first = known.called_at_first
            yield Move((("X", parameter(first)), ("Y", parameter(first + 1))), note="back; Z stays up")
        else:
            yield Move((("X", length(x)), ("Y", length(y))), note="back; Z stays up")
        yield from self.restored()

    def restored(self) -> Iterator[Step]:
        """The length of the tool in force, where none was meanwhile, and the modes as the caller had them."""
        if self.tool_held and 43 in self.wanted.profile.g_words:
            yield UseLength(Number(self.tool_held), "its length is in force")
        if self.asks:
            yield self.modes()

    def modes(self) -> Step:
        known = self.wanted.profile.parameters
        return SetModes((parameter(known.called_unit), parameter(known.called_distance)), "as the caller had them")

    def latched(self, axis: int = 2) -> Value:
        """Machine Z of the gauge line at the latch, of the tip where a length is in force, or another axis: the latched part
        coordinate, and where the zero is that it counts from."""
        latched = parameter(self.wanted.profile.parameters.latched_first + axis)
        if self.wanted.profile.latched == "machine":
            return latched
        # The first work offset's axes follow its first number; those of each next one are so many further.
        before = Number(OFFSETS_FIRST + axis - OFFSETS_STEP)
        zero = Parameter(Binary("+", before, Binary("*", Number(OFFSETS_STEP), parameter(ACTIVE_OFFSET))))
        return Binary("+", Binary("+", latched, zero), parameter(SHIFT_FIRST + axis))

    def count(self, number: int) -> Iterator[Step]:
        """Take what was "touched" by this touch into the sum, the lowest and the highest of those that count."""
        use, value = self.use, self.use.value("touched")
        if number == 1:
            for kept in ("sum", "lowest", "highest"):
                yield Compute(use.number(kept), value)
            return
        yield Compute(use.number("sum"), Binary("+", use.value("sum"), value))
        yield ComputeIf(Binary("LT", value, use.value("lowest")), use.number("lowest"), value)
        yield ComputeIf(Binary("GT", value, use.value("highest")), use.number("highest"), value)

    def alike(self, device: TouchDevice) -> Iterator[Step]:
        """Go on only where the touches that count differ by no more than the device's spread."""
        if device.touches > 1:
            apart = Binary("-", self.use.value("highest"), self.use.value("lowest"))
            yield Choose(Binary("GT", apart, length(device.spread)), self.use.label("scatter"), "the touches differ")

    def mean_of(self, device: TouchDevice) -> Value:
        """The mean of the touches that count."""
        total = self.use.value("sum")
        return Binary("/", total, Number(device.touches)) if device.touches > 1 else total
