"""What follows from a rack of forks."""

from orthotrope.calc.derived import DERIVING, DerivedChanger, StoredFeed, climb, knob_working
from orthotrope.calc.rack import block_of, pockets_of, storage_of, taking_of
from orthotrope.kinds.side_entry.model import SideEntry
from orthotrope.setup import Setup


@DERIVING.register("side-entry")
def derive(setup: Setup, changer: SideEntry) -> DerivedChanger:
    """All that follows from a rack of forks."""
    grip, rack = changer.grip, changer.rack
    ladder, (pockets, row) = climb(setup, changer), pockets_of(rack)
    outline = block_of(rack, pockets)
    return DerivedChanger(
        **ladder.shared(changer, grip.knob_height),
        pockets=pockets,
        middle=outline.middle,
        outline=outline,
        rack_top_z=ladder.heights.couple_z - rack.top_below_nose,
        workings={**row, **ladder.workings, **knob_working(changer, grip)},
        storage=storage_of(rack, "holder", grip.holder_diameter),
        taking=taking_of(
            rack,
            pockets,
            StoredFeed(grip.feed, "/changer/grip/feed", "feed down to the tool"),
            StoredFeed(changer.forks.feed, "/changer/forks/feed", "feed into the fork"),
        ),
    )
