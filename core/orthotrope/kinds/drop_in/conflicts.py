"""Where the numbers of drop-in pockets contradict one another."""

from collections.abc import Iterator

from orthotrope.calc.derived import DerivedChanger
from orthotrope.kinds.drop_in.model import DropIn
from orthotrope.proof.conflicts import (
    CONFLICTS,
    Conflict,
    gripped_conflicts,
    rack_conflicts,
)
from orthotrope.proof.neighbours import tool_conflicts
from orthotrope.setup import Setup


@CONFLICTS.register("drop-in")
def conflicts(setup: Setup, changer: DropIn, derived: DerivedChanger) -> Iterator[Conflict]:
    """Of the rack, the heights, the grip, the tools."""
    yield from rack_conflicts(setup, changer, derived)
    yield from gripped_conflicts(setup, changer, derived, changer.grip)
    yield from tool_conflicts(setup, changer, derived)
