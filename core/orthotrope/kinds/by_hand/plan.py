"""Exchanges by hand: the spindle goes to the loading place, and a person changes the tool there."""

from collections.abc import Iterator

from orthotrope.calc.derived import DerivedChanger
from orthotrope.kinds.by_hand.model import ByHand
from orthotrope.sequence.exchanges.frame import Frame, Parts, every, one
from orthotrope.sequence.exchanges.registry import EMPTY, PLANNERS, Exchange, Planner
from orthotrope.sequence.steps import Choose, Label, Move, Say, Sequence, Step, Stop
from orthotrope.sequence.values import Binary, Number, length
from orthotrope.setup import Setup
from orthotrope.setup.tools import Tool
from orthotrope.units import MM_PER_INCH


class _ByHandParts:
    def __init__(self, changer: ByHand):
        self.changer = changer

    def prepare(self, frame: Frame) -> Iterator[Step]:
        yield from frame.stand(frame.setup.machine.spindle.seconds_to_speed)

    def whole(self, frame: Frame) -> Iterator[Step]:
        """To the loading place an axis at a time, and ask for the tool by its number and name."""
        places = {"X": self.changer.x, "Y": self.changer.y, "Z": self.changer.z}
        for axis in self.changer.order:
            yield Move(
                ((axis, length(places[axis])),), note="the loading place" if axis == self.changer.order[-1] else ""
            )
        yield from frame.doubtful()
        tools, inch = frame.setup.exchangeable(), frame.setup.profile.unit == "inch"
        if frame.mark:
            for tool in tools:
                yield Choose(Binary("EQ", frame.to_tool, Number(tool.number)), frame.use.label(f"T{tool.number}"))
            yield Say("Take the tool out and leave the spindle empty; go on when it is done")
            yield Stop("pause")
            yield Choose(None, frame.use.label("back"))
            for tool in tools:
                yield Label(frame.use.label(f"T{tool.number}"))
                yield from _ask_for(tool, inch)
                yield Choose(None, frame.use.label("back"))
            yield Label(frame.use.label("back"), "the tool is in")
        elif frame.to_tool == Number(EMPTY):
            yield Say("Take the tool out and leave the spindle empty; go on when it is done")
            yield Stop("pause")
        else:
            yield from _ask_for(next(tool for tool in tools if Number(tool.number) == frame.to_tool), inch)
        yield from frame.record(frame.to_tool)

    def back(self, frame: Frame) -> Iterator[Step]:
        """Z stays up: the loading place is high."""
        yield Move((("Z", length(self.changer.z)),), note="Z stays up")


def _ask_for(tool: Tool, inch: bool) -> Iterator[Step]:
    across, long = (f"{v / MM_PER_INCH:.4g} in" if inch else f"{v:g} mm" for v in (tool.diameter, tool.whole_length))
    yield Say(f"Put in T{tool.number}, {tool.name}: {across} across, {long} long; go on when it is tight")
    yield Stop("pause")


class ByHandPlanner(Planner):
    """Both kinds of text of a change by hand."""

    def one(self, setup: Setup, derived: DerivedChanger, exchange: Exchange) -> Sequence:
        return one(self._parts(setup), setup, derived, exchange)

    def every(self, setup: Setup, derived: DerivedChanger, part: bool = False) -> Sequence:
        return every(self._parts(setup), setup, derived, f"{setup.machine.name}: every exchange by hand", part)

    def _parts(self, setup: Setup) -> Parts:
        assert isinstance(setup.changer, ByHand)
        style = _ByHandParts(setup.changer)
        return Parts(style.prepare, whole=style.whole, back=style.back, heights=(), pockets=False)


PLANNERS.add("by hand", ByHandPlanner())
