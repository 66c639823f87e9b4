"""Where stored tools do not fit their pockets, or one another."""

import math
from collections.abc import Callable, Iterator

from orthotrope.calc.derived import DerivedChanger
from orthotrope.machine.shapes import StackPart
from orthotrope.proof.conflicts import Conflict
from orthotrope.proof.worlds import WORLDS, world_tool
from orthotrope.setup import Setup
from orthotrope.setup.changer import PocketChanger
from orthotrope.setup.tools import Tool
from orthotrope.units import in_unit, with_unit


def tool_conflicts(setup: Setup, changer: PocketChanger, derived: DerivedChanger) -> Iterator[Conflict]:
    """Tools that do not fit their pockets, or one another."""
    reserved = {entry.pocket: entry.what for entry in setup.occupants}
    seen: dict[int, int] = {}
    neighbours = {tool.pocket: tool for tool in setup.stored()}
    near = derived.storage
    assert near is not None
    for index, tool in enumerate(setup.tools):
        pocket, where = tool.pocket, f"/tools/{index}"
        if pocket is None:
            continue
        if pocket in reserved:
            yield Conflict(
                f"T{tool.number} is in pocket {pocket}, where the {reserved[pocket]} stands; give it another.",
                f"{where}/pocket",
            )
        if pocket in seen:
            yield Conflict(
                f"T{seen[pocket]} and T{tool.number} are both in pocket {pocket}; give one of them another.",
                f"{where}/pocket",
            )
        seen.setdefault(pocket, tool.number)
        if near.hole is not None and tool.diameter > near.hole:
            yield Conflict(
                f"T{tool.number} does not pass the hole of its pocket: {with_unit(tool.diameter)} in "
                f"{in_unit(near.hole)}.",
                f"{where}/diameter",
            )
        into = near.shank_over(tool)
        if into > 0:
            yield Conflict(
                f"T{tool.number}'s shank meets the end of the spindle's bore, {with_unit(into)} before the nut is "
                "tight; "
                "clamp it lower.",
                f"{where}/shank_above",
            )
        over = tool.diameter / 2 + near.diameter / 2 - near.pitch
        for other in sorted(near.beside[pocket - 1]):
            if over > 0 and other in neighbours:
                yield Conflict(
                    f"T{tool.number} in pocket {pocket} reaches {with_unit(over)} over the {near.what} of "
                    f"T{neighbours[other].number} beside it.",
                    f"{where}/pocket",
                )
    yield from _beside_one_another(setup, changer, derived)


def _beside_one_another(setup: Setup, changer: PocketChanger, derived: DerivedChanger) -> Iterator[Conflict]:
    """Tools that are wider than their holders and reach over one another where they are stored, or where an exchange puts them."""
    magazine = WORLDS[changer.style](setup, changer, derived).magazine
    stored = {tool.pocket: tool for tool in setup.stored() if tool.pocket is not None}
    changing, places = magazine.begin(0), {tool.number: index for index, tool in enumerate(setup.tools)}
    stacks = {tool.number: tuple(changing.stack(world_tool(tool))) for tool in stored.values()}
    widest = {number: max(part.radius for part in stack) for number, stack in stacks.items()}
    at = {pocket.pocket: (pocket.x, pocket.y) for pocket in derived.pockets}
    largest = max(widest.values(), default=0.0)

    def over(one: Tool, pocket: int, other: Tool, beside: int) -> float:
        """By how much two tools overlap that stand in these pockets; 0 or less: they do not."""
        apart = math.dist(at[pocket], at[beside])
        if widest[one.number] + widest[other.number] <= apart:
            return 0.0
        return max(
            (a.radius + b.radius - apart for a in stacks[one.number] for b in stacks[other.number] if _level(a, b)),
            default=0.0,
        )

    assert derived.storage
    narrow = derived.storage.diameter / 2
    wide = [(pocket, tool) for pocket, tool in stored.items() if widest[tool.number] > narrow]
    for pocket, tool in wide:
        for beside, other in stored.items():
            both = widest[other.number] > narrow
            if beside == pocket or (both and beside < pocket) or math.dist(at[pocket], at[beside]) >= 2 * largest:
                continue
            by = over(tool, pocket, other, beside)
            if by > 0 and both:
                yield Conflict(
                    f"T{tool.number} in pocket {pocket} and T{other.number} in pocket {beside} overlap by {with_unit(by)}: they are "
                    f"{in_unit(2 * widest[tool.number])} and {in_unit(2 * widest[other.number])} wide. Leave the pocket between them "
                    "empty.",
                    f"/tools/{places[tool.number]}/pocket",
                )
        if changer.pockets_change:
            yield from _where_it_comes_to(tool, stored, over, places)


def _where_it_comes_to(
    tool: Tool, stored: dict[int, Tool], over: Callable[[Tool, int, Tool, int], float], places: dict[int, int]
) -> Iterator[Conflict]:
    """A tool goes where the one that it is exchanged for came from."""
    for pocket, instead in stored.items():
        for beside, other in stored.items():
            if instead is tool or other is tool or beside == pocket:
                continue
            by = over(tool, pocket, other, beside)
            if by > 0:
                yield Conflict(
                    f"An exchange of T{tool.number} for T{instead.number} puts it into pocket {pocket}, beside T{other.number} in "
                    f"pocket {beside}: they overlap by {with_unit(by)}. Have the tools keep their pockets, or leave room beside every "
                    "pocket.",
                    f"/tools/{places[tool.number]}/diameter",
                )
                return


def _level(one: StackPart, other: StackPart) -> bool:
    """Whether both are at one height somewhere, where both hang at theirs."""
    return one.low < other.high and other.low < one.high
