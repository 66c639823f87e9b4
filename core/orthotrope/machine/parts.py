"""Shapes of the part that a routine touches, in machine coordinates, mm."""

import math
from collections.abc import Sequence
from dataclasses import replace

from orthotrope.machine.shapes import Body, BoxBody, CylinderBody, Well

BELOW = 40.0
"""mm; how far a part goes down below what is touched of it."""

BEHIND = 80.0
"""mm; how far a part goes on behind a surface, and along it."""


def block(xs: Sequence[float], ys: Sequence[float], bottom: float, top: float, wells: tuple[Well, ...] = ()) -> Body:
    """A block of the part, square to the axes: from the least to the greatest of ``xs`` and of ``ys``."""
    (x0, x1), (y0, y1) = sorted(xs), sorted(ys)
    middle, half = ((x0 + x1) / 2, (y0 + y1) / 2), ((x1 - x0) / 2, (y1 - y0) / 2)
    return BoxBody("the part", *middle, *half, 1.0, 0.0, bottom, top, wells, part_of="part")


def round_block(x: float, y: float, radius: float, bottom: float, top: float) -> Body:
    """A round block of the part."""
    return CylinderBody("the part", x, y, radius, bottom, top, part_of="part")


def behind(x: float, y: float, way: tuple[float, float, float], along: float, bottom: float, top: float) -> Body:
    """A block whose face at this place is met on a way along an axis, ``along`` mm to either side."""
    ends = [(x, y)[axis] + way[axis] * BEHIND for axis in (0, 1)]
    xs = sorted((x, ends[0])) if way[0] else [x - along, x + along]
    ys = sorted((y, ends[1])) if way[1] else [y - along, y + along]
    return block((xs[0], xs[1]), (ys[0], ys[1]), bottom, top)


def moved(body: Body, dx: float, dy: float, dz: float) -> Body:
    """The same put down elsewhere, mm."""
    bottom, top = body.bottom + dz, body.top + dz
    if isinstance(body, CylinderBody):
        return replace(body, x=body.x + dx, y=body.y + dy, bottom=bottom, top=top)
    wells = tuple(replace(well, x=well.x + dx, y=well.y + dy) for well in body.wells)
    return replace(body, x=body.x + dx, y=body.y + dy, bottom=bottom, top=top, wells=wells)


def about(x: float, y: float, degrees: float, place: tuple[float, float]) -> tuple[float, float]:
    """A place turned about x, y, counter-clockwise positive."""
    cos, sin = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    off_x, off_y = place[0] - x, place[1] - y
    return x + off_x * cos - off_y * sin, y + off_x * sin + off_y * cos


def turned(body: Body, x: float, y: float, degrees: float) -> Body:
    """The same turned about x, y."""
    there = about(x, y, degrees, (body.x, body.y))
    if isinstance(body, CylinderBody):
        return replace(body, x=there[0], y=there[1])
    wells = []
    for well in body.wells:
        well_x, well_y = about(x, y, degrees, (well.x, well.y))
        wells.append(replace(well, x=well_x, y=well_y))
    turn = math.atan2(body.sin, body.cos) + math.radians(degrees)
    return replace(body, x=there[0], y=there[1], cos=math.cos(turn), sin=math.sin(turn), wells=tuple(wells))
