"""A block with the bore."""

from orthotrope.kinds.routine_bore.model import Bore
from orthotrope.machine.parts import BEHIND, BELOW, block
from orthotrope.machine.shapes import Body, Well
from orthotrope.proof.worlds import PARTS


@PARTS.register("bore")
def part(routine: Bore) -> tuple[Body, ...]:
    """The bore goes through the block."""
    x, y, z, half = routine.x, routine.y, routine.z, routine.diameter / 2
    out = half + BEHIND / 2
    return (block((x - out, x + out), (y - out, y + out), z - routine.depth - BELOW, z, (Well(x, y, half),)),)
