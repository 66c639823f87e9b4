"""A rack's mounting pattern as DXF: its outline, the hole and the recess of each pocket, with dimensions as text."""

import io
from typing import Literal

from ezdxf import units
from ezdxf.filemanagement import new

from orthotrope.calc.derived import derive
from orthotrope.calc.geometry import unit_vector
from orthotrope.errors import InputError
from orthotrope.setup import Setup
from orthotrope.setup.changer import RackChanger
from orthotrope.units import MM_PER_INCH

TEXT_HEIGHT = 5.0
"""mm of the text in the drawing."""

RECESS_ROOM = 1.0
"""mm; the recess of a pocket is this much wider in radius than its nut (as the world has it)."""


def mounting_pattern(setup: Setup, unit: Literal["mm", "inch"], frame: Literal["machine", "rack"]) -> str:
    """The pattern in machine coordinates, or in the rack's own: pocket 1 at the origin, the row along X.

    Layers: OUTLINE, HOLES, RECESSES, TEXT. The drawing's unit is stated in its header.

    Raises:
        InputError: where there is no changer.
    """
    derived = derive(setup)
    changer = setup.changer
    if derived is None or not isinstance(changer, RackChanger):
        raise InputError.at(
            "/changer", "A mounting pattern is a rack's; the Setup has none. Add one on the Changer stage."
        )
    seat, block = derived.storage, derived.outline
    assert seat is not None and block is not None
    middle, u, v, hole = block.middle, block.half_length, block.half_width, seat.hole
    first = derived.pockets[0]
    cos, sin = unit_vector(block.bearing_deg)
    scale = 1 / MM_PER_INCH if unit == "inch" else 1.0

    def at(x: float, y: float) -> tuple[float, float]:
        if frame == "rack":
            dx, dy = x - first.x, y - first.y
            x, y = dx * cos + dy * sin, dy * cos - dx * sin
        return x * scale, y * scale

    drawing = new("R2010", setup=False)
    drawing.units = units.IN if unit == "inch" else units.MM
    for name, colour in (("OUTLINE", 7), ("HOLES", 1), ("RECESSES", 5), ("TEXT", 3)):
        drawing.layers.add(name, color=colour)
    space = drawing.modelspace()
    half = ((-u, -v), (u, -v), (u, v), (-u, v))
    corners = [(middle[0] + u * cos - v * sin, middle[1] + u * sin + v * cos) for u, v in half]
    space.add_lwpolyline([at(*corner) for corner in corners], close=True, dxfattribs={"layer": "OUTLINE"})
    reserved = {entry.pocket: entry for entry in setup.stands}

    def say(text: str, x: float, y: float) -> None:
        space.add_text(text, height=TEXT_HEIGHT * scale, dxfattribs={"layer": "TEXT", "insert": at(x, y)})

    for pocket in derived.pockets:
        place = at(pocket.x, pocket.y)
        if pocket.pocket in reserved:
            space.add_circle(place, reserved[pocket.pocket].diameter / 2 * scale, dxfattribs={"layer": "HOLES"})
            say(f"{pocket.pocket} {reserved[pocket.pocket].what}", pocket.x, pocket.y)
            continue
        if hole:
            space.add_circle(place, hole / 2 * scale, dxfattribs={"layer": "HOLES"})
        space.add_circle(place, (seat.diameter / 2 + RECESS_ROOM) * scale, dxfattribs={"layer": "RECESSES"})
        say(str(pocket.pocket), pocket.x, pocket.y)
    word = "in" if unit == "inch" else "mm"
    rack = changer.rack
    recess = (seat.diameter + 2 * RECESS_ROOM) * scale
    through = f"hole {hole * scale:.4f} {word} through, " if hole else ""
    lines = [
        f"{setup.machine.name}: rack of {rack.total} pockets, pitch {rack.pitch * scale:.4f} {word}",
        f"{through}recess {recess:.4f} {word}",
        f"block {2 * u * scale:.4f} x {2 * v * scale:.4f} x {rack.height * scale:.4f} {word}",
    ]
    for index, line in enumerate(lines):
        away = v + (index + 2) * TEXT_HEIGHT * 1.6
        say(line, middle[0] - u * cos + away * sin, middle[1] - u * sin - away * cos)
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue()
