"""A wall with both faces."""

from orthotrope.kinds.routine_web.model import Web
from orthotrope.machine.parts import BEHIND, BELOW, block
from orthotrope.machine.shapes import Body
from orthotrope.proof.worlds import PARTS


@PARTS.register("web")
def part(routine: Web) -> tuple[Body, ...]:
    """It goes on to both ends."""
    x, y, half, bottom = routine.x, routine.y, routine.width / 2, routine.z - routine.depth - BELOW
    if routine.across == "x":
        return (block((x - half, x + half), (y - BEHIND / 2, y + BEHIND / 2), bottom, routine.z),)
    return (block((x - BEHIND / 2, x + BEHIND / 2), (y - half, y + half), bottom, routine.z),)
