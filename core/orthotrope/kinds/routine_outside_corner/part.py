"""A block with the corner."""

from orthotrope.kinds.routine_outside_corner.model import OutsideCorner
from orthotrope.machine.parts import BEHIND, BELOW, block
from orthotrope.machine.shapes import Body
from orthotrope.proof.worlds import PARTS


@PARTS.register("outside corner")
def part(routine: OutsideCorner) -> tuple[Body, ...]:
    """The block lies on from the corner."""
    into_x, into_y = routine.inwards
    xs, ys = (sorted((at, at + into * 2 * BEHIND)) for at, into in ((routine.x, into_x), (routine.y, into_y)))
    return (block(xs, ys, routine.z - routine.depth - BELOW, routine.z),)
