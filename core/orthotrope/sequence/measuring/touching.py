"""A touch as all measuring makes it (hardware.md, Touching): the input idle or stop; up, over the setter, rapid to where the
search begins; search; back off by more than it ran on; idle again or stop; measure with an end just beyond the back-off,
as often as the setter wants it; then up, and only then is anything worked out or set.

Touches are made by so much further, so that neither the work offset nor the length that is in force matters; what was
latched is turned into machine coordinates in the text."""

from collections.abc import Iterator
from dataclasses import dataclass

from orthotrope.calc.setters import DerivedSetter
from orthotrope.errors import InputError
from orthotrope.sequence.allotment import Allotment
from orthotrope.sequence.exchanges.registry import IN_THE_CHANGER
from orthotrope.sequence.measuring.registry import MeasuringRequest
from orthotrope.sequence.positions import SPIN_MARGIN
from orthotrope.sequence.steps import (
    AxisName,
    Choose,
    Compute,
    Dwell,
    Label,
    Move,
    RelativeMove,
    Say,
    SetLength,
    Spindle,
    Step,
    Stop,
    Touch,
    UseLength,
)
from orthotrope.sequence.touching import ABSOLUTE, BEFORE, OWN_LABELS, SETTLES, Touching
from orthotrope.sequence.values import Binary, Function, Number, Value, length, parameter
from orthotrope.setup.tools import Tool

LOWER, BESIDE = 1.0, 5.0
"""mm; how far below the plane the edge is where a side is touched, and how far from it the search begins."""


@dataclass(slots=True)
class Measuring(Touching):
    """One measuring program on its way."""

    wanted: MeasuringRequest

    @classmethod
    def of(cls, wanted: MeasuringRequest) -> "Measuring":
        return cls(wanted, Allotment(wanted.profile.parameters, OWN_LABELS))

    @property
    def at(self) -> DerivedSetter:
        assert self.wanted.setter is not None
        return self.wanted.setter

    def tool(self, number: int) -> Tool:
        """A tool that this setter can measure.

        Raises:
            InputError: where its search does not fit the travel, with what would do.
        """
        tool = self.wanted.setup.tool(number)
        found = next(entry for entry in self.at.tools if entry.number == number)
        if not found.fits:
            raise InputError.at("/tools", found.says)
        changer = self.wanted.setup.changer
        if tool.turns_backwards and changer and changer.loosens_backwards:
            loosens = f"T{number} is held by a nut, which turning backwards can loosen: measure it standing."
            raise InputError.at("/turns_backwards", loosens)
        return tool

    # -- guards and ends ----------------------------------------------------------------------------------------------

    def quiet(self, label: str) -> Iterator[Step]:
        """Go on only where every input that a touch makes is idle, the setter's first."""
        yield from self.idle(label, self.at.setter.input)

    def ready(self, stands: bool, beside: float | Value = 0.0) -> Iterator[Step]:
        """A known state and the spindle standing where it does not yet; up, and over the setter, or so far ``beside`` its
        middle in X, mm."""
        if not stands:
            yield from self.stand()
        yield self.top
        x, y = self.at.place or self.wanted.called_at
        across = length(x + beside) if isinstance(beside, float) else Binary("+", beside, length(x))
        yield Move((("X", across), ("Y", length(y))), note=f"over {self.at.setter.name}")

    def refusals(self, moved: bool = False) -> Iterator[Step]:
        """What it says where it does not begin, or where it does not go on: those that were gone to. ``moved``: it has moved
        before, with a tool fetched."""
        name = self.at.setter.name
        so_far = "The tool is not measured" if moved else "Nothing has moved"
        due = " and ".join(f"T{number}" for number in self.wanted.tools)
        says = {
            "another tool": (
                False,
                f"{due} must be in the spindle: another tool is, or the record is doubtful. {so_far}",
            ),
            "in the changer": (False, IN_THE_CHANGER),
            "made": (False, f"The input of {name} is made though nothing touches it. {so_far}"),
            "turns": (False, f"The spindle does not stand still. {so_far}"),
            "kept": (True, f"The input of {name} is made where it should be idle. Look at it"),
            "missed": (True, "No touch: the tool is shorter than its record, another one, or the input is dead"),
            "scatter": (True, "The touches differ too much: clean tool and setter and measure again"),
            "another length": (
                False,
                "The tool is longer than its record by more than it can slip: is it the right one",
            ),
            "broken": (True, "The length is not the one on record, within its tolerance: look at the tool"),
        }
        for label, (lifts, text) in says.items():
            if not self.use.has(label):
                continue
            yield Label(self.use.label(label))
            if lifts:
                if any(self.wanted.setup.tool(number).turns_backwards for number in self.wanted.tools):
                    yield Spindle("stop")
                yield ABSOLUTE
                yield self.top
            if moved and self.wanted.profile.record == "parameter":
                yield Compute(
                    self.wanted.profile.parameters.record_doubtful, Number(1), "is it the tool, and is it there?"
                )
            yield Say(text)
            yield Stop("pause")
            yield from self.restored() if label not in BEFORE else (self.modes(),)
            yield Stop("end")

    # -- touches ------------------------------------------------------------------------------------------------------

    def touch(self, by: float, feed: float, note: str, axis: AxisName = "Z") -> Iterator[Step]:
        """One touch, ``by`` mm further at the most; a miss stops the control, or is reported."""
        profile = self.wanted.profile
        goes_on = self.works_out and profile.touch_goes_on is not None
        yield Touch(((axis, length(by)),), length(feed), not goes_on, note, relative=True)
        if goes_on:
            missed = Binary("NE", parameter(profile.parameters.touch_made), Number(1))
            yield Choose(missed, self.use.label("missed"))

    def length_set(self, number: Value, expected: Value | None = None) -> Iterator[Step]:
        """The length of a tool (its number) worked out of the touches, and set; or reported where it is keyed in. Not where it is
        off the one ``expected`` by more than the setter's overtravel: shorter ones miss, longer ones are other tools."""
        found = self.use.number("result")
        above = Binary("-", self.mean(), length(self.at.setter.plane_z))
        yield Compute(found, above, "the length: Z at the touch less the plane height")
        if expected is not None:
            off = Function("ABS", (Binary("-", parameter(found), expected),))
            far = Binary("GT", off, length(self.at.setter.overtravel))
            yield Choose(far, self.use.label("another length"), "more than it can slip")
        if self.wanted.profile.length_word == "entry card":
            yield Say(f"Enter on the card: the length of the tool is in #{found}")
        else:
            yield SetLength(number, parameter(found))

    def key_in(self, number: int) -> str:
        """What a person enters where the control does not do the sum."""
        return (
            f"Enter on the card: the length of T{number} is Z of the touch less the plane height, "
            f"then call T{number} again"
        )

    def touches(
        self,
        expected: float | Value,
        active: int = 0,
        stands: bool = False,
        tool: Tool | None = None,
        beside: Value | None = None,
        further: float = 0.0,
    ) -> Iterator[Step]:
        """Down to where the search for a tool of this length begins, search, and the touches that count; their sum,
        least and greatest are kept. Z is up afterwards. ``active``: the tool whose length is in force meanwhile, 0:
        none; ``stands``: the spindle does, and the state is known; ``tool``: what is touched off its axis, or turning;
        ``beside``: how far off its axis, where it may be one of several; ``further``: how much shorter it may be, mm."""
        setter = self.at.setter
        above = setter.plane_z + setter.margin
        begin = length(above + expected) if isinstance(expected, float) else Binary("+", expected, length(above))
        yield from self.quiet("made")
        yield from self.ready(stands, beside or (tool.off_axis if tool else 0.0))
        if active:
            yield UseLength(Number(active), "its length is in force")
            self.tool_held = 0  # there is nothing to put back
        yield Move((("Z", begin),), note="above where it should touch")
        yield from self.quiet("kept")
        turns = tool is not None and tool.turns_backwards
        if turns:
            yield from self._turn()
        yield from self.touch(-setter.margin - further - setter.overtravel, setter.search_feed, "search")
        for number in range(1, setter.touches + 1):
            yield RelativeMove((("Z", length(setter.back_off)),), note="back off")
            yield Dwell(Number(SETTLES))
            yield from self.quiet("kept")
            yield from self.touch(-setter.back_off - self.at.beyond, setter.measure_feed, f"measure, touch {number}")
            if self.works_out:
                yield Compute(self.use.number("touched"), self.latched(), "Z at the touch, machine coordinates")
                yield from self.count(number)
        yield ABSOLUTE
        yield self.top
        if turns:
            yield Spindle("stop")
            yield Dwell(Number(max(0.1, self.seconds_turning * SPIN_MARGIN)), "until it stands")
        if self.works_out:
            yield from self.alike(setter)

    @property
    def seconds_turning(self) -> float:
        """How long the spindle takes to the speed at which tools turn while they touch."""
        spindle = self.wanted.setup.machine.spindle
        return spindle.seconds_to_speed * min(1.0, self.at.setter.turning_speed / spindle.greatest_speed)

    def _turn(self) -> Iterator[Step]:
        yield Spindle("backwards", Number(self.at.setter.turning_speed), "backwards, so that no edge cuts")
        yield Dwell(Number(max(0.1, self.seconds_turning * SPIN_MARGIN)), "until it has its speed")

    def sides(self, tool: Tool) -> Iterator[Step]:
        """The diameter: the setter's two sides touched along X with the edge of the tool, whose length is known by now.

        The tip stands :data:`LOWER` below where its edge would be at the plane; each side is searched and measured from
        outside, Z is up between them."""
        setter, width = self.at.setter, self.at.setter.width
        assert width is not None and tool.edge_height is not None
        away = (width + tool.diameter) / 2 + setter.back_off + BESIDE
        low = setter.plane_z - tool.edge_height - LOWER
        z = Binary("+", self.use.value("result"), length(low)) if self.works_out else length(low + tool.whole_length)
        for side, kept in ((-1.0, "first side"), (1.0, "second side")):
            yield from self.ready(True, side * away)
            yield Move((("Z", z),), note="beside it, the edge below its top")
            if tool.turns_backwards:
                yield from self._turn()
            yield from self.quiet("kept")
            yield from self.touch(
                -side * (setter.back_off + BESIDE + setter.overtravel), setter.search_feed, "search", "X"
            )
            yield RelativeMove((("X", length(side * setter.back_off)),), note="back off")
            yield Dwell(Number(SETTLES))
            yield from self.quiet("kept")
            yield from self.touch(-side * (setter.back_off + self.at.beyond), setter.measure_feed, "measure", "X")
            if self.works_out:
                yield Compute(self.use.number(kept), self.latched(0), "X at the touch, machine coordinates")
            yield RelativeMove((("X", length(side * setter.back_off)),), note="back off")
            yield ABSOLUTE
            yield self.top
            if tool.turns_backwards:
                yield Spindle("stop")
                yield Dwell(Number(max(0.1, self.seconds_turning * SPIN_MARGIN)), "until it stands")
        across = width - 2 * (self.at.contact_z - setter.plane_z)
        if self.works_out:
            apart = Binary("-", self.use.value("second side"), self.use.value("first side"))
            found = Binary("-", apart, length(across))
            yield Compute(self.use.number("diameter"), found, "the diameter: between the touches, less the setter")
            yield Say(f"The diameter of T{tool.number} is in #{self.use.number('diameter')}: take it as a reading")
        else:
            yield Say(
                f"The diameter of T{tool.number} is X of the second touch less the first less {self.said(across)}"
            )

    def mean(self) -> Value:
        """The mean of the touches that count."""
        return self.mean_of(self.at.setter)
