"""A place where a person changes the tool, while a program runs."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace

from orthotrope.machine.changing import Changing, Magazine
from orthotrope.machine.motion import Vector
from orthotrope.machine.shapes import StackPart
from orthotrope.machine.world import WorldTool

STANDS_THERE = 0.5
"""mm; the spindle stands at the loading place when each axis is no further from it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadingPlace(Magazine):
    """Where a person changes the tool: the nose's place, mm. ``gives``: the tool that they really put in, by the one
    asked for."""

    x: float
    y: float
    z: float
    gives: dict[int, int] = field(default_factory=dict)

    def changing(self, tool: int, stored: dict[int, int]) -> "HandChanging":
        return HandChanging(tool)

    def by_hand(self, place: Vector, wanted: int) -> int | None:
        here = all(abs(one - other) < STANDS_THERE for one, other in zip(place, (self.x, self.y, self.z), strict=True))
        return self.gives.get(wanted, wanted) if here else None

    def another(self, tools: Mapping[int, WorldTool], from_tool: int, to_tool: int) -> int:
        return next((tool for tool in tools if tool not in (from_tool, to_tool)), 0)

    def dependencies_of(self, tool: int) -> frozenset[str]:
        return frozenset({"stored"})

    def mixed_up(self, wanted: int, other: int) -> "LoadingPlace":
        return replace(self, gives={wanted: other})

    def as_left(self, changing: Changing) -> "LoadingPlace":
        return self


@dataclass(slots=True)
class HandChanging(Changing):
    """The tool that is in the spindle; it is always tight."""

    tool: int = 0
    stored: dict[int, int] = field(default_factory=dict)

    @property
    def holds(self) -> int | None:
        return self.tool

    def put(self, number: int) -> None:
        self.tool = number

    def stack(self, tool: WorldTool) -> Iterator[StackPart]:
        if not tool.holder:
            yield tool.alone
            return
        low = tool.stick_out - tool.length
        yield from tool.held(f"the holder of T{tool.number}", 0.0, low, None)
        yield StackPart(f"T{tool.number}", tool.radius, -tool.length, low)
