"""Two walls that meet in the corner."""

from orthotrope.kinds.routine_inside_corner.model import InsideCorner
from orthotrope.machine.parts import BEHIND, BELOW, block
from orthotrope.machine.shapes import Body
from orthotrope.proof.worlds import PARTS

THICK = 40.0
"""mm; of the walls."""


@PARTS.register("inside corner")
def part(routine: InsideCorner) -> tuple[Body, ...]:
    """The walls go on from the corner, and stand on the pocket's floor."""
    into_x, into_y = routine.inwards
    x, y, top = routine.x, routine.y, routine.z
    bottom = top - routine.depth - BELOW
    wall = block((x - into_x * THICK, x), (y - into_y * THICK, y + into_y * 2 * BEHIND), bottom, top)
    return wall, block((x, x + into_x * 2 * BEHIND), (y - into_y * THICK, y), bottom, top)
