"""A block with the edge."""

from orthotrope.kinds.routine_edge.model import EdgeRoutine
from orthotrope.machine.parts import BEHIND, BELOW, behind
from orthotrope.machine.shapes import Body
from orthotrope.proof.worlds import PARTS
from orthotrope.setup.routines import WAYS


@PARTS.register("edge")
def part(routine: EdgeRoutine) -> tuple[Body, ...]:
    """Its upper face is at the routine's height."""
    below = routine.z - routine.depth - BELOW
    return (behind(routine.x, routine.y, WAYS[routine.way], BEHIND / 2, below, routine.z),)
