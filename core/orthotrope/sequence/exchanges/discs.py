"""Exchanges with a disc: one that swings to the spindle, and one with an arm."""

from collections.abc import Iterator

from orthotrope.calc.derived import DerivedChanger, turn_steps
from orthotrope.errors import InputError
from orthotrope.sequence.exchanges.frame import Frame, Parts, every, one
from orthotrope.sequence.exchanges.gripped import park, take
from orthotrope.sequence.exchanges.registry import EMPTY, Exchange, planner
from orthotrope.sequence.steps import (
    Choose,
    Compute,
    ComputeIf,
    EndWhile,
    Label,
    Move,
    Remark,
    Say,
    Sequence,
    Step,
    Stop,
    While,
    Words,
)
from orthotrope.sequence.values import Binary, Number, Parameter, Value, length, parameter
from orthotrope.setup import Setup
from orthotrope.setup.styles import ArmDisc as ArmDiscChanger
from orthotrope.setup.styles import DiscChanger
from orthotrope.setup.styles import MovingDisc as MovingDiscChanger


class _Disc:
    def __init__(self, changer: DiscChanger):
        self.changer, self.grip, self.disc = changer, changer.grip, changer.disc

    def prepare(self, frame: Frame) -> Iterator[Step]:
        yield from frame.orient()
        yield park(frame)
        place = self.changer.exchange
        yield Move((("X", length(place.x)), ("Y", length(place.y))), note="the exchange place")

    def turn(self, frame: Frame, pocket: Value, steps: int | None, note: str) -> Iterator[Step]:
        """Turn the disc to a pocket; ``steps`` where they are known, else as long as it can take."""
        most = self.disc.count // 2 if self.disc.way == "shorter" else self.disc.count - 1
        yield Words(self.disc.turn_word, pocket, note)
        yield frame.until(
            "magazine in place", (most if steps is None else steps) * self.disc.seconds_per_step, "until it stands there"
        )


class _MovingDiscParts(_Disc):
    """The disc's empty pocket to the spindle, out, open, up; turn, down, close, home."""

    def put_away(self, frame: Frame) -> Iterator[Step]:
        yield from self.turn(frame, frame.from_pocket, None, "the pocket of the tool in the spindle")
        yield Move((("Z", frame.heights["couple"]),), note="the exchange height")
        yield from frame.doubtful()
        yield from frame.output("magazine", True, "magazine out", "disc out")
        yield from frame.grip(True)
        yield Move((("Z", frame.heights["hover"]),), note="hover: clear of the knob")

    def between(self, frame: Frame) -> Iterator[Step]:
        yield from self.turn(frame, frame.to_pocket, frame.usual_steps, "the pocket of the requested tool")

    def from_empty(self, frame: Frame) -> Iterator[Step]:
        yield from self.turn(frame, frame.to_pocket, None, "the pocket of the requested tool")
        yield Move((("Z", frame.heights["hover"]),), note="hover: clear of the knob")
        yield from frame.doubtful()
        yield from frame.output("magazine", True, "magazine out", "disc out")
        yield from frame.grip(True)

    def fetch(self, frame: Frame) -> Iterator[Step]:
        yield from take(frame, self.grip.feed, self.grip.slow_distance)
        yield from frame.output("magazine", False, "magazine home", "disc home")
        yield from frame.record(frame.to_tool)

    def leave_empty(self, frame: Frame) -> Iterator[Step]:
        yield from frame.output("magazine", False, "magazine home", "disc home")
        yield from frame.grip(False, on_tool=False)
        yield from frame.record(Number(EMPTY))

    def parts(self) -> Parts:
        return Parts(self.prepare, self.put_away, self.between, self.from_empty, self.fetch, self.leave_empty,
                     heights=("couple", "hover", "park"))  # fmt: skip


class _ArmParts(_Disc):
    """The pot comes down, the arm takes both tools, goes down, half round and up."""

    def __init__(self, changer: ArmDiscChanger):
        _Disc.__init__(self, changer)
        self.keeps = changer.arm.tools == "keep their pockets"

    def prepare(self, frame: Frame) -> Iterator[Step]:
        if frame.mark and not self.keeps:
            yield from self._found(frame.setup, 910)
        yield from _Disc.prepare(self, frame)
        yield Move((("Z", frame.heights["couple"]),), note="the exchange height")

    def swap(self, frame: Frame, pocket: Value, note: str, closes: bool) -> Iterator[Step]:
        """The tool in the spindle against the one in a pocket; either may be none."""
        yield from self.turn(frame, pocket, None, note)
        yield from frame.doubtful()
        yield from frame.output("pot", True, "pot down", "pot down")
        yield from frame.output("arm swing", True, "arm in", "arm in")
        yield from frame.grip(True)
        yield from frame.output("arm stroke", True, "arm down", "arm down")
        yield from frame.output("arm turn", True, None, "arm half round")
        yield from frame.output("arm stroke", False, "arm up", "arm up")
        yield from frame.grip(False, on_tool=closes)
        yield from frame.output("arm swing", False, "arm home", "arm home")
        yield from frame.output("pot", False, "pot up", "pot up")

    def put_away(self, frame: Frame) -> Iterator[Step]:
        yield from self.swap(frame, frame.from_pocket, "its own pocket, which is empty", closes=False)
        yield from frame.record(Number(EMPTY))

    def fetch(self, frame: Frame) -> Iterator[Step]:
        yield from self.swap(frame, frame.to_pocket, "the pocket of the requested tool", closes=True)
        yield from frame.record(frame.to_tool)

    def whole(self, frame: Frame) -> Iterator[Step]:
        """Tools that change pockets: one swap, by the control's own table of what is in each pocket."""
        to_none = Binary("EQ", frame.to_tool, Number(EMPTY))
        if frame.mark:
            yield Choose(to_none, 300)
        if frame.mark or frame.to_tool != Number(EMPTY):
            yield from self.swap(frame, frame.to_pocket, "the pocket of the requested tool", closes=True)
        if frame.mark:
            yield Choose(None, 310)
            yield Label(300, "nothing is fetched")
        if frame.mark or frame.to_tool == Number(EMPTY):
            yield from self.swap(frame, frame.to_pocket, "a pocket that is free", closes=False)
        if frame.mark:
            yield Label(310)
            table = frame.setup.profile.parameters.pockets_first
            yield Compute(Binary("+", Number(table), frame.to_pocket), frame.from_tool, "what is in that pocket now")
            yield from frame.record(frame.to_tool)
        else:
            yield Say("The pockets have changed: enter them on the card, and write the files of the exchanges anew")

    def _found(self, setup: Setup, nowhere: int) -> Iterator[Step]:
        """Look the pocket up in the control's table: the lowest that holds what is requested, or nothing; ``nowhere`` is where
        the program goes on when there is none."""
        known = setup.profile.parameters
        found, index, requested = known.working_first + 2, known.working_first + 18, parameter(known.exchange_to)
        holds: Value = Parameter(Binary("+", Number(known.pockets_first), parameter(index)))
        yield Remark("the pocket that holds what is requested; for the empty spindle one that is free")
        yield Compute(found, Number(0))
        yield Compute(index, Number(self.disc.count))
        yield While(Binary("GE", parameter(index), Number(1)))
        yield ComputeIf(Binary("EQ", holds, requested), found, parameter(index))
        yield Compute(index, Binary("-", parameter(index), Number(1)))
        yield EndWhile()
        yield Choose(Binary("EQ", parameter(found), Number(0)), nowhere, "it is in no pocket")

    def ready(self, setup: Setup) -> Iterator[Step]:
        """Turn the disc to the requested tool while the job cuts; nothing else moves, and nothing where that can't be."""
        known = setup.profile.parameters
        found, requested = known.working_first + 2, parameter(known.exchange_to)
        yield Remark(f"called with the requested tool in #{known.exchange_to} while the job cuts: only the disc turns")
        yield Choose(Binary("EQ", parameter(known.record_doubtful), Number(1)), 900, "settle the record first")
        for role in ("pot up", "arm home"):
            entry = setup.input_of(role)
            if entry:
                yield Choose(Binary("NE", parameter(known.input_first + entry.number), Number(1)), 900, role)
        if self.keeps:
            yield Compute(found, Number(0))
            for tool in setup.stored():
                yield ComputeIf(Binary("EQ", requested, Number(tool.number)), found, Number(tool.pocket or 0))
            yield Choose(Binary("EQ", parameter(found), Number(0)), 900, "it is in no pocket")
        else:
            yield from self._found(setup, 900)
        yield Words(self.disc.turn_word, parameter(found), "the exchange turns to it again and waits")
        yield Label(900)
        yield Stop("return")

    def parts(self) -> Parts:
        if self.keeps:
            return Parts(self.prepare, self.put_away, fetch=self.fetch, heights=("couple", "park"))
        return Parts(self.prepare, whole=self.whole, heights=("couple", "park"), kept=True)


@planner("disc with arm")
class ArmDisc:
    """Both kinds of text of a disc with an arm."""

    def one(self, setup: Setup, derived: DerivedChanger, exchange: Exchange) -> Sequence:
        return one(self._parts(setup), setup, derived, exchange)

    def every(self, setup: Setup, derived: DerivedChanger) -> Sequence:
        return every(self._parts(setup), setup, derived, f"{setup.machine.name}: every exchange of the disc with its arm")

    def _parts(self, setup: Setup) -> Parts:
        assert isinstance(setup.changer, ArmDiscChanger)
        return _ArmParts(setup.changer).parts()


@planner("moving disc")
class MovingDisc:
    """Both kinds of text of a disc that swings to the spindle."""

    def one(self, setup: Setup, derived: DerivedChanger, exchange: Exchange) -> Sequence:
        parts = self._parts(setup)
        assert isinstance(setup.changer, MovingDiscChanger)
        pockets = [setup.tool(number).pocket for number in (exchange.from_tool, exchange.to_tool) if number]
        steps = turn_steps(setup.changer.disc, pockets[0] or 1, pockets[1] or 1) if len(pockets) == 2 else None
        return one(parts, setup, derived, exchange, steps)

    def every(self, setup: Setup, derived: DerivedChanger) -> Sequence:
        return every(self._parts(setup), setup, derived, f"{setup.machine.name}: every exchange of the disc")

    def _parts(self, setup: Setup) -> Parts:
        assert isinstance(setup.changer, MovingDiscChanger)
        return _MovingDiscParts(setup.changer).parts()


def plan_ready(setup: Setup) -> Sequence:
    """The program that readies a tool at an arm's disc while the job cuts.

    Raises:
        InputError: where the changer is no disc with an arm.
    """
    if not isinstance(setup.changer, ArmDiscChanger):
        raise InputError.at("/changer", "Only a disc with an arm readies a tool while the job cuts.")
    return Sequence(f"{setup.machine.name}: ready the next tool", tuple(_ArmParts(setup.changer).ready(setup)))
