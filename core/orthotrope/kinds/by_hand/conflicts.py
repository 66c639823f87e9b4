"""Where the numbers of a loading place contradict one another."""

from collections.abc import Iterator

from orthotrope.calc.derived import DerivedChanger
from orthotrope.kinds.by_hand.model import ByHand
from orthotrope.proof.conflicts import CONFLICTS, Conflict, longest_named, off_the_travel
from orthotrope.setup import Setup
from orthotrope.units import with_unit


@CONFLICTS.register("by hand")
def conflicts(setup: Setup, changer: ByHand, derived: DerivedChanger) -> Iterator[Conflict]:
    """A place beyond the travel, or one without room for the longest tool."""
    yield from off_the_travel(setup, {"X": changer.x, "Y": changer.y, "Z": changer.z}, "The loading place", "/changer")
    if derived.longest and derived.ladder.riser > 0:
        yield Conflict(
            f"{longest_named(derived)} has no room below the nose at the loading place: "
            f"{with_unit(derived.ladder.riser)} "
            "are missing. Load higher.",
            "/changer/room",
        )
