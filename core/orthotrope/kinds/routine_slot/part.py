"""Two walls with the slot between them."""

from orthotrope.kinds.routine_slot.model import Slot
from orthotrope.machine.parts import BEHIND, BELOW, behind
from orthotrope.machine.shapes import Body
from orthotrope.proof.worlds import PARTS


@PARTS.register("slot")
def part(routine: Slot) -> tuple[Body, ...]:
    """The walls go on to both ends."""
    x, y, half, bottom = routine.x, routine.y, routine.width / 2, routine.z - routine.depth - BELOW
    ways = ((-1.0, 0.0, 0.0), (1.0, 0.0, 0.0)) if routine.across == "x" else ((0.0, -1.0, 0.0), (0.0, 1.0, 0.0))
    return tuple(behind(x + half * way[0], y + half * way[1], way, BEHIND / 2, bottom, routine.z) for way in ways)
