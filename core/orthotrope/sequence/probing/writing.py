"""A routine as text: guards before anything moves; up, over the place, down guarded; search, back off, measure; back to where
the search began, and only after the last touch is anything worked out, judged and set (hardware.md, Touching).

Between touches the tip moves by touching moves that expect nothing, where the control has one that goes on at a miss: what
is met in them is in the way. Touches and guarded moves go so much further, so that neither the work offset nor a length
that is in force matters; what was latched is turned into machine coordinates in the text."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from orthotrope.calc.touch_devices import delay_of, measuring_beyond
from orthotrope.sequence.allotment import Allotment
from orthotrope.sequence.exchanges.registry import IN_THE_CHANGER
from orthotrope.sequence.probing.formulas import Scalar, Term, WrittenFormulas
from orthotrope.sequence.probing.registry import (
    PLANS,
    Aim,
    Found,
    Plan,
    RoutineRequest,
    Tip,
    Touched,
    Vector,
    clear_above,
)
from orthotrope.sequence.steps import (
    AxisName,
    Choose,
    Compute,
    Dwell,
    Label,
    Move,
    RelativeMove,
    Remark,
    Say,
    SetOffset,
    SetTurn,
    Step,
    Stop,
    Touch,
    Words,
)
from orthotrope.sequence.touching import ABSOLUTE, BEFORE, OWN_LABELS, SETTLES, Touching
from orthotrope.sequence.values import Binary, Function, Number, Value, length, parameter
from orthotrope.setup.numbering import ACTIVE_OFFSET
from orthotrope.setup.routines import Routine

NO_TURN = 69
"""The G word that ends a rotation."""

LETTERS: tuple[AxisName, ...] = ("X", "Y", "Z")

SIZES = ("found size", "found other size")
"""The parameters of what a routine finds of sizes, in their order."""

FOUND = {"x": "found x", "y": "found y", "z": "found z", "turn": "found turn"}
"""The parameters of the places and the turn that a routine finds."""

REFUSALS = {
    "another tool": (
        False,
        "{probe}, T{tool}, must be in the spindle: another tool is, or the record is doubtful. Nothing has moved",
    ),
    "in the changer": (False, IN_THE_CHANGER),
    "made": (False, "The input of {probe} is made though nothing touches it. Nothing has moved"),
    "turns": (False, "The spindle does not stand still. Nothing has moved"),
    "another offset": (False, "Work offset {offset} must be active before its turn can be set. Nothing has moved"),
    "kept": (True, "The input of {probe} is made where it should be idle. Look at it. Nothing was set"),
    "in the way": (True, "Something is in the way of the tip: look where the part lies. Nothing was set"),
    "missed": (True, "No touch: the part is not where it is expected, or the input is dead. Nothing was set"),
    "scatter": (True, "The touches differ too much: clean tip and part. Nothing was set"),
    "off place": (True, "The part is further off than allowed. Nothing was set"),
    "off size": (True, "The size is further off than allowed. Nothing was set"),
    "off turn": (True, "The part is turned by more than allowed. Nothing was set"),
}
"""Why a routine sets nothing: whether it has moved by then, and what it says."""


@dataclass(slots=True)
class Probing(Touching):
    """One routine on its way: where the tip stands (``at``, from the expected place, or from ``about`` where that is a
    middle that was found; None: not at the part yet), and what is kept of the touches so far."""

    wanted: RoutineRequest
    at: Vector | None = None
    about: tuple[Scalar, Scalar] = (0.0, 0.0)
    aims: list[Aim] = field(default_factory=list)
    sums: WrittenFormulas = field(init=False)

    def __post_init__(self) -> None:
        self.sums = WrittenFormulas(self.use)

    @classmethod
    def of(cls, wanted: RoutineRequest) -> "Probing":
        return cls(wanted, Allotment(wanted.profile.parameters, OWN_LABELS))

    @property
    def routine(self) -> Routine:
        return self.wanted.routine

    @property
    def tip(self) -> Tip:
        assert self.wanted.tip is not None
        return self.wanted.tip

    @property
    def plan(self) -> Plan[Routine]:
        return PLANS[self.routine.kind]

    @property
    def asks(self) -> bool:
        """Whether the text asks before it goes on: it has parameters and conditions, whether it finds the touch in them or not."""
        return self.wanted.profile.arithmetic and self.wanted.profile.conditions

    @property
    def goes_on(self) -> bool:
        """Whether a touching move may miss, so that it can guard, and its miss be reported."""
        return self.asks and self.wanted.profile.touch_goes_on is not None

    # -- where the spindle stands -------------------------------------------------------------------------------------

    def place(self, at: Vector) -> tuple[Scalar, Scalar, Scalar]:
        """Machine coordinates of the gauge line where the tip stands at a place of the routine's."""
        routine, probe = self.routine, self.tip.probe
        x = self.sums.mm(routine.x + at[0] - probe.off_x) + self.about[0]
        y = self.sums.mm(routine.y + at[1] - probe.off_y) + self.about[1]
        return x, y, self.sums.mm(routine.z + at[2] + self.tip.tool.whole_length)

    def clear(self, aims: Sequence[Aim]) -> float:
        """How far above the upper face the tip moves across, mm."""
        return clear_above(self.routine, self.tip, aims)

    def _move(self, at: Vector, axes: str, note: str = "") -> Step:
        values = dict(zip("XYZ", self.place(at), strict=True))
        return Move(tuple((axis, _plain(values[axis])) for axis in LETTERS if axis in axes), note=note)

    def _guarded(self, at: Vector, note: str = "") -> Iterator[Step]:
        """To a place, so that what is in the way is met by a touching move."""
        assert self.at is not None
        by = [there - here for here, there in zip(self.at, at, strict=True)]
        axes = tuple((axis, length(part)) for axis, part in zip(LETTERS, by, strict=True) if abs(part) > 1e-9)
        if not axes:
            return
        feed = length(self.tip.probe.guarded_feed)
        self.at = at
        if not self.goes_on:
            yield RelativeMove(axes, feed, note)
            return
        yield Touch(axes, feed, False, note, relative=True)
        met = Binary("EQ", parameter(self.wanted.profile.parameters.touch_made), Number(1))
        yield Choose(met, self.use.label("in the way"))

    def go_to(self, aim: Aim, clear: float) -> Iterator[Step]:
        """To where a search begins: over the place and down to it, or at the height of the touch before."""
        if aim.level and self.at is not None:
            if aim.waypoint:
                yield from self._guarded(aim.waypoint)
            yield from self._guarded(aim.at, f"to {aim.name}")
            return
        above = (aim.at[0], aim.at[1], clear)
        if self.at is None:
            yield self.top
            yield self._move(above, "XY", f"over {aim.name}")
            yield self._move(above, "Z", "down to the clearance")
            self.at = above
        else:
            raised = (self.at[0], self.at[1], clear)
            if self.at[2] < clear:
                yield ABSOLUTE
                yield self._move(raised, "Z", "up to the clearance")
                self.at = raised
            yield from self._guarded(above, f"over {aim.name}")
        yield from self._guarded(aim.at, "down, guarded")

    def recentre(self, axis: int, by: Scalar) -> Iterator[Step]:
        """Along an axis to the middle that was found, so far from the expected one; places count from it from then on."""
        x, y = self.about
        self.about = (by, y) if axis == 0 else (x, by)
        yield Touch(
            ((LETTERS[axis], _plain(by)),), length(self.tip.probe.guarded_feed), False, "to the middle", relative=True
        )
        met = Binary("EQ", parameter(self.wanted.profile.parameters.touch_made), Number(1))
        yield Choose(met, self.use.label("in the way"))

    # -- touches ------------------------------------------------------------------------------------------------------

    def idle_again(self) -> Iterator[Step]:
        yield Dwell(Number(SETTLES))
        yield from self.idle("kept", self.tip.probe.input)

    def _touch(self, way: Vector, by: float, feed: float, note: str) -> Iterator[Step]:
        axes = _along(way, by)
        yield Touch(axes, length(feed), not self.goes_on, note, relative=True)
        if self.goes_on:
            missed = Binary("NE", parameter(self.wanted.profile.parameters.touch_made), Number(1))
            yield Choose(missed, self.use.label("missed"))

    def search(self, aim: Aim) -> Iterator[Step]:
        """The search for a surface from where it begins."""
        yield from self.idle("kept", self.tip.probe.input)
        yield from self._touch(aim.way, aim.gap + self.routine.beyond, self.tip.probe.search_feed, f"search {aim.name}")

    def measure(self, aim: Aim, kept: str) -> Iterator[Step]:
        """The touches that count, after a search; the mean of how far along its way the tip stood is ``kept``."""
        probe, setup = self.tip.probe, self.wanted.setup
        within = min(probe.overtravel_across, probe.overtravel_up)  # a plate gives as little sideways as from above
        slows = min(axis.acceleration for _, axis in setup.machine.axes.items())
        beyond = measuring_beyond(probe, within, delay_of(setup, probe), slows)
        for number in range(1, probe.touches + 1):
            yield RelativeMove(_along(aim.way, -probe.back_off), None, "back off")
            yield from self.idle_again()
            yield from self._touch(aim.way, probe.back_off + beyond, probe.measure_feed, f"measure {aim.name}")
            if self.works_out and probe.touches > 1:
                yield self.latched_at(aim, "touched")
                yield from self.count(number)
            elif self.works_out:
                yield self.latched_at(aim, kept)
        if self.works_out and probe.touches > 1:
            yield from self.alike(probe)
            yield Compute(self.use.number(kept), self.mean_of(probe))

    def stands(self, way: Vector) -> Scalar:
        """How far along a way the tip was latched, from the place where the feature is expected."""
        routine, probe, whole = self.routine, self.tip.probe, Term(Number(0.0))
        from_place = (
            routine.x - probe.off_x,
            routine.y - probe.off_y,
            routine.z + self.tip.tool.whole_length,
        )
        for axis, part in enumerate(way):
            if abs(part) > 1e-9:
                whole = whole + (Term(self.latched(axis)) - self.sums.mm(from_place[axis])) * part
        return whole

    def latched_at(self, aim: Aim, kept: str) -> Step:
        """How far along its way the tip was latched, in a parameter."""
        return Compute(self.use.number(kept), _plain(self.stands(aim.way)), "how far along its way it was latched")

    def retreat(self, aim: Aim) -> Iterator[Step]:
        """Straight back to where the search began."""
        yield ABSOLUTE
        yield self._move(aim.at, "".join(a for a, part in zip("XYZ", aim.way, strict=True) if abs(part) > 1e-9), "back")
        self.at = aim.at

    def touch(self, aim: Aim, kept: str, clear: float) -> Iterator[Step]:
        """One touch from wherever the tip stands, and straight back."""
        yield from self.go_to(aim, clear)
        yield from self.search(aim)
        yield from self.measure(aim, kept)
        yield from self.retreat(aim)

    def touch_all(self, aims: Sequence[Aim]) -> Iterator[Step]:
        """The touches in their order, each kept by its number."""
        clear = self.clear(aims)
        for number, aim in enumerate(aims, 1):
            yield from self.touch(aim, f"touch {number}", clear)
            self.aims.append(aim)

    def touched(self) -> list[Touched]:
        """The touches that :meth:`touch_all` has made, as what a control works out."""
        return [
            Touched(
                aim,
                Term(self.use.value(f"touch {number}")),
                self.sums.mm(self.tip.reach(aim.way)),
                self.sums.mm(across_of(aim)),
            )
            for number, aim in enumerate(self.aims, 1)
        ]

    def keep(self, found: Found) -> Iterator[Step]:
        """Result, in parameters of their own."""
        yield from self.sums.taken()
        for name, value in found.items():
            yield Compute(self.use.number(self.parameter_of(name)), _plain(value), name)

    def parameter_of(self, name: str) -> str:
        """The name of the parameter in which something that was found is kept."""
        return FOUND.get(name) or SIZES[self.routine.sizes.index(name)]

    def kept(self, name: str) -> Term:
        """Result, as it is kept."""
        return Term(self.use.value(self.parameter_of(name)))

    # -- begin and end ------------------------------------------------------------------------------------------------

    def begin(self) -> Iterator[Step]:
        """What is laid on confirmed, the record and the inputs asked, a known state, the probe woken."""
        probe, profile = self.tip.probe, self.wanted.profile
        yield Remark(f"needs T{probe.tool} in the spindle, {probe.name}")
        yield from self.holds(probe.tool)
        if self.routine.sets_turn and self.works_out and NO_TURN in profile.g_words:
            other = Binary("NE", parameter(ACTIVE_OFFSET), Number(self.routine.work_offset or 1))
            yield Choose(other, self.use.label("another offset"), f"work offset {self.routine.work_offset} is active")
        if probe.taken_off:
            yield Say(f"Put on: {', '.join(probe.taken_off)}; touch the tip by hand and see the input come and go")
            yield Stop("pause")
        yield from self.idle("made", probe.input)
        yield from self.stand(*([Number(NO_TURN)] if NO_TURN in profile.g_words else []))
        yield from self._woken(True)

    def _woken(self, on: bool) -> Iterator[Step]:
        output = self.wanted.setup.output_of("probe")
        if output is None or not self.tip.probe.tells_itself:
            return
        yield Words(output.word_on if on else output.word_off, note="wake the probe" if on else "let it sleep")
        yield Dwell(Number(max(0.1, output.seconds)), "until it is awake" if on else "until it sleeps")

    def judged(self) -> Iterator[Step]:
        """Go on only where what was found is within what is allowed."""
        routine, expected = self.routine, self.plan.expected(self.routine)
        if routine.place_tolerance is not None:
            for axis in routine.axes:
                yield self._within(self.kept(axis).value, routine.place_tolerance, "off place")
        if routine.size_tolerance is not None:
            for name in routine.sizes:
                off = Binary("-", self.kept(name).value, length(expected[name]))
                yield self._within(off, routine.size_tolerance, "off size")
        if routine.finds_turn and routine.turn_tolerance is not None:
            far = Binary("GT", Function("ABS", (self.kept("turn").value,)), Number(routine.turn_tolerance))
            yield Choose(far, self.use.label("off turn"), "within what is allowed")

    def _within(self, off: Value, allowed: float, label: str) -> Step:
        far = Binary("GT", Function("ABS", (off,)), length(allowed))
        return Choose(far, self.use.label(label), "within what is allowed")

    def zero(self) -> dict[AxisName, Scalar]:
        """Machine coordinates of the zero, by axis: the found place less what the readout shall show there."""
        routine = self.routine
        expected = {"x": routine.x, "y": routine.y, "z": routine.z}
        readout = {"x": routine.readout_x, "y": routine.readout_y, "z": routine.readout_z}
        found: dict[AxisName, Scalar] = {}
        for letter in LETTERS:
            axis = letter.lower()
            if axis in routine.axes:
                found[letter] = self.kept(axis) + self.sums.mm(expected[axis] - readout[axis])
        if routine.sets_turn and (routine.readout_x or routine.readout_y):
            cos, sin = self.sums.cos(self.kept("turn")), self.sums.sin(self.kept("turn"))
            x, y = self.sums.mm(routine.readout_x), self.sums.mm(routine.readout_y)
            found["X"] = self.kept("x") + self.sums.mm(routine.x) - (x * cos - y * sin)
            found["Y"] = self.kept("y") + self.sums.mm(routine.y) - (x * sin + y * cos)
        return found

    def set(self) -> Iterator[Step]:
        """Set the zero, and the turn where that is wanted; where the control can't, say what is entered."""
        routine, profile = self.routine, self.wanted.profile
        if routine.work_offset is None:
            return
        zero = tuple((axis, _plain(value)) for axis, value in self.zero().items())
        if zero and profile.offset_word == "G10 L2":
            yield SetOffset(routine.work_offset, zero, note="the zero")
        elif zero:
            numbers = ", ".join(
                f"{axis.upper()} in #{self.use.number(self.parameter_of(axis))}" for axis in routine.axes
            )
            yield Say(f"Enter on the card for work offset {routine.work_offset}: how far it is off, {numbers}")
        if routine.sets_turn and NO_TURN in profile.g_words:
            turn = self.use.value("found turn")
            yield SetTurn(turn, "the part is turned by so much")

    def end(self, says: str, pause: bool = False) -> Iterator[Step]:
        """Up and back, what was laid on taken off, the modes as they were."""
        yield from self._woken(False)
        yield ABSOLUTE
        yield self.top
        off = self.tip.probe.taken_off
        if off:
            yield Say(f"Take off before the spindle starts: {', '.join(off)}")
            yield Stop("pause")
        yield from self.back()
        yield Say(says)
        if pause:
            yield Stop("pause")
        yield Stop("end")

    def refusals(self) -> Iterator[Step]:
        """What it says where it does not begin, or does not go on."""
        for label, (moved, text) in REFUSALS.items():
            if not self.use.has(label):
                continue
            yield Label(self.use.label(label))
            if moved:
                yield from self._woken(False)
                yield ABSOLUTE
                yield self.top
            probe = self.wanted.tip.probe if self.wanted.tip else None
            name, tool = (probe.name, probe.tool) if probe else ("", 0)
            yield Say(text.format(probe=name, tool=tool, offset=self.routine.work_offset))
            yield Stop("pause")
            yield from self.restored() if label not in BEFORE else (self.modes(),)
            yield Stop("end")


def across_of(aim: Aim) -> float:
    """How far to the left of its way a touch stands, mm."""
    return aim.at[1] * aim.way[0] - aim.at[0] * aim.way[1]


def _plain(part: Scalar) -> Value:
    return part.value if isinstance(part, Term) else length(float(part))


def _along(way: Vector, by: float) -> tuple[tuple[AxisName, Value], ...]:
    return tuple((axis, length(part * by)) for axis, part in zip(LETTERS, way, strict=True) if abs(part) > 1e-9)
