"""The boss, and the face that it stands on."""

from orthotrope.kinds.routine_boss.model import Boss
from orthotrope.machine.parts import BEHIND, BELOW, block, round_block
from orthotrope.machine.shapes import Body
from orthotrope.proof.worlds import PARTS


@PARTS.register("boss")
def part(routine: Boss) -> tuple[Body, ...]:
    """It is as high as it is touched, and a little more."""
    x, y, z, half = routine.x, routine.y, routine.z, routine.diameter / 2
    foot, out = z - routine.depth - BELOW / 2, half + BEHIND
    return (
        round_block(x, y, half, foot, z),
        block((x - out, x + out), (y - out, y + out), foot - BELOW, foot),
    )
