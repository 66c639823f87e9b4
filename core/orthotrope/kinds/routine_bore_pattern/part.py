"""A block with the bores."""

from orthotrope.kinds.routine_bore_pattern.model import BorePattern
from orthotrope.machine.parts import BEHIND, BELOW, block
from orthotrope.machine.shapes import Body, Well
from orthotrope.proof.worlds import PARTS


@PARTS.register("bore pattern")
def part(routine: BorePattern) -> tuple[Body, ...]:
    """The block goes on beyond the outermost bores."""
    xs, ys = [routine.x + bore.x for bore in routine.bores], [routine.y + bore.y for bore in routine.bores]
    out, wells = (
        routine.diameter / 2 + BEHIND / 2,
        tuple(Well(x, y, routine.diameter / 2) for x, y in zip(xs, ys, strict=True)),
    )
    bottom = routine.z - routine.depth - BELOW
    return (block((min(xs) - out, max(xs) + out), (min(ys) - out, max(ys) + out), bottom, routine.z, wells),)
