"""A block with the edge."""

from orthotrope.kinds.routine_angle.model import EdgeAngle
from orthotrope.machine.parts import BELOW, behind
from orthotrope.machine.shapes import Body
from orthotrope.proof.worlds import PARTS
from orthotrope.setup.routines import WAYS

FURTHER = 20.0
"""mm; how far the edge goes on beyond its touches."""


@PARTS.register("angle")
def part(routine: EdgeAngle) -> tuple[Body, ...]:
    """The edge goes on beyond its touches."""
    below = routine.z - routine.depth - BELOW
    return (behind(routine.x, routine.y, WAYS[routine.way], routine.span / 2 + FURTHER, below, routine.z),)
