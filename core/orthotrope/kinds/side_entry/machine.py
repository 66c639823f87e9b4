"""Forks that hold a holder by its groove, while a program runs."""

from collections.abc import Iterator
from dataclasses import dataclass

from orthotrope.machine.changing import GripWords
from orthotrope.machine.gripping import Gripping, GripPockets
from orthotrope.machine.motion import Vector
from orthotrope.machine.shapes import StackPart
from orthotrope.machine.world import WorldTool
from orthotrope.setup.roles import ON_TOOL


@dataclass(frozen=True, slots=True)
class Groove:
    """A holder's groove: its radius, and its edges below the gauge line (negative), mm."""

    radius: float
    low: float
    high: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ForkPockets(GripPockets):
    """Forks; ``mouths``: the way out of each (cos, sin)."""

    groove: Groove
    mouths: dict[int, tuple[float, float]]

    def changing(self, tool: int, stored: dict[int, int]) -> "ForkGripping":
        return ForkGripping(self, tool, stored)

    def enters(self, start: Vector, end: Vector) -> bool:
        """Along the mouth of a fork, in or out, at the height at which its tool is taken."""
        if abs(end[2] - self.couple_z) > self.reach or start[2] != end[2]:
            return False
        for pocket, (cos, sin) in self.mouths.items():
            x, y = self.places[pocket]
            across = [abs((p[1] - y) * cos - (p[0] - x) * sin) for p in (start, end)]
            along = [(p[0] - x) * cos + (p[1] - y) * sin for p in (start, end)]
            if max(across) <= self.aligned and min(along) >= -self.aligned:
                return True
        return False


@dataclass(slots=True)
class ForkGripping(Gripping):
    """The state of spindle, grip and forks."""

    pockets: ForkPockets

    def _holder(self, tool: WorldTool, low: float) -> Iterator[StackPart]:
        name, radius, groove = f"the holder of T{tool.number}", self.pockets.holder_radius, self.pockets.groove
        if low >= groove.low:
            yield StackPart(name, radius, low, 0.0)
            return
        yield StackPart(name, radius, groove.high, 0.0)
        yield StackPart(name, groove.radius, groove.low, groove.high)
        yield from tool.held(name, groove.low, low, radius)

    def ways_out(self, place: Vector, low: bool, words: GripWords) -> Iterator[str]:
        pocket = self.place(place[0], place[1])
        if pocket and low and self.devices["grip"].state == ON_TOOL and self.tool:
            yield from self.grip_on_its_way(words)
            yield f"The tool is gripped and stands in fork {pocket}: jog out along its mouth, not up."
        else:
            yield from Gripping.ways_out(self, place, low, words)
