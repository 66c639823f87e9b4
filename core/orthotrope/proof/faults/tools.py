"""A tool is not as long as its record says."""

from dataclasses import replace

from orthotrope.machine.run import Call
from orthotrope.machine.world import World, WorldTool
from orthotrope.proof.case import Case
from orthotrope.proof.faults.registry import FAULTS, Fault
from orthotrope.proof.judging import Telling

WRONG_BY = 10.0
"""mm (checks.md)."""


class _Off(Fault):
    """Every tool stands out of its holder by ``more`` mm than its record says."""

    def __init__(self, name: str, label: str, more: float, advice: str):
        super().__init__(name)
        self.label, self.more, self.telling = label, more, Telling((), advice)
        self._last: tuple[dict[int, WorldTool], dict[int, WorldTool]] = {}, {}

    def world(self, world: World, call: Call) -> World:
        tools, others = self._last
        if tools is not world.tools:  # a proof asks hundreds of times for those of one world
            tools, others = world.tools, {number: self._other(tool) for number, tool in world.tools.items()}
            self._last = tools, others
        return replace(world, tools=others)

    def changes(self, case: Case) -> frozenset[str]:
        return frozenset({"magazine"})

    def _other(self, tool: WorldTool) -> WorldTool:
        more = max(self.more, 1.0 - tool.stick_out)
        return replace(tool, length=tool.length + more, stick_out=tool.stick_out + more)


FAULTS.add(
    "tool-long",
    _Off(
        "tool-long",
        "a tool 10 mm longer",
        WRONG_BY,
        "A margin larger by what a length may be wrong, or measuring each tool as it is put in, would help.",
    ),
)
FAULTS.add(
    "tool-short",
    _Off("tool-short", "a tool 10 mm shorter", -WRONG_BY, "Measuring each tool as it is put in would detect it."),
)
