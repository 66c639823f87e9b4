"""The block."""

from orthotrope.kinds.routine_block.model import RectangularBlock
from orthotrope.machine.parts import BELOW, block
from orthotrope.machine.shapes import Body
from orthotrope.proof.worlds import PARTS


@PARTS.register("rectangular block")
def part(routine: RectangularBlock) -> tuple[Body, ...]:
    """As large as expected."""
    x, y, bottom, top = routine.x, routine.y, routine.z - routine.depth - BELOW, routine.z
    half_x, half_y = routine.size_x / 2, routine.size_y / 2
    return (block((x - half_x, x + half_x), (y - half_y, y + half_y), bottom, top),)
