"""Where the numbers of a moving disc contradict one another."""

from collections.abc import Iterator

from orthotrope.calc.derived import DerivedChanger
from orthotrope.kinds.moving_disc.model import MovingDisc
from orthotrope.proof.conflicts import (
    CONFLICTS,
    Conflict,
    disc_conflicts,
    gripped_conflicts,
    outputs_missing,
)
from orthotrope.proof.neighbours import tool_conflicts
from orthotrope.setup import Setup
from orthotrope.units import in_unit, with_unit


@CONFLICTS.register("moving disc")
def conflicts(setup: Setup, changer: MovingDisc, derived: DerivedChanger) -> Iterator[Conflict]:
    """Of the disc, the heights, the grip, the tools; what is carried never goes over the disc."""
    yield from disc_conflicts(setup, changer, derived)
    yield from _nose_between(setup, changer, derived)
    yield from outputs_missing(setup, {"magazine": "swings the disc"})
    yield from gripped_conflicts(setup, changer, derived, changer.grip, over=False)
    yield from tool_conflicts(setup, changer, derived)


def _nose_between(setup: Setup, changer: MovingDisc, derived: DerivedChanger) -> Iterator[Conflict]:
    needed = setup.machine.spindle.nose_diameter / 2 + changer.grip.holder_diameter / 2
    if derived.storage and derived.storage.pitch < needed:
        yield Conflict(
            f"The pockets of the disc are {with_unit(derived.storage.pitch)} apart; the nose comes down between the "
            f"holders beside it and needs {in_unit(needed)}.",
            "/changer/disc/radius",
        )
