"""Where the numbers of a disc with an arm contradict one another."""

from collections.abc import Iterator

from orthotrope.calc.derived import DerivedChanger
from orthotrope.kinds.arm_disc.model import ArmDisc
from orthotrope.proof.conflicts import (
    CONFLICTS,
    Conflict,
    disc_conflicts,
    grip_conflicts,
    height_conflicts,
    outputs_missing,
)
from orthotrope.proof.neighbours import tool_conflicts
from orthotrope.setup import Setup
from orthotrope.units import with_unit

DOES = {
    "pot": "tilts the pot",
    "arm swing": "swings the arm",
    "arm stroke": "moves the arm down and up",
    "arm turn": "turns the arm half round",
}


@CONFLICTS.register("disc with arm")
def conflicts(setup: Setup, changer: ArmDisc, derived: DerivedChanger) -> Iterator[Conflict]:
    """Of the disc, the arm, the heights, the grip, the tools; what is carried never goes over the disc."""
    yield from disc_conflicts(setup, changer, derived)
    if changer.arm.stroke <= changer.grip.knob_height:
        yield Conflict(
            f"The arm goes {with_unit(changer.arm.stroke)} down and the knob stands "
            f"{with_unit(changer.grip.knob_height)} "
            "above the gauge line; it does not come out of the taper.",
            "/changer/arm/stroke",
        )
    yield from outputs_missing(setup, DOES)
    yield from height_conflicts(setup, changer, derived, over=False)
    yield from grip_conflicts(setup, changer.grip)
    yield from tool_conflicts(setup, changer, derived)
