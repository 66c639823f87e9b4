"""Where the numbers of forks contradict one another."""

import math
from collections.abc import Iterator

from orthotrope.calc.derived import DerivedChanger
from orthotrope.kinds.side_entry.model import SideEntry
from orthotrope.proof.conflicts import (
    CONFLICTS,
    Conflict,
    gripped_conflicts,
    rack_conflicts,
)
from orthotrope.proof.findings import SetupFix
from orthotrope.proof.neighbours import tool_conflicts
from orthotrope.setup import Setup
from orthotrope.units import in_unit, with_unit


@CONFLICTS.register("side-entry")
def conflicts(setup: Setup, changer: SideEntry, derived: DerivedChanger) -> Iterator[Conflict]:
    """Of the rack, the heights, the grip, the forks, the tools."""
    yield from rack_conflicts(setup, changer, derived)
    yield from gripped_conflicts(setup, changer, derived, changer.grip)
    yield from _forks(setup, changer)
    yield from tool_conflicts(setup, changer, derived)


def _forks(setup: Setup, changer: SideEntry) -> Iterator[Conflict]:
    forks = changer.forks
    across = abs(math.sin(math.radians(forks.mouth_deg - changer.rack.bearing_deg)))
    if across < 0.7:
        yield Conflict(
            "The forks open along their row: a tool that comes out of one runs into the next.",
            "/changer/forks/mouth_deg",
        )
    needed = forks.tine_reach + changer.grip.holder_diameter / 2
    widest = max((tool.diameter for tool in setup.stored()), default=0.0)
    needed = max(needed, forks.tine_reach + widest / 2)
    if forks.lead_in <= needed:
        wanted = float(math.ceil(needed + 5))
        yield Conflict(
            f"In front of a fork, {with_unit(forks.lead_in)} out, the holder is still between its tines; "
            f"{with_unit(needed)} are needed.",
            "/changer/forks/lead_in",
            SetupFix(f"Set the lead-in to {in_unit(wanted)}", "/changer/forks/lead_in", wanted),
        )
