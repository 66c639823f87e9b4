"""Exchanges of a disc with an arm: the pot comes down, the arm takes both tools, goes down, half round and up."""

from collections.abc import Iterator

from orthotrope.calc.derived import DerivedChanger
from orthotrope.kinds.arm_disc.model import ArmDisc
from orthotrope.sequence.allotment import Allotment
from orthotrope.sequence.exchanges.disc import DiscParts
from orthotrope.sequence.exchanges.frame import Frame, Parts, every, one
from orthotrope.sequence.exchanges.registry import EMPTY, PLANNERS, Exchange, Planner
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
from orthotrope.sequence.values import Binary, Number, Parameter, Value, parameter
from orthotrope.setup import Setup


class _ArmParts(DiscParts):
    """The pot comes down, the arm takes both tools, goes down, half round and up."""

    def __init__(self, changer: ArmDisc):
        DiscParts.__init__(self, changer)
        self.keeps = changer.arm.tools == "keep their pockets"

    def prepare(self, frame: Frame) -> Iterator[Step]:
        if frame.mark and not self.keeps:
            yield from self._found(frame.setup, frame.use, frame.use.label("no such tool"))
        yield from DiscParts.prepare(self, frame)
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
            yield Choose(to_none, frame.use.label("nothing is fetched"))
        if frame.mark or frame.to_tool != Number(EMPTY):
            yield from self.swap(frame, frame.to_pocket, "the pocket of the requested tool", closes=True)
        if frame.mark:
            yield Choose(None, frame.use.label("swapped"))
            yield Label(frame.use.label("nothing is fetched"), "nothing is fetched")
        if frame.mark or frame.to_tool == Number(EMPTY):
            yield from self.swap(frame, frame.to_pocket, "a pocket that is free", closes=False)
        if frame.mark:
            yield Label(frame.use.label("swapped"))
            table = frame.setup.profile.parameters.pockets_first
            yield Compute(Binary("+", Number(table), frame.to_pocket), frame.from_tool, "what is in that pocket now")
            yield from frame.record(frame.to_tool)
        else:
            yield Say("The pockets have changed: enter them on the card, and write the files of the exchanges again")

    def _found(self, setup: Setup, use: Allotment, nowhere: int) -> Iterator[Step]:
        """Look the pocket up in the control's table: the lowest that holds what is requested, or nothing; ``nowhere``
        is where the program goes on when there is none."""
        known = setup.profile.parameters
        found, index, requested = use.number("pocket to"), use.number("search"), parameter(known.exchange_to)
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
        """Turn the disc to the requested tool while the job cuts; nothing else moves, and nothing where that can't
        be."""
        known = setup.profile.parameters
        use = Allotment(known)
        found, nowhere, requested = use.number("pocket to"), use.label("nothing moves"), parameter(known.exchange_to)
        yield Remark(f"called with the requested tool in #{known.exchange_to} while the job cuts: only the disc turns")
        yield Choose(Binary("EQ", parameter(known.record_doubtful), Number(1)), nowhere, "correct the record first")
        for role in ("pot up", "arm home"):
            entry = setup.input_of(role)
            if entry:
                yield Choose(Binary("NE", parameter(known.input_first + entry.number), Number(1)), nowhere, role)
        if self.keeps:
            yield Compute(found, Number(0))
            for tool in setup.stored():
                yield ComputeIf(Binary("EQ", requested, Number(tool.number)), found, Number(tool.pocket or 0))
            yield Choose(Binary("EQ", parameter(found), Number(0)), nowhere, "it is in no pocket")
        else:
            yield from self._found(setup, use, nowhere)
        yield Words(self.disc.turn_word, parameter(found), "the exchange turns to it again and waits")
        yield Label(nowhere)
        yield Stop("return")

    def parts(self) -> Parts:
        if self.keeps:
            return Parts(self.prepare, self.put_away, fetch=self.fetch, heights=("couple", "park"))
        return Parts(self.prepare, whole=self.whole, heights=("couple", "park"), kept=True)


class ArmDiscPlanner(Planner):
    """Both kinds of text of a disc with an arm."""

    def one(self, setup: Setup, derived: DerivedChanger, exchange: Exchange) -> Sequence:
        return one(_arm(setup).parts(), setup, derived, exchange)

    def every(self, setup: Setup, derived: DerivedChanger, part: bool = False) -> Sequence:
        return every(
            _arm(setup).parts(), setup, derived, f"{setup.machine.name}: every exchange of the disc with its arm", part
        )

    def ready(self, setup: Setup) -> Sequence:
        return Sequence(f"{setup.machine.name}: ready the next tool", tuple(_arm(setup).ready(setup)))


def _arm(setup: Setup) -> _ArmParts:
    assert isinstance(setup.changer, ArmDisc)
    return _ArmParts(setup.changer)


PLANNERS.add("disc with arm", ArmDiscPlanner())
