"""Exchanges of a thread-on rack: the turning spindle threads the nut off in its pocket, and the next one on."""

from collections.abc import Iterator

from orthotrope.calc.derived import DerivedChanger
from orthotrope.sequence.exchanges.registry import EMPTY, Exchange, planner
from orthotrope.sequence.positions import KNOWN_STATE
from orthotrope.sequence.steps import (
    Choose,
    Compute,
    ComputeIf,
    Dwell,
    Label,
    Move,
    Override,
    Remark,
    Say,
    Sequence,
    SetModes,
    Spindle,
    Step,
    Stop,
)
from orthotrope.sequence.values import Binary, Number, Value, length, parameter
from orthotrope.setup import Setup
from orthotrope.setup.changer import Changer
from orthotrope.setup.tools import Tool

SPIN_MARGIN = 1.25
"""Factor on the spindle's time to speed, for a dwell that must not end early."""


def _turning(setup: Setup, derived: DerivedChanger) -> Number:
    """Seconds of dwell until the spindle has the coupling speed, or stands again."""
    return Number(max(0.1, (derived.workings["speed_seconds"].value or 0.0) * SPIN_MARGIN))


class _Program:
    """Numbers or parameters for the same steps: the plain text has numbers, the parametric one its parameters."""

    def __init__(self, setup: Setup, derived: DerivedChanger, changer: Changer, heights: dict[str, Value],
                 mark: dict[str, int] | None):  # fmt: skip
        self.setup, self.derived, self.thread, self.heights, self.mark = setup, derived, changer.coupling, heights, mark

    def doubtful(self) -> Iterator[Step]:
        if self.mark:
            yield Compute(self.mark["doubtful"], Number(1), "the record is doubtful")

    def record(self, tool: Value) -> Iterator[Step]:
        if self.mark:
            yield Compute(self.mark["record"], tool, "the tool in the spindle")
            yield Compute(self.mark["doubtful"], Number(0), "the record is certain")

    def over(self, place: tuple[Value, Value]) -> Iterator[Step]:
        yield Move((("X", place[0]), ("Y", place[1])), note="over the pocket")
        yield Move((("Z", self.heights["hover"]),), note="hover")

    def thread_once(self, turn: str, feed_note: str, dwell_note: str, tool: Value) -> Iterator[Step]:
        """From hover down to couple height with the spindle turning, and up again."""
        spin = _turning(self.setup, self.derived)
        yield from self.doubtful()
        direction = "forwards" if turn == "forwards" else "backwards"
        yield Override(True, "the thread wants its feed: no override")
        yield Spindle(direction, Number(self.thread.speed), turn)  # type: ignore[arg-type]
        yield Dwell(spin, "until it has its speed")
        yield Move((("Z", self.heights["couple"]),), length(self.thread.feed), feed_note)
        yield Dwell(Number(self.thread.dwell), dwell_note)
        yield Move((("Z", self.heights["hover"]),), note="hover")
        yield Override(False)
        yield Spindle("stop")
        yield Dwell(spin, "until it stands")
        yield from self.record(tool)

    def put_away(self, place: tuple[Value, Value]) -> Iterator[Step]:
        yield Move((("Z", self.heights["carry"]),), note="carry")
        yield from self.over(place)
        yield from self.thread_once("backwards", "couple: the flats hold the nut", "until the nut is off", Number(EMPTY))

    def fetch(self, place: tuple[Value, Value], tool: Value) -> Iterator[Step]:
        yield from self.over(place)
        yield from self.thread_once("forwards", "couple: the nut runs on", "until the nut is tight", tool)


AFTER = "The length in force is void: measure the tool in the spindle before the job goes on; state the feed again"


@planner("thread-on")
class ThreadOn:
    """Both kinds of text of a thread-on rack."""

    def one(self, setup: Setup, derived: DerivedChanger, exchange: Exchange) -> Sequence:
        assert setup.changer is not None
        ladder = derived.ladder
        heights: dict[str, Value] = {
            "couple": length(ladder.couple_z), "hover": length(ladder.hover_z), "empty": length(ladder.empty_z),
            "carry": length(ladder.carry_z), "park": length(derived.park_z)}  # fmt: skip
        names = {number: f"T{number}" if number else "the empty spindle" for number in (exchange.from_tool, exchange.to_tool)}
        title = f"{setup.machine.name}: from {names[exchange.from_tool]} to {names[exchange.to_tool]}"
        if exchange.from_tool == exchange.to_tool:
            return Sequence(title, (Remark("the tool is in the spindle already: nothing moves"), Stop("end")))
        program = _Program(setup, derived, setup.changer, heights, None)

        def steps() -> Iterator[Step]:
            yield Remark(f"needs {names[exchange.from_tool]} in the spindle; the record is kept on the entry card")
            yield SetModes(KNOWN_STATE, "a known state")
            yield Spindle("stop")
            yield Move((("Z", heights["park"]),), note="park")
            if exchange.from_tool:
                yield Remark(f"put {names[exchange.from_tool]} away")
                yield from program.put_away(_place(setup, derived, exchange.from_tool))
            if exchange.to_tool:
                yield Remark(f"fetch {names[exchange.to_tool]}")
                if exchange.from_tool:
                    yield Move((("Z", heights["empty"]),), note="empty")
                yield from program.fetch(_place(setup, derived, exchange.to_tool), Number(exchange.to_tool))
            yield Move((("Z", heights["park"]),), note="park")
            x, y = exchange.called_at
            yield Move((("X", length(x)), ("Y", length(y))), note="back; Z stays up")
            yield Say(f"Enter on the card: in the spindle is {names[exchange.to_tool]}")
            yield Say(AFTER)
            yield Stop("pause")
            yield Stop("end")

        return Sequence(title, tuple(steps()))

    def every(self, setup: Setup, derived: DerivedChanger) -> Sequence:
        assert setup.changer is not None
        known = setup.profile.parameters
        first = known.working_first
        pocket_from, pocket_to, x0, y0, dx, dy, couple, hover, empty, carry, park = range(first + 1, first + 12)
        listed = {"from": (first + 12, first + 13), "to": (first + 14, first + 15)} if setup.changer.rack.single_positions else {}
        in_spindle, requested = parameter(known.exchange_from), parameter(known.exchange_to)
        heights: dict[str, Value] = {"couple": parameter(couple), "hover": parameter(hover), "empty": parameter(empty),
                                     "carry": parameter(carry), "park": parameter(park)}  # fmt: skip
        mark = {"record": known.record, "doubtful": known.record_doubtful}
        program = _Program(setup, derived, setup.changer, heights, mark)
        stored = setup.stored()
        highest = max((tool.number for tool in stored), default=0)
        place_from = _listed(listed["from"]) if listed else _by_rule(pocket_from, x0, y0, dx, dy)
        place_to = _listed(listed["to"]) if listed else _by_rule(pocket_to, x0, y0, dx, dy)
        step = _pocket_step(derived)

        def when(left: Value, operator: str, right: float, label: int, note: str = "") -> Choose:
            return Choose(Binary(operator, left, Number(right)), label, note)

        def steps() -> Iterator[Step]:
            yield Remark(f"called with the tool in the spindle in #{known.exchange_from}, "
                         f"the requested one in #{known.exchange_to}, 0 the empty spindle")  # fmt: skip
            yield Choose(Binary("EQ", parameter(known.record_doubtful), Number(1)), 920, "settle the record first")
            yield Choose(Binary("NE", parameter(known.record), in_spindle), 920)
            yield Choose(Binary("EQ", in_spindle, requested), 900, "the same tool: nothing moves")
            yield when(requested, "LT", EMPTY, 910, "no such tool")
            yield when(requested, "GT", highest, 910)
            yield Remark("the pocket of each tool; 0 is none")
            yield Compute(pocket_from, Number(0))
            yield Compute(pocket_to, Number(0))
            for tool in stored:
                number, pocket = Number(tool.number), Number(tool.pocket or 0)
                yield ComputeIf(Binary("EQ", in_spindle, number), pocket_from, pocket)
                yield ComputeIf(Binary("EQ", requested, number), pocket_to, pocket)
            for wanted, found in ((in_spindle, pocket_from), (requested, pocket_to)):
                nowhere = Binary("EQ", parameter(found), Number(0))
                yield Choose(Binary("AND", Binary("NE", wanted, Number(EMPTY)), nowhere), 910, "it has no pocket")
            yield SetModes(KNOWN_STATE, "a known state")
            first_pocket = derived.pockets[0]
            rule = () if listed else (
                (x0, first_pocket.x, "pocket 1, X"), (y0, first_pocket.y, "pocket 1, Y"),
                (dx, step[0], "to the next pocket, X"), (dy, step[1], "to the next pocket, Y"))  # fmt: skip
            if listed:
                yield from _list_of_places(derived, stored, listed, pocket_from, pocket_to)
            for target, value, note in (
                *rule, (couple, derived.ladder.couple_z, "couple"), (hover, derived.ladder.hover_z, "hover"),
                (empty, derived.ladder.empty_z, "empty"), (carry, derived.ladder.carry_z, "carry"),
                (park, derived.park_z, "park"),
            ):  # fmt: skip
                yield Compute(target, length(value), note)
            yield Spindle("stop")
            yield Move((("Z", heights["park"]),), note="park")
            yield when(in_spindle, "EQ", EMPTY, 100, "nothing to put away")
            yield Remark("put the tool in the spindle away")
            yield from program.put_away(place_from)
            yield when(requested, "EQ", EMPTY, 200)
            yield Move((("Z", heights["empty"]),), note="empty")
            yield Label(100, "fetch the requested tool")
            yield from program.fetch(place_to, requested)
            yield Label(200, "back to where it was called; Z stays up")
            yield Move((("Z", heights["park"]),), note="park")
            yield Move((("X", parameter(known.called_at_first)), ("Y", parameter(known.called_at_first + 1))))
            yield SetModes((parameter(known.called_unit), parameter(known.called_distance)), "as the caller had them")
            yield Say(AFTER)
            yield Stop("pause")
            yield Stop("end")
            yield Label(900, "the requested tool is in the spindle already")
            yield Stop("return")
            yield Label(910)
            yield Say("There is no such tool in the rack. Nothing has moved")
            yield Stop("pause")
            yield Stop("end")
            yield Label(920)
            yield Say("The record of the tool in the spindle is doubtful or another one. Nothing has moved")
            yield Stop("pause")
            yield Stop("end")

        return Sequence(f"{setup.machine.name}: every exchange of the thread-on rack", tuple(steps()))


def _place(setup: Setup, derived: DerivedChanger, number: int) -> tuple[Value, Value]:
    pocket = derived.pocket(setup.tool(number).pocket or 1)
    return length(pocket.x), length(pocket.y)


def _pocket_step(derived: DerivedChanger) -> tuple[float, float]:
    """From one pocket to the next, mm; taken over the whole rack, so that rounding it errs least at the far end."""
    first, last, count = derived.pockets[0], derived.pockets[-1], len(derived.pockets)
    return ((last.x - first.x) / (count - 1), (last.y - first.y) / (count - 1)) if count > 1 else (0.0, 0.0)


def _listed(parameters: tuple[int, int]) -> tuple[Value, Value]:
    return parameter(parameters[0]), parameter(parameters[1])


def _list_of_places(derived: DerivedChanger, stored: list[Tool], listed: dict[str, tuple[int, int]], pocket_from: int,
                    pocket_to: int) -> Iterator[Step]:  # fmt: skip
    """Each pocket's own place, where they follow no rule."""
    yield Remark("the place of each pocket, as it was taught")
    for wanted, (x, y) in ((pocket_from, listed["from"]), (pocket_to, listed["to"])):
        for number in sorted({tool.pocket or 0 for tool in stored}):
            place = derived.pocket(number)
            condition = Binary("EQ", parameter(wanted), Number(number))
            yield ComputeIf(condition, x, length(place.x))
            yield ComputeIf(condition, y, length(place.y))


def _by_rule(pocket: int, x0: int, y0: int, dx: int, dy: int) -> tuple[Value, Value]:
    steps = Binary("-", parameter(pocket), Number(1))
    return (
        Binary("+", parameter(x0), Binary("*", steps, parameter(dx))),
        Binary("+", parameter(y0), Binary("*", steps, parameter(dy))),
    )
