"""Exchanges of drop-in pockets: over the pocket, down, open, up; over the next, down, close, up."""

from collections.abc import Iterator

from orthotrope.calc.derived import DerivedChanger
from orthotrope.kinds.drop_in.model import DropIn
from orthotrope.sequence.exchanges.frame import Frame, Parts, every, one, open_above, park, take
from orthotrope.sequence.exchanges.registry import EMPTY, PLANNERS, Descent, Exchange, Planner
from orthotrope.sequence.steps import Move, Sequence, Step
from orthotrope.sequence.values import Number
from orthotrope.setup import Setup


class _DropInParts:
    """Over the pocket, down, open, up beyond taper and knob; over the next, down, close, up."""

    def __init__(self, changer: DropIn):
        self.changer = changer

    def prepare(self, frame: Frame) -> Iterator[Step]:
        yield from frame.stand(frame.setup.machine.spindle.seconds_to_speed)
        yield park(frame)

    def put_away(self, frame: Frame) -> Iterator[Step]:
        grip = self.changer.grip
        yield Move((("Z", frame.heights["carry"]),), note="carry")
        yield Move((("X", frame.place_from[0]), ("Y", frame.place_from[1])), note="over the pocket")
        yield from frame.down(grip.feed, grip.slow_distance, "couple: the tool stands in its pocket")
        yield from frame.doubtful()
        yield from frame.grip(True)
        yield Move((("Z", frame.heights["hover"]),), note="hover: clear of the knob")
        yield from frame.record(Number(EMPTY))

    def between(self, frame: Frame) -> Iterator[Step]:
        yield Move((("Z", frame.heights["empty"]),), note="empty")

    def from_empty(self, frame: Frame) -> Iterator[Step]:
        yield from frame.grip(True, on_tool=False)

    def fetch(self, frame: Frame) -> Iterator[Step]:
        grip = self.changer.grip
        yield Move((("X", frame.place_to[0]), ("Y", frame.place_to[1])), note="over the pocket")
        yield from take(frame, grip.feed, grip.slow_distance)
        yield Move((("Z", frame.heights["carry"]),), note="carry")
        yield from frame.record(frame.to_tool)

    def leave_empty(self, frame: Frame) -> Iterator[Step]:
        yield from frame.grip(False, on_tool=False)

    def parts(self) -> Parts:
        return Parts(self.prepare, self.put_away, self.between, self.from_empty, self.fetch, self.leave_empty)


class DropInPlanner(Planner):
    """Both kinds of text of pockets that tools are set down into."""

    def one(self, setup: Setup, derived: DerivedChanger, exchange: Exchange) -> Sequence:
        return one(_parts(setup), setup, derived, exchange)

    def every(self, setup: Setup, derived: DerivedChanger, part: bool = False) -> Sequence:
        return every(
            _parts(setup), setup, derived, f"{setup.machine.name}: every exchange of the drop-in pockets", part
        )

    def descent(self, setup: Setup, derived: DerivedChanger) -> Descent:
        assert isinstance(setup.changer, DropIn)
        return open_above(setup, derived, setup.changer.grip)


def _parts(setup: Setup) -> Parts:
    assert isinstance(setup.changer, DropIn)
    return _DropInParts(setup.changer).parts()


PLANNERS.add("drop-in", DropInPlanner())
