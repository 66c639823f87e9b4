"""What the exchanges of all styles share: the guards before anything moves, the places and heights as numbers or
parameters, the record of the tool, and the way back. A style brings the parts in between."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from orthotrope.calc.derived import DerivedChanger
from orthotrope.sequence.allotment import Allotment
from orthotrope.sequence.exchanges.ending import Ending
from orthotrope.sequence.exchanges.registry import EMPTY, IN_THE_CHANGER, Descent, Exchange
from orthotrope.sequence.positions import KNOWN_STATE, NO_LENGTH, SPIN_MARGIN
from orthotrope.sequence.steps import (
    Choose,
    Compute,
    ComputeIf,
    Dwell,
    Label,
    Move,
    Remark,
    Say,
    Sequence,
    SetModes,
    Spindle,
    Step,
    Stop,
    Switch,
    Wait,
    Words,
)
from orthotrope.sequence.values import Binary, Function, Number, Value, length, parameter
from orthotrope.sequence.waiting import still_made
from orthotrope.setup import Setup
from orthotrope.setup.changer import USUAL_WAIT, Rack, rack_of
from orthotrope.setup.gripping import Grip
from orthotrope.setup.roles import INPUT_ROLES, OUTPUT_ROLES
from orthotrope.setup.tools import Tool

CREEP = 60.0
"""mm/min at which the nose comes down into a pocket for the first time."""

Place = tuple[Value, Value]
ZERO = Number(0)
Part = Callable[["Frame"], Iterator[Step]]


def nothing(frame: "Frame") -> Iterator[Step]:
    """A part that a style does not need."""
    yield from ()


@dataclass(slots=True)
class Frame:
    """One exchange with numbers, or with ``mark`` (the parameters of the record and of its doubt) the one program of
    all pairs.

    ``from_tool``, ``to_tool``, ``from_pocket``, ``to_pocket``, ``place_from``, ``place_to`` and ``heights`` are numbers
    or parameters; ``usual_steps``: steps that a disc turns between the two pockets, None where only the most is known;
    ``measures``: fetched tools are measured in the end.
    """

    setup: Setup
    derived: DerivedChanger
    heights: dict[str, Value]
    mark: dict[str, int] | None
    use: Allotment
    from_tool: Value = ZERO
    to_tool: Value = ZERO
    from_pocket: Value = ZERO
    to_pocket: Value = ZERO
    place_from: Place = (ZERO, ZERO)
    place_to: Place = (ZERO, ZERO)
    usual_steps: int | None = None
    measures: bool = False

    @property
    def timer(self) -> int:
        return self.use.number("timer")

    # -- the record ---------------------------------------------------------------------------------------------------

    def doubtful(self) -> Iterator[Step]:
        if self.mark:
            yield Compute(self.mark["doubtful"], Number(1), "the record is doubtful")

    def record(self, tool: Value) -> Iterator[Step]:
        """A fetched tool is certain only when it was measured, where it is: nothing else tells that it is there."""
        if self.mark:
            yield Compute(self.mark["record"], tool, "the tool in the spindle")
            if tool == self.to_tool and self.measures:
                return
            yield Compute(self.mark["doubtful"], Number(0), "the record is certain")

    # -- what is switched and waited for ------------------------------------------------------------------------------

    def until(self, role: str, seconds: float, note: str) -> Step:
        """Wait for the input of this role, or as long as its device takes."""
        entry = self.setup.input_of(role)
        label = self.use.missing_label(role) if entry else 0
        limit = self.setup.changer.longest_wait if self.setup.changer else USUAL_WAIT
        usual = Number(max(0.1, seconds * SPIN_MARGIN))
        return Wait(entry.number if entry else None, usual, max(limit, 2 * seconds), label, self.timer, note)

    def seconds_of(self, role: str) -> float:
        """How long the device of an output takes, seconds."""
        output = self.setup.output_of(role)
        return output.seconds if output else OUTPUT_ROLES[role].seconds

    def stand(self, seconds: float) -> Iterator[Step]:
        """Stop the spindle and wait until it stands."""
        yield Spindle("stop")
        yield self.until("spindle still", seconds, "until it stands")
        yield from self._still_made("spindle still", max(0.1, seconds * SPIN_MARGIN))

    def orient(self) -> Iterator[Step]:
        yield Switch("orient the spindle", "stop and orient the spindle")
        seconds = self.setup.machine.spindle.seconds_to_speed + self.seconds_of("orient")
        yield self.until("oriented", seconds, "until it stands at its angle")
        yield from self._still_made("oriented", max(0.1, seconds * SPIN_MARGIN))

    def _still_made(self, role: str, seconds: float) -> Iterator[Step]:
        """See :func:`still_made`; nothing without such an input."""
        entry = self.setup.input_of(role)
        if entry and self.mark:
            state = parameter(self.setup.profile.parameters.input_first + entry.number)
            yield from still_made(state, self.timer, seconds, self.use.missing_label(role), f"{role}: still made")

    def idle(self, role: str) -> Iterator[Step]:
        """What is to tell that a device is done must not tell it before: an input wired the other way round would."""
        entry = self.setup.input_of(role)
        if entry and self.mark:
            state = parameter(self.setup.profile.parameters.input_first + entry.number)
            yield Choose(Binary("EQ", state, Number(1)), self.use.early_label(role), f"{role}: idle until then")

    def made(self, role: str) -> Iterator[Step]:
        """What tells that a device stands in place must tell it before the device goes: one wired the other way round does not."""
        entry = self.setup.input_of(role)
        if entry and self.mark:
            state = parameter(self.setup.profile.parameters.input_first + entry.number)
            yield Choose(Binary("NE", state, Number(1)), self.use.missing_label(role), f"{role}: made until it goes")

    def present(self, there: bool) -> Iterator[Step]:
        """Where an input tells whether a tool is in the spindle, it must tell so now."""
        entry = self.setup.input_of("tool present")
        if entry and self.mark:
            state = parameter(self.setup.profile.parameters.input_first + entry.number)
            label = self.use.missing_label("tool present") if there else self.use.early_label("tool present")
            yield Choose(
                Binary("NE" if there else "EQ", state, Number(1)),
                label,
                "a tool is there" if there else "the tool is off",
            )

    def grip(self, opens: bool, on_tool: bool = True) -> Iterator[Step]:
        seconds = self.seconds_of("grip")
        if on_tool:
            yield from self.idle("grip open" if opens else "grip closed")
        if opens:
            yield Switch("open the grip", "open the grip")
            yield self.until("grip open", seconds, "until it is open")
            return
        yield Switch("close the grip", "close the grip")
        if on_tool:
            yield self.until("grip closed", seconds, "until it is closed on the tool")
        else:
            yield Dwell(Number(max(0.1, seconds * SPIN_MARGIN)), "until it is closed, on nothing")

    def output(self, role: str, on: bool, reported: str | None, note: str) -> Iterator[Step]:
        """Switch an output and wait for the input that tells, or as long as it takes. Nothing without such an
        output."""
        output = self.setup.output_of(role)
        if output is None:
            return
        if reported is not None:
            yield from self.idle(reported)
        yield Words(output.word_on if on else output.word_off, note=note)
        if reported is None:
            yield Dwell(Number(max(0.1, output.seconds * SPIN_MARGIN)))
        else:
            yield self.until(reported, output.seconds, f"until it is {note.split()[-1]}")

    # -- moves --------------------------------------------------------------------------------------------------------

    def down(self, feed: float, slow: float, note: str) -> Iterator[Step]:
        """Down to couple height: rapid, and the last stretch slowly."""
        yield Move(
            (
                (
                    "Z",
                    Binary("+", self.heights["couple"], length(slow))
                    if self.mark
                    else length(self.derived.ladder.couple_z + slow),
                ),
            ),
            note="near",
        )
        yield Move((("Z", self.heights["couple"]),), length(feed), note)


@dataclass(frozen=True, slots=True)
class Parts:
    """What a style does, in this order. ``begins``: where it may not be called (only in a text that can ask), before anything moves,
    to the label "in the changer", and what is said there; ``prepare`` before anything is near; ``put_away`` with a tool in the spindle;
    ``between`` the two; ``from_empty`` where there was none; ``fetch``; ``leave_empty`` where none is fetched.
    ``whole``: one sequence for all of them, in place of these; ``back``: up again. ``heights``: those it goes to.
    ``pockets``: whether tools have pockets to be looked up; ``kept`` whether the control keeps the table of them."""

    prepare: Part
    put_away: Part = nothing
    between: Part = nothing
    from_empty: Part = nothing
    fetch: Part = nothing
    leave_empty: Part = nothing
    whole: Part | None = None
    back: Part | None = None
    heights: tuple[str, ...] = ("couple", "hover", "empty", "carry", "park")
    pockets: bool = True
    kept: bool = False
    begins: Part = nothing


def park(frame: Frame) -> Step:
    """Up to park height."""
    return Move((("Z", frame.heights["park"]),), note="park")


def take(frame: Frame, feed: float, slow: float) -> Iterator[Step]:
    """Down onto the tool with the grip open and the taper blown clean, and close."""
    yield from frame.output("blow air", True, None, "blow the taper clean")
    yield from frame.down(feed, slow, "couple: onto the tool")
    yield from frame.doubtful()
    yield from frame.grip(False)
    yield from frame.output("blow air", False, None, "no more air")


def open_above(setup: Setup, derived: DerivedChanger, grip: Grip, before: tuple[Step, ...] = ()) -> Descent:
    """The way down onto a tool with a grip, which is opened first."""
    begin = derived.ladder.couple_z + grip.slow_distance
    opened = (Switch("open the grip", "nothing is in it"), Dwell(Number(2.0), "until it is open"))
    near = (Move((("Z", length(begin)),), length(CREEP), "near"), Stop("pause"))
    return Descent(begin, (*before, *opened, *near))


def one(
    parts: Parts, setup: Setup, derived: DerivedChanger, exchange: Exchange, usual_steps: int | None = None
) -> Sequence:
    """One exchange with numbers, for a control without parameters."""
    ladder = derived.ladder
    heights: dict[str, Value] = {
        "couple": length(ladder.couple_z),
        "hover": length(ladder.hover_z),
        "empty": length(ladder.empty_z),
        "carry": length(ladder.carry_z),
        "park": length(derived.park_z),
    }
    title = f"{setup.machine.name}: from {_named(exchange.from_tool)} to {_named(exchange.to_tool)}"
    if exchange.from_tool == exchange.to_tool:
        return Sequence(title, (Remark("the tool is in the spindle already: nothing moves"), Stop("end")))
    frame = Frame(
        setup,
        derived,
        heights,
        None,
        Allotment(setup.profile.parameters),
        Number(exchange.from_tool),
        Number(exchange.to_tool),
        usual_steps=usual_steps,
    )
    if parts.pockets:
        for number, side in ((exchange.from_tool, "from"), (exchange.to_tool, "to")):
            if number or parts.kept:  # a kept table: what has no tool goes to the pocket of the one in the spindle
                pocket = setup.tool(number or exchange.from_tool or exchange.to_tool).pocket or 1
                setattr(frame, f"{side}_pocket", Number(pocket))
                setattr(frame, f"place_{side}", (length(derived.pocket(pocket).x), length(derived.pocket(pocket).y)))

    return Sequence(title, tuple(_steps_of_one(parts, frame, exchange, heights["park"])))


def _named(tool: int) -> str:
    return f"T{tool}" if tool else "the empty spindle"


def _steps_of_one(parts: Parts, frame: Frame, exchange: Exchange, park: Value) -> Iterator[Step]:
    yield Remark(f"needs {_named(exchange.from_tool)} in the spindle; the record is kept on the entry card")
    yield SetModes((*KNOWN_STATE, NO_LENGTH), "a known state")
    ending = Ending(frame.setup, frame.derived, frame.use, exchange.part)
    yield from parts.prepare(frame)
    if parts.whole:
        yield from parts.whole(frame)
    else:
        if exchange.from_tool:
            yield Remark(f"put {_named(exchange.from_tool)} away")
            yield from parts.put_away(frame)
        if exchange.to_tool:
            yield Remark(f"fetch {_named(exchange.to_tool)}")
            yield from (parts.between if exchange.from_tool else parts.from_empty)(frame)
            yield from parts.fetch(frame)
        else:
            yield from parts.leave_empty(frame)
    if parts.back:
        yield from parts.back(frame)
    else:
        yield Move((("Z", park),), note="park")
    yield from ending.by_numbers(exchange.to_tool)
    x, y = exchange.called_at
    yield Move((("X", length(x)), ("Y", length(y))), note="back; Z stays up")
    yield Say(f"Enter on the card: in the spindle is {_named(exchange.to_tool)}")
    yield from ending.active_length(exchange.to_tool)
    yield Stop("pause")
    yield Stop("end")


def every(parts: Parts, setup: Setup, derived: DerivedChanger, title: str, part: bool = False) -> Sequence:
    """The one program of all pairs, for a control with parameters and conditions. ``part``: as a part of another
    program, which measures: where it succeeds it returns to that, with the modes as it has them."""
    return Sequence(title, tuple(_EveryPair(parts, setup, derived, part).steps()))


class _EveryPair:
    """The parts of the one program of all pairs: its guards, its constants, the exchange between, and its ends."""

    def __init__(self, parts: Parts, setup: Setup, derived: DerivedChanger, part: bool):
        self.parts, self.setup, self.derived, self.part = parts, setup, derived, part
        self.known = known = setup.profile.parameters
        self.use = use = Allotment(known)
        self.ending = Ending(setup, derived, use, part)
        self.in_spindle, self.requested = parameter(known.exchange_from), parameter(known.exchange_to)
        self.tools = setup.exchangeable()
        self.rack = rack_of(setup.changer)
        self.listed = self.rack is not None and self.rack.single_positions
        mark = {"record": known.record, "doubtful": known.record_doubtful}
        heights = {name: use.value(name) for name in ("couple", "hover", "empty", "carry", "park")}
        self.frame = Frame(
            setup,
            derived,
            heights,
            mark,
            use,
            self.in_spindle,
            self.requested,
            use.value("pocket from"),
            use.value("pocket to"),
            measures=self.ending.in_text is not None,
        )
        if self.listed:
            self.frame.place_from = use.value("place from x"), use.value("place from y")
            self.frame.place_to = use.value("place to x"), use.value("place to y")
        elif self.rack:
            self.frame.place_from = _by_rule(self.rack, derived, use, "pocket from")
            self.frame.place_to = _by_rule(self.rack, derived, use, "pocket to")

    def steps(self) -> Iterator[Step]:
        """All of it, in its order."""
        yield from self._guards()
        yield from self._constants()
        yield from self.parts.begins(self.frame)
        yield from self.parts.prepare(self.frame)
        yield from self.parts.whole(self.frame) if self.parts.whole else self._exchange()
        yield from self._back()
        yield from self._refusals()

    def _when(self, left: Value, operator: str, right: float, label: str, note: str = "") -> Choose:
        return Choose(Binary(operator, left, Number(right)), self.use.label(label), note)

    def _guards(self) -> Iterator[Step]:
        known, use = self.known, self.use
        highest = max((tool.number for tool in self.tools), default=0)
        yield Remark(
            f"called with the tool in the spindle in #{known.exchange_from}, "
            f"the requested one in #{known.exchange_to}, 0 the empty spindle"
        )
        yield self._when(parameter(known.record_doubtful), "EQ", 1, "record", "correct the record first")
        yield Choose(Binary("NE", parameter(known.record), self.in_spindle), use.label("record"))
        same = Binary("EQ", self.in_spindle, self.requested)
        yield Choose(same, use.label("nothing moves"), "the same tool: nothing moves")
        yield self._when(self.requested, "LT", EMPTY, "no such tool", "no such tool")
        yield self._when(self.requested, "GT", highest, "no such tool")
        numbers = [tool.number for tool in self.tools]
        if numbers == [*range(1, highest + 1)]:
            whole = Function("FIX", (self.requested,))
            yield Choose(Binary("NE", self.requested, whole), use.label("no such tool"), "a whole number")
        elif not self.parts.pockets and numbers:
            yield from self._is_one_of(numbers)
        if self.parts.pockets and not self.parts.kept:
            yield from self._lookup(highest)
        for role in self.setup.changer.sensors if self.setup.changer else ():
            entry = self.setup.input_of(role) if INPUT_ROLES[role].asked_first else None
            if entry:
                asked = Binary("NE", parameter(known.input_first + entry.number), Number(1))
                yield Choose(asked, use.missing_label(role), f"{role}: asked before anything moves")

    def _is_one_of(self, numbers: list[int]) -> Iterator[Step]:
        """Go on only with the number of a tool that there is, where no pocket is looked up."""
        known = self.use.number("pocket to")
        yield Compute(known, Number(EMPTY), "1 where there is such a tool")
        for number in (EMPTY, *numbers):
            yield ComputeIf(Binary("EQ", self.requested, Number(number)), known, Number(1))
        yield Choose(Binary("EQ", parameter(known), Number(0)), self.use.label("no such tool"), "it is none")

    def _lookup(self, highest: int) -> Iterator[Step]:
        """The pockets of both tools, where the control keeps no table of its own."""
        pocket_from, pocket_to = self.use.number("pocket from"), self.use.number("pocket to")
        numbers = [tool.number for tool in self.tools]
        if numbers == [tool.pocket for tool in self.tools] == [*range(1, highest + 1)]:
            yield Compute(pocket_from, self.in_spindle, "each tool is in the pocket of its number")
            yield Compute(pocket_to, self.requested)
            yield self._when(self.in_spindle, "GT", highest, "no such tool", "it has no pocket")
            return
        yield Remark("the pocket of each tool; 0 is none")
        yield Compute(pocket_from, Number(0))
        yield Compute(pocket_to, Number(0))
        for tool in self.tools:
            number, pocket = Number(tool.number), Number(tool.pocket or 0)
            yield ComputeIf(Binary("EQ", self.in_spindle, number), pocket_from, pocket)
            yield ComputeIf(Binary("EQ", self.requested, number), pocket_to, pocket)
        for wanted, found in ((self.in_spindle, pocket_from), (self.requested, pocket_to)):
            nowhere = Binary("EQ", parameter(found), Number(0))
            condition = Binary("AND", Binary("NE", wanted, Number(EMPTY)), nowhere)
            yield Choose(condition, self.use.label("no such tool"), "it has no pocket")

    def _constants(self) -> Iterator[Step]:
        """Places and heights, each once."""
        use, ladder = self.use, self.derived.ladder
        yield SetModes((*KNOWN_STATE, NO_LENGTH), "a known state")
        if self.listed:
            yield from _list_of_places(self.derived, self.tools, use)
        elif self.rack:
            begin, step = self.derived.pockets[0], _pocket_step(self.rack, self.derived)
            yield Compute(use.number("pocket 1 x"), length(begin.x), "pocket 1, X")
            yield Compute(use.number("pocket 1 y"), length(begin.y), "pocket 1, Y")
            yield Compute(use.number("step x"), length(step[0]), "to the next pocket, X")
            yield Compute(use.number("step y"), length(step[1]), "to the next pocket, Y")
        values = {
            "couple": ladder.couple_z,
            "hover": ladder.hover_z,
            "empty": ladder.empty_z,
            "carry": ladder.carry_z,
            "park": self.derived.park_z,
        }
        for name in self.parts.heights:
            yield Compute(use.number(name), length(values[name]), name)

    def _exchange(self) -> Iterator[Step]:
        """Put away what is in the spindle, fetch what is requested; either may be nothing."""
        parts, frame, use = self.parts, self.frame, self.use
        from_empty, leave_empty = list(parts.from_empty(frame)), list(parts.leave_empty(frame))
        yield self._when(self.in_spindle, "EQ", EMPTY, "fetch", "nothing to put away")
        yield Remark("put the tool in the spindle away")
        yield from parts.put_away(frame)
        yield self._when(self.requested, "EQ", EMPTY, "leave empty" if leave_empty else "back")
        yield from parts.between(frame)
        if from_empty:
            yield Choose(None, use.label("fetch on"))
        yield Label(use.label("fetch"), "fetch the requested tool")
        if from_empty:
            yield from from_empty
            yield Label(use.label("fetch on"))
        yield from parts.fetch(frame)
        if leave_empty:
            yield Choose(None, use.label("back"))
            yield Label(use.label("leave empty"), "nothing is fetched")
            yield from leave_empty
        yield Label(use.label("back"), "back to where it was called; Z stays up")

    def _back(self) -> Iterator[Step]:
        known = self.known
        yield from self.parts.back(self.frame) if self.parts.back else (park(self.frame),)
        yield from self.ending.measured(self.requested)
        yield Move((("X", parameter(known.called_at_first)), ("Y", parameter(known.called_at_first + 1))))
        if not self.part:
            yield self._as_called()
        yield from self.ending.in_force(self.requested)

    def _refusals(self) -> Iterator[Step]:
        """What it says where it does not begin, or an input does not come."""
        known = self.setup.profile.parameters
        yield Label(self.use.label("nothing moves"), "the requested tool is in the spindle already")
        yield Stop("return")
        says = [
            (self.use.label("no such tool"), "There is no such tool in the changer. Nothing has moved"),
            (
                self.use.label("record"),
                f"The record in #{known.record} is doubtful, or it is not the tool in #{known.exchange_from} of the call. Nothing has moved",
            ),
        ]
        if self.use.has("in the changer"):
            says.append((self.use.label("in the changer"), IN_THE_CHANGER))
        says += [
            (label, f"{INPUT_ROLES[role].missing}. Look at it, then correct the record")
            for role, label in self.use.missing.items()
        ]
        air = self.setup.output_of("blow air")
        closed = "grip closed"
        blows = {self.use.missing.get(closed), self.use.early.get(closed)}
        says += [
            (label, f"{INPUT_ROLES[role].said_early}, then correct the record")
            for role, label in self.use.early.items()
        ]
        for label, text in says:
            yield Label(label)
            if air and label in blows:  # it is waited for while the taper is blown clean
                yield Words(air.word_off, note="no more air")
            yield Say(text)
            yield Stop("pause")
            yield self._as_called()
            yield Stop("end")
        yield from self.ending.refusals()

    def _as_called(self) -> Step:
        known = self.known
        return SetModes((parameter(known.called_unit), parameter(known.called_distance)), "as the caller had them")


def _pocket_step(rack: Rack, derived: DerivedChanger) -> tuple[float, float]:
    """From one pocket to the next, mm; taken over the whole row, so that rounding it errs least at the far end."""
    first, last, count = derived.pockets[0], derived.pockets[rack.count - 1], rack.count
    return ((last.x - first.x) / (count - 1), (last.y - first.y) / (count - 1)) if count > 1 else (0.0, 0.0)


def _list_of_places(derived: DerivedChanger, tools: list[Tool], use: Allotment) -> Iterator[Step]:
    """Each pocket's own place, where they follow no rule."""
    yield Remark("the place of each pocket, as it was taught")
    for side in ("from", "to"):
        for number in sorted({tool.pocket or 0 for tool in tools}):
            place = derived.pocket(number)
            condition = Binary("EQ", use.value(f"pocket {side}"), Number(number))
            yield ComputeIf(condition, use.number(f"place {side} x"), length(place.x))
            yield ComputeIf(condition, use.number(f"place {side} y"), length(place.y))


def _by_rule(rack: Rack, derived: DerivedChanger, use: Allotment, pocket: str) -> Place:
    """A pocket's place by the rule of its rows: pocket 1, and steps along and across."""
    steps: Value = Binary("-", use.value(pocket), Number(1))
    if rack.rows == 1:
        x, y = (Binary("+", use.value(f"pocket 1 {a}"), Binary("*", steps, use.value(f"step {a}"))) for a in "xy")
        return x, y
    one_row, next_row = derived.pockets[0], derived.pockets[rack.count]
    row, column = Function("FIX", (Binary("/", steps, Number(rack.count)),)), Binary("MOD", steps, Number(rack.count))

    def axis(name: str, step: float) -> Value:
        in_row = Binary("+", use.value(f"pocket 1 {name}"), Binary("*", column, use.value(f"step {name}")))
        return Binary("+", in_row, Binary("*", row, length(step))) if abs(step) > 1e-9 else in_row

    return axis("x", next_row.x - one_row.x), axis("y", next_row.y - one_row.y)
