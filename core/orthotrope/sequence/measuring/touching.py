"""A touch as all measuring makes it (trade.md, Touching): the input idle or stop; up, over the setter, rapid to where the
search begins; search; back off by more than it ran on; idle again or stop; measure with an end just beyond the back-off,
as often as the setter wants it; then up, and only then is anything worked out or set.

Touches are made by so much further, so that neither the work offset nor the length that is in force matters; what was
latched is turned into machine coordinates in the text."""

from collections.abc import Iterator
from dataclasses import dataclass

from orthotrope.calc.setters import DerivedSetter
from orthotrope.errors import InputError
from orthotrope.sequence.exchanges.allotment import Allotment
from orthotrope.sequence.measuring.registry import Wanted
from orthotrope.sequence.positions import KNOWN_STATE, SPIN_MARGIN
from orthotrope.sequence.steps import (
    Choose,
    Compute,
    ComputeIf,
    Dwell,
    Further,
    Label,
    Move,
    Say,
    SetModes,
    Spindle,
    Step,
    Stop,
    Touch,
    UseLength,
    Wait,
)
from orthotrope.sequence.values import Binary, Number, Parameter, Value, length, parameter
from orthotrope.setup.numbering import ACTIVE_OFFSET, OFFSETS_FIRST, OFFSETS_STEP, SHIFT_FIRST
from orthotrope.setup.tools import Tool
from orthotrope.units import MM_PER_INCH

ABSOLUTE = SetModes((Number(90),))
OWN_LABELS = 2001
"""Labels of measuring begin here, so that an exchange in the same text has others."""

SETTLES = 0.1
"""Seconds from a back-off until the input is asked whether it is idle again."""


@dataclass(frozen=True, slots=True)
class Measuring:
    """One measuring program on its way: what is wanted, and the numbers it uses of the control."""

    wanted: Wanted
    use: Allotment

    @classmethod
    def of(cls, wanted: Wanted) -> "Measuring":
        return cls(wanted, Allotment(wanted.profile.parameters, OWN_LABELS))

    @property
    def at(self) -> DerivedSetter:
        assert self.wanted.setter is not None
        return self.wanted.setter

    @property
    def works_out(self) -> bool:
        """Whether the text does the sum itself: it has parameters and conditions, and finds the touch in them."""
        profile = self.wanted.profile
        return profile.arithmetic and profile.conditions and profile.latched != "none"

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

    def tool(self, number: int) -> Tool:
        """A tool that this setter can measure.

        Raises:
            InputError: where its search does not fit the travel, with what would do.
        """
        tool = self.wanted.setup.tool(number)
        found = next(entry for entry in self.at.tools if entry.number == number)
        if not found.fits:
            raise InputError.at("/tools", found.says)
        return tool

    # -- guards and ends ----------------------------------------------------------------------------------------------

    def holds(self, number: int) -> Iterator[Step]:
        """Go on only where this tool is in the spindle, as the record says."""
        known = self.wanted.profile.parameters
        if self.wanted.profile.record == "parameter" and self.works_out:
            doubtful = Binary("EQ", parameter(known.record_doubtful), Number(1))
            other = Binary("NE", parameter(known.record), Number(number))
            yield Choose(doubtful, self.use.label("another tool"), "settle the record first")
            yield Choose(other, self.use.label("another tool"), f"T{number} must be in the spindle")

    def idle(self, label: str) -> Iterator[Step]:
        """Go on only where the setter's input is idle."""
        if self.works_out:
            state = parameter(self.wanted.profile.parameters.input_first + self.at.setter.input)
            yield Choose(Binary("EQ", state, Number(1)), self.use.label(label), "idle, or stop")

    def ready(self) -> Iterator[Step]:
        """A known state, the spindle standing, up, and over the setter."""
        setup = self.wanted.setup
        yield SetModes(KNOWN_STATE, "a known state")
        yield Spindle("stop")
        still = setup.input_of("spindle still")
        seconds = setup.machine.spindle.seconds_to_speed
        if still and self.works_out:
            turns, timer = self.use.label("turns"), self.use.number("timer")
            yield Wait(still.number, Number(seconds), 2 * seconds + 1, turns, timer, "until it stands")
        else:
            yield Dwell(Number(max(0.1, seconds * SPIN_MARGIN)), "until it stands")
        yield self.top
        x, y = self.at.place or self.wanted.called_at
        yield Move((("X", length(x)), ("Y", length(y))), note=f"over {self.at.setter.name}")

    def back(self) -> Iterator[Step]:
        """Back to where it was called, Z up; the modes as they were."""
        known = self.wanted.profile.parameters
        x, y = self.wanted.called_at
        if self.works_out:
            first = known.called_at_first
            yield Move((("X", parameter(first)), ("Y", parameter(first + 1))), note="back; Z stays up")
            yield self.modes()
        else:
            yield Move((("X", length(x)), ("Y", length(y))), note="back; Z stays up")

    def modes(self) -> Step:
        known = self.wanted.profile.parameters
        return SetModes((parameter(known.called_unit), parameter(known.called_distance)), "as the caller had them")

    def refusals(self) -> Iterator[Step]:
        """What it says where it does not begin, or where it does not go on: those that were gone to."""
        name = self.at.setter.name
        says = {
            "another tool": (False, "Another tool is in the spindle, or its record is doubtful. Nothing has moved"),
            "made": (False, f"The input of {name} is made though nothing touches it. Nothing has moved"),
            "turns": (False, "The spindle does not stand still. Nothing has moved"),
            "kept": (True, f"The input of {name} is made where it should be idle. Look at it"),
            "missed": (True, "No touch: the tool is shorter than its record, another one, or the input is dead"),
            "scatter": (True, "The touches differ too much: clean tool and setter and measure again"),
            "broken": (True, "The length is not the one on record, within its tolerance: look at the tool"),
        }
        for label, (lifts, text) in says.items():
            if not self.use.has(label):
                continue
            yield Label(self.use.label(label))
            if lifts:
                yield ABSOLUTE
                yield self.top
            yield Say(text)
            yield Stop("pause")
            yield self.modes()
            yield Stop("end")

    # -- touches ------------------------------------------------------------------------------------------------------

    def touch(self, down: float, feed: float, note: str) -> Iterator[Step]:
        """One touch, ``down`` mm further at the most; a miss stops the control, or is told."""
        profile = self.wanted.profile
        goes_on = self.works_out and profile.touch_goes_on is not None
        yield Touch((("Z", length(-down)),), length(feed), not goes_on, note, relative=True)
        if goes_on:
            missed = Binary("NE", parameter(profile.parameters.touch_made), Number(1))
            yield Choose(missed, self.use.label("missed"))

    def touches(self, expected: float, active: int = 0) -> Iterator[Step]:
        """Down to where the search for a tool of this length begins, search, and the touches that count; their sum,
        least and greatest are kept. Z is up afterwards. ``active``: the tool whose length is in force meanwhile, 0:
        none."""
        setter = self.at.setter
        begin = setter.plane_z + expected + setter.margin
        yield from self.idle("made")
        yield from self.ready()
        if active:
            yield UseLength(active, "its length is in force")
        yield Move((("Z", length(begin)),), note="above where it should touch")
        yield from self.idle("kept")
        yield from self.touch(setter.margin + setter.overtravel, setter.search_feed, "search")
        for number in range(1, setter.touches + 1):
            yield Further((("Z", length(setter.back_off)),), note="back off")
            yield Dwell(Number(SETTLES))
            yield from self.idle("kept")
            yield from self.touch(setter.back_off + self.at.beyond, setter.measure_feed, f"measure, touch {number}")
            if self.works_out:
                yield from self._count(number)
        yield ABSOLUTE
        yield self.top
        if self.works_out and setter.touches > 1:
            use = self.use
            apart = Binary("-", use.value("highest"), use.value("lowest"))
            yield Choose(Binary("GT", apart, length(setter.spread)), use.label("scatter"), "the touches differ")

    def _count(self, number: int) -> Iterator[Step]:
        """Take a touch into the sum; Z of the gauge line when it was latched, machine coordinates."""
        use = self.use
        yield Compute(use.number("touched"), self.latched(), "Z at the touch, machine coordinates")
        value = use.value("touched")
        if number == 1:
            for kept in ("sum", "lowest", "highest"):
                yield Compute(use.number(kept), value)
            return
        yield Compute(use.number("sum"), Binary("+", use.value("sum"), value))
        yield ComputeIf(Binary("LT", value, use.value("lowest")), use.number("lowest"), value)
        yield ComputeIf(Binary("GT", value, use.value("highest")), use.number("highest"), value)

    def latched(self) -> Value:
        """Machine Z of the gauge line at the latch, of the tip where a length is in force: the latched part coordinate, and
        where the zero is that it counts from."""
        latched = parameter(self.wanted.profile.parameters.latched_first + 2)
        if self.wanted.profile.latched == "machine":
            return latched
        # Z of the active work offset: the first one's Z is two numbers after the first, each next one so many further.
        before = Number(OFFSETS_FIRST + 2 - OFFSETS_STEP)
        zero = Parameter(Binary("+", before, Binary("*", Number(OFFSETS_STEP), parameter(ACTIVE_OFFSET))))
        return Binary("+", Binary("+", latched, zero), parameter(SHIFT_FIRST + 2))

    def mean(self) -> Value:
        """The mean of the touches that count."""
        count = self.at.setter.touches
        total = self.use.value("sum")
        return Binary("/", total, Number(count)) if count > 1 else total
