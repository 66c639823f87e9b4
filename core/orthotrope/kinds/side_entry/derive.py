"""What follows from a rack of forks."""

from orthotrope.calc.derived import DERIVING, DerivedChanger, StoredFeed
from orthotrope.calc.rack import derive_gripped
from orthotrope.kinds.side_entry.model import SideEntry
from orthotrope.setup import Setup


@DERIVING.register("side-entry")
def derive(setup: Setup, changer: SideEntry) -> DerivedChanger:
    """All that follows from a rack of forks."""
    feed_in = StoredFeed(changer.forks.feed, "/changer/forks/feed", "feed into the fork")
    return derive_gripped(setup, changer, changer.grip, feed_in=feed_in)
