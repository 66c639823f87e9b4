"""A tool is not as long as its record says."""

from dataclasses import replace

from orthotrope.machine.run import Call
from orthotrope.machine.world import World
from orthotrope.proof.case import Case
from orthotrope.proof.faults.registry import FAULTS, Fault
from orthotrope.proof.judging import Detection
from orthotrope.proof.lengths import WRONG_BY, of_other_length


class _Off(Fault):
    """Every tool stands out of its holder by ``more`` mm than its record says."""

    def __init__(self, name: str, label: str, more: float, advice: str):
        super().__init__(name)
        self.label, self.more, self.detection = label, more, Detection((), advice)

    def world(self, world: World, call: Call) -> World:
        return replace(world, tools=of_other_length(world.tools, self.more))

    def changes(self, case: Case) -> frozenset[str]:
        """A shorter tool is within what the tool is: it meets nothing that the tool does not, so it is the same until a touch."""
        return frozenset({"length", "longer"} if self.more > 0 else {"length"})


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
