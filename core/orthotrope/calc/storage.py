"""Which tool fits where in a changer, and the arrangements of all of them."""

from dataclasses import dataclass
from typing import Any, Literal

from orthotrope.calc.derived import derive
from orthotrope.errors import InputError
from orthotrope.setup import Setup
from orthotrope.units import with_unit

Arrangement = Literal["fill", "empty", "renumber"]
ARRANGEMENTS: dict[str, str] = {
    "fill": "filled in order",
    "empty": "all emptied",
    "renumber": "tools numbered by their pockets",
}


@dataclass(frozen=True, slots=True)
class Storing:
    """How a tool fits: ``spare`` depth below its tip in a pocket (negative: it stands on the ground), ``clearance``
    between cutter and hole in diameter (None: no hole to pass), ``overlap`` of the cutter over a neighbour's nut or
    holder; mm. ``says`` what to do, "" it fits."""

    tool: int
    pocket: int | None
    spare: float
    clearance: float | None
    overlap: float
    says: str


def storing(setup: Setup) -> list[Storing]:
    """Every tool of the Setup against its changer; none while there is no changer."""
    changer, derived = setup.changer, derive(setup)
    if changer is None or derived is None or derived.storage is None:
        return []
    found, storage = [], derived.storage
    for tool in sorted(setup.tools, key=lambda entry: entry.number):
        spare = changer.deepest - tool.whole_length
        clearance = None if storage.hole is None else storage.hole - tool.diameter
        overlap = max(0.0, tool.diameter / 2 + storage.diameter / 2 - storage.pitch)
        says = []
        if spare < 0:
            says.append(f"raise the pockets by {with_unit(-spare)}, or make the room that much deeper")
        if clearance is not None and clearance < 0:
            says.append(f"the hole must be {with_unit(-clearance)} wider")
        into = storage.shank_over(tool)
        if into > 0:
            says.append(f"its shank meets the end of the spindle's bore: clamp it {with_unit(into)} lower")
        if overlap > 0:
            says.append(
                f"the pockets beside it must stay empty: it reaches {with_unit(overlap)} over their {storage.what}s"
            )
        found.append(Storing(tool.number, tool.pocket, spare, clearance, overlap, "; ".join(says)))
    return found


def arranged(setup: Setup, how: Arrangement) -> list[dict[str, Any]]:
    """The tools as they would be: filled into the free pockets in the order of their numbers, all taken out, or those
    that are stored numbered by their pockets.

    Raises:
        InputError: where there is no changer, too few pockets, or a number would be used twice.
    """
    if setup.changer is None:
        raise InputError.at("/changer", "The Setup has no changer yet; add one on the Changer stage.")
    reserved = {entry.pocket for entry in setup.occupants}
    tools = [tool.model_dump(mode="json") for tool in sorted(setup.tools, key=lambda tool: tool.number)]
    if how == "empty":
        return [{**tool, "pocket": None} for tool in tools]
    if how == "fill":
        free = [pocket for pocket in range(1, setup.changer.pocket_count + 1) if pocket not in reserved]
        return [{**tool, "pocket": free[index] if index < len(free) else None} for index, tool in enumerate(tools)]
    kept = {tool["number"] for tool in tools if tool["pocket"] is None}
    clash = sorted(tool["pocket"] for tool in tools if tool["pocket"] in kept)
    if clash:
        raise InputError.at(
            "/tools",
            f"T{clash[0]} is not stored and would lose its number to the tool in pocket {clash[0]}; "
            "store it, or give it another number first.",
        )
    return sorted(
        ({**tool, "number": tool["pocket"] or tool["number"]} for tool in tools), key=lambda tool: tool["number"]
    )
