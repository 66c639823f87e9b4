"""Exchanges of a disc that swings to the spindle."""

from collections.abc import Iterator

from orthotrope.calc.derived import DerivedChanger
from orthotrope.calc.disc import turn_steps
from orthotrope.kinds.moving_disc.model import MovingDisc
from orthotrope.sequence.exchanges.disc import DiscParts
from orthotrope.sequence.exchanges.frame import Frame, Parts, every, one, take
from orthotrope.sequence.exchanges.registry import EMPTY, PLANNERS, Exchange, Planner
from orthotrope.sequence.steps import Move, Sequence, Step
from orthotrope.sequence.values import Number
from orthotrope.setup import Setup


class _MovingDiscParts(DiscParts):
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
        yield from frame.grip(True, on_tool=False)

    def fetch(self, frame: Frame) -> Iterator[Step]:
        yield from take(frame, self.grip.feed, self.grip.slow_distance)
        yield from frame.output("magazine", False, "magazine home", "disc home")
        yield from frame.record(frame.to_tool)

    def leave_empty(self, frame: Frame) -> Iterator[Step]:
        yield from frame.output("magazine", False, "magazine home", "disc home")
        yield from frame.grip(False, on_tool=False)
        yield from frame.record(Number(EMPTY))

    def parts(self) -> Parts:
        return Parts(
            self.prepare,
            self.put_away,
            self.between,
            self.from_empty,
            self.fetch,
            self.leave_empty,
            heights=("couple", "hover", "park"),
        )


class MovingDiscPlanner(Planner):
    """Both kinds of text of a disc that swings to the spindle."""

    def one(self, setup: Setup, derived: DerivedChanger, exchange: Exchange) -> Sequence:
        changer = _changer(setup)
        pockets = [setup.tool(number).pocket for number in (exchange.from_tool, exchange.to_tool) if number]
        steps = turn_steps(changer.disc, pockets[0] or 1, pockets[1] or 1) if len(pockets) == 2 else None
        return one(_MovingDiscParts(changer).parts(), setup, derived, exchange, steps)

    def every(self, setup: Setup, derived: DerivedChanger, part: bool = False) -> Sequence:
        parts = _MovingDiscParts(_changer(setup)).parts()
        return every(parts, setup, derived, f"{setup.machine.name}: every exchange of the disc", part)


def _changer(setup: Setup) -> MovingDisc:
    assert isinstance(setup.changer, MovingDisc)
    return setup.changer


PLANNERS.add("moving disc", MovingDiscPlanner())
