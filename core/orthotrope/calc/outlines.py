"""The outline of a cutter by its type, seen from the front: what tells one from another on a drawing, on the screen and on
paper."""

import math
from collections.abc import Callable

from orthotrope.setup.tools import Tool, ToolType

Point = tuple[float, float]
"""mm: to the right of the axis, and below the gauge line (negative Z is down: here the second number grows downwards)."""

DRILL, SPOT, CHAMFER = 118.0, 90.0, 45.0
"""Degrees, where a tool has none of its own: included for a drill and a spot drill, a side for a chamfer mill."""

STEPS = 8
"""Points of a quarter circle."""

Half = list[Point]
"""The right half of an outline, from the holder down to the axis at the tip."""


def outline(tool: Tool) -> tuple[Point, ...]:
    """The closed outline of what stands out of the holder, mm: first down its right side, then up its left one. The other
    dimensions of the tool, as far as its type has them, are in it."""
    right, left = HALVES[tool.type](tool), LEFT_HALVES.get(tool.type, HALVES[tool.type])(tool)
    return (*right, *((-x, z) for x, z in reversed(left)))


def _ends(tool: Tool) -> tuple[float, float, float]:
    """Half the diameter, where it leaves the holder, and its tip."""
    tip = tool.whole_length
    return tool.diameter / 2, tip - tool.stick_out, tip


def _straight(tool: Tool) -> Half:
    half, top, tip = _ends(tool)
    return [(half, top), (half, tip)]


def _rounded(tool: Tool, radius: float) -> Half:
    half, top, tip = _ends(tool)
    r = min(radius, half, tip - top)
    turns = [math.pi / 2 * step / STEPS for step in range(STEPS + 1)]
    return [(half, top), *((half - r + r * math.cos(a), tip - r + r * math.sin(a)) for a in turns)]


def _pointed(tool: Tool, per_side: float, flat: float = 0.0) -> Half:
    """A point with this angle from the axis, degrees; ``flat``: the part of half the diameter that is left at its tip."""
    half, top, tip = _ends(tool)
    high = min(half * (1 - flat) / math.tan(math.radians(max(1.0, per_side))), tip - top)
    return [(half, top), (half, tip - high), (half * flat, tip)]


def _necked(tool: Tool, neck: float, thick: float) -> Half:
    """A neck with a disc at its end, ``thick`` mm."""
    half, top, tip = _ends(tool)
    high = min(tool.cutting_length or thick, (tip - top) / 2)
    return [(half * neck, top), (half * neck, tip - high), (half, tip - high), (half, tip)]


def _stylus(tool: Tool) -> Half:
    half, top, tip = _ends(tool)
    r, stem = min(half, (tip - top) / 2), half * 0.4
    begin = math.asin(min(1.0, stem / r))
    turns = [begin + (math.pi - begin) * step / (2 * STEPS) for step in range(2 * STEPS + 1)]
    return [(stem, top), *((r * math.sin(a), tip - r - r * math.cos(a)) for a in turns)]


def _bar(tool: Tool) -> Half:
    """A boring bar: slimmer than what it bores, with its edge on one side."""
    half, top, tip = _ends(tool)
    return [(half * 0.6, top), (half * 0.6, tip - half * 0.5), (half, tip - half * 0.5), (half, tip)]


HALVES: dict[ToolType, Callable[[Tool], Half]] = {
    "flat end mill": _straight,
    "ball end mill": lambda tool: _rounded(tool, tool.diameter / 2),
    "corner-radius end mill": lambda tool: _rounded(
        tool, tool.diameter / 6 if tool.corner_radius is None else tool.corner_radius
    ),
    "face mill": lambda tool: _necked(tool, 0.55, 12.0),
    "drill": lambda tool: _pointed(tool, (tool.angle_deg or DRILL) / 2),
    "spot drill": lambda tool: _pointed(tool, (tool.angle_deg or SPOT) / 2),
    "chamfer mill": lambda tool: _pointed(tool, tool.angle_deg or CHAMFER, 0.2),
    "reamer": lambda tool: _pointed(tool, 45.0, 0.8),
    "tap": lambda tool: _pointed(tool, 20.0, 0.6),
    "boring bar": _bar,
    "slot cutter": lambda tool: _necked(tool, 0.4, 4.0),
    "engraver": lambda tool: _pointed(tool, 15.0, 0.125),
    "reference tool": _straight,
    "probe": _stylus,
}
"""Each type's right half."""

LEFT_HALVES: dict[ToolType, Callable[[Tool], Half]] = {
    "boring bar": lambda tool: [(tool.diameter * 0.3, z) for z in _ends(tool)[1:]],
}
"""The left half, of those that are not the same on both sides."""
