"""Which tool fits where in a changer, and the arrangements of all of them."""

import math
from dataclasses import dataclass
from typing import Any, Literal

from orthotrope.errors import InputError
from orthotrope.setup import Setup
from orthotrope.setup.styles import ByHand, DiscChanger, DropIn, PocketChanger, ThreadOn
from orthotrope.setup.tools import Tool
from orthotrope.units import with_unit

Arrangement = Literal["fill", "empty", "renumber"]
ARRANGEMENTS: dict[str, str] = {"fill": "filled in order", "empty": "all emptied", "renumber": "tools numbered by their pockets"}


@dataclass(frozen=True, slots=True)
class Storing:
    """How a tool fits: ``spare`` depth below its tip in a pocket (negative: it stands on the ground), ``clearance`` between
    cutter and hole in diameter (None: no hole to pass), ``overlap`` of the cutter over a neighbour's nut or holder; mm.
    ``says`` what to do, "" it fits."""

    tool: int
    pocket: int | None
    spare: float
    clearance: float | None
    overlap: float
    says: str


@dataclass(frozen=True, slots=True)
class Neighbours:
    """What stands in the pockets, how wide it is, and how far apart the pockets are, mm."""

    what: Literal["nut", "holder"]
    diameter: float
    pitch: float


def neighbours_of(changer: PocketChanger) -> Neighbours:
    """What a tool has beside it in this changer; with rows the nearer of pitch and row pitch counts."""
    if isinstance(changer, DiscChanger):
        pitch = 2 * changer.disc.radius * math.sin(math.pi / changer.disc.count)
        return Neighbours("holder", changer.grip.holder_diameter, pitch)
    rack = changer.rack
    pitch = min(rack.pitch, rack.row_pitch) if rack.rows > 1 else rack.pitch
    if isinstance(changer, ThreadOn):
        return Neighbours("nut", changer.coupling.nut_diameter, pitch)
    return Neighbours("holder", changer.grip.holder_diameter, pitch)


def hole_of(changer: PocketChanger) -> float | None:
    """The diameter of the hole that a cutter must pass, mm; None where it hangs free."""
    if isinstance(changer, ThreadOn):
        return changer.coupling.hole_diameter
    return changer.hole_diameter if isinstance(changer, DropIn) else None


def beside(changer: PocketChanger, pocket: int) -> set[int]:
    """The pockets beside one: in its row, in the next rows, or round the disc."""
    if isinstance(changer, DiscChanger):
        count = changer.disc.count
        return {(pocket - 2) % count + 1, pocket % count + 1}
    rack = changer.rack
    row, column = divmod(pocket - 1, rack.count)
    near = ((row, column - 1), (row, column + 1), (row - 1, column), (row + 1, column))
    return {r * rack.count + c + 1 for r, c in near if 0 <= r < rack.rows and 0 <= c < rack.count}


def shank_over(changer: PocketChanger, tool: Tool) -> float:
    """By how much a tool's shank is too long for the spindle's bore, mm; 0 where it fits, or a holder keeps it out of it."""
    return max(0.0, tool.shank_above - changer.coupling.bore_depth) if isinstance(changer, ThreadOn) else 0.0


def storing(setup: Setup) -> list[Storing]:
    """Every tool of the Setup against its changer; none while there is no changer."""
    changer = setup.changer
    if changer is None or isinstance(changer, ByHand):
        return []
    found = []
    hole, beside = hole_of(changer), neighbours_of(changer)
    for tool in sorted(setup.tools, key=lambda entry: entry.number):
        spare = changer.heights.pocket_depth - tool.length
        clearance = None if hole is None else hole - tool.diameter
        overlap = max(0.0, tool.diameter / 2 + beside.diameter / 2 - beside.pitch)
        says = []
        if spare < 0:
            says.append(f"raise the pockets by {with_unit(-spare)}, or make the room that much deeper")
        if clearance is not None and clearance < 0:
            says.append(f"the hole must be {with_unit(-clearance)} wider")
        into = shank_over(changer, tool)
        if into > 0:
            says.append(f"its shank meets the end of the spindle's bore: clamp it {with_unit(into)} lower")
        if overlap > 0:
            says.append(f"the pockets beside it must stay empty: it reaches {with_unit(overlap)} over their {beside.what}s")
        found.append(Storing(tool.number, tool.pocket, spare, clearance, overlap, "; ".join(says)))
    return found


def arranged(setup: Setup, how: Arrangement) -> list[dict[str, Any]]:
    """The tools as they would be: filled into the free pockets in the order of their numbers, all taken out, or those that are
    stored numbered by their pockets.

    Raises:
        InputError: where there is no changer, too few pockets, or a number would be used twice.
    """
    if setup.changer is None:
        raise InputError.at("/changer", "The Setup has no changer yet; add one on the Changer stage.")
    reserved = {entry.pocket for entry in setup.changer.reserved}
    tools = [tool.model_dump(mode="json") for tool in sorted(setup.tools, key=lambda tool: tool.number)]
    if how == "empty":
        return [{**tool, "pocket": None} for tool in tools]
    if how == "fill":
        free = [pocket for pocket in range(1, setup.changer.pocket_count + 1) if pocket not in reserved]
        return [{**tool, "pocket": free[index] if index < len(free) else None} for index, tool in enumerate(tools)]
    kept = {tool["number"] for tool in tools if tool["pocket"] is None}
    clash = sorted(tool["pocket"] for tool in tools if tool["pocket"] in kept)
    if clash:
        raise InputError.at("/tools", f"T{clash[0]} is not stored and would lose its number to the tool in pocket {clash[0]}; "
                            "store it, or give it another number first.")  # fmt: skip
    return sorted(({**tool, "number": tool["pocket"] or tool["number"]} for tool in tools), key=lambda tool: tool["number"])
