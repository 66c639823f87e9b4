"""A block whose face is the surface."""

from orthotrope.kinds.routine_surface.model import Surface
from orthotrope.machine.parts import BEHIND, BELOW, behind, block
from orthotrope.machine.shapes import Body
from orthotrope.proof.worlds import PARTS
from orthotrope.setup.routines import WAYS


@PARTS.register("surface")
def part(routine: Surface) -> tuple[Body, ...]:
    """From above a face, sideways a wall that goes on above and below the touch."""
    x, y, z, way = routine.x, routine.y, routine.z, WAYS[routine.way]
    if way[2]:
        return (block((x - BEHIND / 2, x + BEHIND / 2), (y - BEHIND / 2, y + BEHIND / 2), z - BELOW, z),)
    return (behind(x, y, way, BEHIND / 2, z - BELOW, z + routine.clearance / 2),)
