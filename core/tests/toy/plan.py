from collections.abc import Iterator

from orthotrope.calc.derived import DerivedChanger
from orthotrope.sequence.exchanges.frame import Frame, Parts, Place, every, one, park
from orthotrope.sequence.exchanges.registry import EMPTY, PLANNERS, Exchange, Planner
from orthotrope.sequence.steps import Move, Sequence, Step
from orthotrope.sequence.values import Binary, Number, Value, length
from orthotrope.setup import Setup

from toy.derive import SLOW
from toy.model import MagnetRow
from toy.step import Beep


class _Parts:
    def __init__(self, changer: MagnetRow):
        self.changer = changer

    def _place(self, pocket: Value) -> Place:
        if isinstance(pocket, Number):
            return length(self.changer.x + (pocket.value - 1) * self.changer.pitch), length(self.changer.y)
        steps = Binary("*", Binary("-", pocket, Number(1)), length(self.changer.pitch))
        return Binary("+", length(self.changer.x), steps), length(self.changer.y)

    def _onto(self, frame: Frame, pocket: Value) -> Iterator[Step]:
        x, y = self._place(pocket)
        yield Move((("X", x), ("Y", y)), note="over the pin")
        yield from frame.down(SLOW, 10.0, "onto the pin")
        yield from frame.doubtful()

    def prepare(self, frame: Frame) -> Iterator[Step]:
        yield from frame.stand(frame.setup.machine.spindle.seconds_to_speed)
        yield park(frame)

    def put_away(self, frame: Frame) -> Iterator[Step]:
        yield from self._onto(frame, frame.from_pocket)
        yield from frame.output("magnet", False, None, "magnet off")
        yield Move((("Z", frame.heights["hover"]),), note="hover")
        yield from frame.record(Number(EMPTY))

    def fetch(self, frame: Frame) -> Iterator[Step]:
        yield park(frame)
        yield from self._onto(frame, frame.to_pocket)
        yield from frame.output("magnet", True, "tool held", "magnet on")
        yield Beep()
        yield park(frame)
        yield from frame.record(frame.to_tool)


class MagnetPlanner(Planner):
    def one(self, setup: Setup, derived: DerivedChanger, exchange: Exchange) -> Sequence:
        return one(_parts(setup), setup, derived, exchange)

    def every(self, setup: Setup, derived: DerivedChanger, part: bool = False) -> Sequence:
        return every(_parts(setup), setup, derived, f"{setup.machine.name}: every exchange of the magnet", part)


def _parts(setup: Setup) -> Parts:
    assert isinstance(setup.changer, MagnetRow)
    made = _Parts(setup.changer)
    return Parts(made.prepare, made.put_away, fetch=made.fetch, heights=("couple", "hover", "park"))


PLANNERS.add("magnet row", MagnetPlanner())
