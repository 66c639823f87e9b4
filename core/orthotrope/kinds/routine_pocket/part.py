"""Four walls."""

from orthotrope.kinds.routine_pocket.model import RectangularPocket
from orthotrope.machine.parts import BEHIND, BELOW, block
from orthotrope.machine.shapes import Body
from orthotrope.proof.worlds import PARTS


@PARTS.register("rectangular pocket")
def part(routine: RectangularPocket) -> tuple[Body, ...]:
    """The walls around the pocket."""
    x, y, bottom, top = routine.x, routine.y, routine.z - routine.depth - BELOW, routine.z
    half_x, half_y = routine.size_x / 2, routine.size_y / 2
    out_x, out_y = half_x + BEHIND, half_y + BEHIND
    return (
        block((x - out_x, x - half_x), (y - out_y, y + out_y), bottom, top),
        block((x + half_x, x + out_x), (y - out_y, y + out_y), bottom, top),
        block((x - half_x, x + half_x), (y - out_y, y - half_y), bottom, top),
        block((x - half_x, x + half_x), (y + half_y, y + out_y), bottom, top),
    )
