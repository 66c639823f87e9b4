"""A layout of pockets from a DXF: circles or points of a layer, in an order that one can see and change."""

import io
import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from ezdxf import units
from ezdxf.filemanagement import dxf_stream_info, read
from ezdxf.lldxf.const import DXFError
from scipy.spatial import cKDTree

from orthotrope.errors import InputError
from orthotrope.units import MM_PER_INCH

Order = Literal["as drawn", "along X", "along Y", "row by row"]

ORDERS: tuple[Order, ...] = ("as drawn", "along X", "along Y", "row by row")

MOST_MARKS = 2000
LARGEST = 100_000.0
"""mm; a place or size beyond this is none of a machine's."""

SAME = 0.01
"""mm; two marks nearer than this are one pocket (a hole and its recess)."""


@dataclass(frozen=True, slots=True)
class Mark:
    """A circle's middle or a point, mm; ``diameter`` 0 for a point."""

    layer: str
    x: float
    y: float
    diameter: float


def read_layout(data: bytes, unit: Literal["mm", "inch", "as stated"] = "as stated") -> list[Mark]:
    """The circles and points of a drawing, in the order in which they stand in it; marks on one place of one layer
    count once.

    Raises:
        InputError: what is no DXF, one that states no unit where none is said, or one without circles and points.
    """
    try:
        # A drawing says itself in which code page its names are written; older ones aren't in UTF-8. Its lines may end
        # either way, which only a text stream over the bytes evens out.
        page = dxf_stream_info(io.TextIOWrapper(io.BytesIO(data), "latin-1")).encoding
        drawing = read(io.TextIOWrapper(io.BytesIO(data), page))
    except (
        DXFError,
        ArithmeticError,
        AttributeError,
        LookupError,
        OSError,
        StopIteration,
        TypeError,
        ValueError,
    ) as failed:
        raise InputError.at(
            "/file", f"This can't be read as a DXF: {str(failed).rstrip('.') or 'it stops short'}."
        ) from None
    scale = _scale(drawing.units, unit)
    marks: list[Mark] = []
    by_place: dict[tuple[str, int, int], list[Mark]] = {}
    for entity in drawing.modelspace().query("CIRCLE POINT"):
        at = entity.dxf.center if entity.dxftype() == "CIRCLE" else entity.dxf.location
        across = 2 * entity.dxf.radius if entity.dxftype() == "CIRCLE" else 0.0
        mark = Mark(entity.dxf.layer, at.x * scale, at.y * scale, across * scale)
        if not all(abs(value) < LARGEST for value in (mark.x, mark.y, mark.diameter)):
            raise InputError.at(
                "/file",
                f"The {entity.dxftype().lower()} {len(marks) + 1} of the drawing has a place or size that "
                f"is no length of a machine; got {mark.x:g}, {mark.y:g}, {mark.diameter:g} mm.",
            )
        column, row = math.floor(mark.x / SAME), math.floor(mark.y / SAME)
        near = [m for i in (-1, 0, 1) for k in (-1, 0, 1) for m in by_place.get((mark.layer, column + i, row + k), ())]
        if any(math.hypot(m.x - mark.x, m.y - mark.y) < SAME for m in near):
            continue
        by_place.setdefault((mark.layer, column, row), []).append(mark)
        marks.append(mark)
        if len(marks) > MOST_MARKS:
            raise InputError.at(
                "/file", f"The drawing has more than {MOST_MARKS} circles and points; keep those of the pockets."
            )
    if not marks:
        raise InputError.at("/file", "There are no circles or points in this drawing; draw one for each pocket.")
    return marks


def _scale(stated: int, unit: str) -> float:
    if unit == "mm" or (unit == "as stated" and stated == units.MM):
        return 1.0
    if unit == "inch" or stated == units.IN:
        return MM_PER_INCH
    raise InputError.at("/unit", "The drawing states neither millimetres nor inches; say which it is in.")


def ordered(marks: list[Mark], order: Order) -> list[Mark]:
    """The marks in an order: along an axis, or row by row from the lowest Y on (marks whose Y differs by less than half
    the smallest distance between any two are one row)."""
    if order == "along X":
        return sorted(marks, key=lambda mark: (mark.x, mark.y))
    if order == "along Y":
        return sorted(marks, key=lambda mark: (mark.y, mark.x))
    if order == "row by row" and len(marks) > 1:
        places = np.array([(mark.x, mark.y) for mark in marks])
        distances, _ = cKDTree(places).query(places, k=2)
        apart = float(np.asarray(distances)[:, 1].min())
        rows: list[list[Mark]] = []
        for mark in sorted(marks, key=lambda entry: entry.y):
            if rows and mark.y - rows[-1][0].y < apart / 2:
                rows[-1].append(mark)
            else:
                rows.append([mark])
        return [mark for row in rows for mark in sorted(row, key=lambda entry: entry.x)]
    return list(marks)
