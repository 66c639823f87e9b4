"""Two blocks, one lower than the other."""

import math

from orthotrope.kinds.routine_step.model import StepHeight
from orthotrope.machine.parts import BELOW
from orthotrope.machine.shapes import Body, BoxBody
from orthotrope.proof.worlds import PARTS


@PARTS.register("step height")
def part(routine: StepHeight) -> tuple[Body, ...]:
    """The step is in the middle between both touches, at right angles to the way from one to the other."""
    apart = math.hypot(routine.to_x, routine.to_y)
    cos, sin, half = routine.to_x / apart, routine.to_y / apart, apart / 2
    bottom = routine.z - routine.height - BELOW
    return tuple(
        BoxBody(
            "the part", routine.x + cos * at, routine.y + sin * at, half, apart, cos, sin, bottom, top, part_of="part"
        )
        for at, top in ((0.0, routine.z), (apart, routine.z - routine.height))
    )
