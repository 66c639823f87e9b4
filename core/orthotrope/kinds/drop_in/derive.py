"""What follows from drop-in pockets."""

from orthotrope.calc.derived import DERIVING, DerivedChanger, StoredFeed, climb, knob_working
from orthotrope.calc.rack import block_of, pockets_of, storage_of, taking_of
from orthotrope.kinds.drop_in.model import DropIn
from orthotrope.setup import Setup


@DERIVING.register("drop-in")
def derive(setup: Setup, changer: DropIn) -> DerivedChanger:
    """All that follows from drop-in pockets."""
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
        storage=storage_of(rack, "holder", grip.holder_diameter, changer.hole_diameter),
        taking=taking_of(rack, pockets, StoredFeed(grip.feed, "/changer/grip/feed", "feed down to the tool")),
    )
