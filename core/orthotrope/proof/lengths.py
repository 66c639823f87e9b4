"""Tools that are not as long as their records say."""

from dataclasses import replace
from functools import lru_cache

from orthotrope.machine.world import WorldTool

WRONG_BY = 10.0
"""mm (checks.md)."""


def of_other_length(tools: dict[int, WorldTool], more: float) -> dict[int, WorldTool]:
    """The same tools, each standing out of its holder by ``more`` mm; at least 1 mm is left of it."""
    return _others(_Same(tools), more)


class _Same:
    """A dictionary that is equal to itself only: a proof asks hundreds of times for the other tools of one world."""

    def __init__(self, tools: dict[int, WorldTool]):
        self.tools = tools

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Same) and self.tools is other.tools

    def __hash__(self) -> int:
        return id(self.tools)


@lru_cache(maxsize=16)
def _others(same: _Same, more: float) -> dict[int, WorldTool]:
    return {number: _other(tool, max(more, 1.0 - tool.stick_out)) for number, tool in same.tools.items()}


def _other(tool: WorldTool, more: float) -> WorldTool:
    return replace(tool, length=tool.length + more, stick_out=tool.stick_out + more)
