"""What the styles with a rack share: where its pockets are, its block in plan, what is beside a pocket."""

import math

from orthotrope.calc.derived import (
    Derivation,
    DerivedChanger,
    Outline,
    Storage,
    StoredFeed,
    Taking,
    Term,
    climb,
    knob_working,
)
from orthotrope.calc.pockets import Pocket, RackPocketsInput, rack_pockets
from orthotrope.setup import Setup
from orthotrope.setup.changer import Rack, RackChanger
from orthotrope.setup.gripping import Grip


def pockets_of(rack: Rack) -> tuple[tuple[Pocket, ...], dict[str, Derivation]]:
    """The pockets in their order, those that were taught where they were taught, and the working of the row."""
    pockets = rack_pockets(
        RackPocketsInput(
            datum=rack.datum,
            bearing_deg=rack.bearing_deg,
            pitch=rack.pitch,
            count=rack.count,
            rows=rack.rows,
            row_pitch=rack.row_pitch,
        )
    ).pockets
    if rack.single_positions:
        taught = {entry.pocket: entry for entry in rack.taught}
        pockets = [
            Pocket(pocket=p.pocket, x=taught[p.pocket].x, y=taught[p.pocket].y) if p.pocket in taught else p
            for p in pockets
        ]
    pitch = Term("pitch", rack.pitch, "mm", "/changer/rack/pitch")
    count = Term("pockets in a row", rack.count, "", "/changer/rack/count")
    row = Derivation("Row", rack.pitch * (rack.count - 1), "mm", "pitch · (pockets − 1)", (pitch, count))
    return tuple(pockets), {"row_length": row}


def block_of(rack: Rack, pockets: tuple[Pocket, ...]) -> Outline:
    """The rack's block in plan."""
    first, end, last = pockets[0], pockets[rack.count - 1], pockets[-1]
    middle = ((first.x + last.x) / 2, (first.y + last.y) / 2)
    length = math.dist((first.x, first.y), (end.x, end.y)) + 2 * rack.end
    return Outline(middle, length / 2, (rack.width + (rack.rows - 1) * rack.row_pitch) / 2, rack.bearing_deg)


def storage_of(
    rack: Rack, what: str, diameter: float, hole: float | None = None, bore_depth: float | None = None
) -> Storage:
    """What a tool finds in a pocket of a rack; with rows the nearer of pitch and row pitch counts."""
    pitch = min(rack.pitch, rack.row_pitch) if rack.rows > 1 else rack.pitch
    return Storage(what, diameter, pitch, tuple(_beside(rack, n) for n in range(1, rack.total + 1)), hole, bore_depth)


def _beside(rack: Rack, pocket: int) -> frozenset[int]:
    row, column = divmod(pocket - 1, rack.count)
    near = ((row, column - 1), (row, column + 1), (row - 1, column), (row + 1, column))
    return frozenset(r * rack.count + c + 1 for r, c in near if 0 <= r < rack.rows and 0 <= c < rack.count)


def taking_of(rack: Rack, pockets: tuple[Pocket, ...], feed: StoredFeed, feed_in: StoredFeed | None = None) -> Taking:
    """How the spindle takes a tool from a rack."""
    return Taking(tuple((p.pocket, p.x, p.y) for p in pockets), "/changer/rack/datum", rack.pitch / 2, feed, feed_in)


def derive_gripped(
    setup: Setup, changer: RackChanger, grip: Grip, hole: float | None = None, feed_in: StoredFeed | None = None
) -> DerivedChanger:
    """All that follows from a rack whose holders a drawbar grips: ``hole`` that a cutter must pass, ``feed_in`` of a
    fork that is entered from the side."""
    rack = changer.rack
    ladder, (pockets, row) = climb(setup, changer), pockets_of(rack)
    outline = block_of(rack, pockets)
    down = StoredFeed(grip.feed, "/changer/grip/feed", "feed down to the tool")
    return DerivedChanger(
        **ladder.shared(changer, grip.knob_height),
        pockets=pockets,
        middle=outline.middle,
        outline=outline,
        rack_top_z=ladder.heights.couple_z - rack.top_below_nose,
        workings={**row, **ladder.workings, **knob_working(changer, grip)},
        storage=storage_of(rack, "holder", grip.holder_diameter, hole),
        taking=taking_of(rack, pockets, down, feed_in),
    )
