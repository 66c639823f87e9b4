"""A rack's mounting pattern as DXF: its outline, the hole and the recess of each pocket, with dimensions as text."""

import io
from typing import Literal

from ezdxf import units
from ezdxf.filemanagement import new

from orthotrope.calc.derived import DerivedChanger, Outline, Storage, derive
from orthotrope.calc.pockets import Pocket
from orthotrope.calc.points import unit_vector
from orthotrope.errors import InputError
from orthotrope.setup import Setup
from orthotrope.setup.changer import Rack, rack_of
from orthotrope.setup.occupant import Occupant
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
    rack = rack_of(setup.changer)
    if derived is None or rack is None:
        raise InputError.at(
            "/changer", "A mounting pattern is a rack's; the Setup has none. Add one on the Changer stage."
        )
    assert derived.storage is not None and derived.outline is not None
    pattern = _Pattern(rack, derived, derived.outline, derived.storage, unit, frame == "rack")
    pattern.block()
    reserved = {entry.pocket: entry for entry in setup.occupants}
    for pocket in derived.pockets:
        pattern.pocket(pocket, reserved.get(pocket.pocket))
    pattern.legend(setup.machine.name)
    out = io.StringIO()
    pattern.drawing.write(out)
    return out.getvalue()


class _Pattern:
    """The drawing, in its unit and frame."""

    def __init__(self, rack: Rack, derived: DerivedChanger, block: Outline, seat: Storage, unit: str, own_frame: bool):
        self.rack, self.outline, self.seat, self.own_frame = rack, block, seat, own_frame
        self.first = derived.pockets[0]
        self.cos, self.sin = unit_vector(block.bearing_deg)
        self.scale, self.word = (1 / MM_PER_INCH, "in") if unit == "inch" else (1.0, "mm")
        self.drawing = new("R2010", setup=False)
        self.drawing.units = units.IN if unit == "inch" else units.MM
        for name, colour in (("OUTLINE", 7), ("HOLES", 1), ("RECESSES", 5), ("TEXT", 3)):
            self.drawing.layers.add(name, color=colour)
        self.space = self.drawing.modelspace()

    def at(self, x: float, y: float) -> tuple[float, float]:
        """A place of the machine, mm, in the drawing."""
        if self.own_frame:
            dx, dy = x - self.first.x, y - self.first.y
            x, y = dx * self.cos + dy * self.sin, dy * self.cos - dx * self.sin
        return x * self.scale, y * self.scale

    def within(self, along: float, across: float) -> tuple[float, float]:
        """A place of the machine, mm, from the block's middle."""
        x, y = self.outline.middle
        return x + along * self.cos - across * self.sin, y + along * self.sin + across * self.cos

    def say(self, text: str, x: float, y: float) -> None:
        height = TEXT_HEIGHT * self.scale
        self.space.add_text(text, height=height, dxfattribs={"layer": "TEXT", "insert": self.at(x, y)})

    def circle(self, x: float, y: float, radius: float, layer: str) -> None:
        self.space.add_circle(self.at(x, y), radius * self.scale, dxfattribs={"layer": layer})

    def block(self) -> None:
        """The block's outline."""
        u, v = self.outline.half_length, self.outline.half_width
        corners = [self.at(*self.within(*half)) for half in ((-u, -v), (u, -v), (u, v), (-u, v))]
        self.space.add_lwpolyline(corners, close=True, dxfattribs={"layer": "OUTLINE"})

    def pocket(self, pocket: Pocket, occupant: Occupant | None) -> None:
        """A pocket's hole and recess; the foot of what stands in it."""
        if occupant:
            self.circle(pocket.x, pocket.y, occupant.diameter / 2, "HOLES")
            self.say(f"{pocket.pocket} {occupant.what}", pocket.x, pocket.y)
            return
        if self.seat.hole:
            self.circle(pocket.x, pocket.y, self.seat.hole / 2, "HOLES")
        self.circle(pocket.x, pocket.y, self.seat.diameter / 2 + RECESS_ROOM, "RECESSES")
        self.say(str(pocket.pocket), pocket.x, pocket.y)

    def legend(self, machine: str) -> None:
        """What is drawn, in figures, below the block."""
        rack, scale, word = self.rack, self.scale, self.word
        u, v = self.outline.half_length, self.outline.half_width
        through = f"hole {self.seat.hole * scale:.4f} {word} through, " if self.seat.hole else ""
        lines = [
            f"{machine}: rack of {rack.total} pockets, pitch {rack.pitch * scale:.4f} {word}",
            f"{through}recess {(self.seat.diameter + 2 * RECESS_ROOM) * scale:.4f} {word}",
            f"block {2 * u * scale:.4f} x {2 * v * scale:.4f} x {rack.height * scale:.4f} {word}",
        ]
        for index, line in enumerate(lines):
            self.say(line, *self.within(-u, -(v + (index + 2) * TEXT_HEIGHT * 1.6)))
