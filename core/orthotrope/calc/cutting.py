"""What a tool cuts with, both ways round, and whether the spindle can."""

from dataclasses import dataclass

from orthotrope.calc.metrology import CuttingDataInput, cutting_data
from orthotrope.setup import Setup
from orthotrope.setup.tools import Tool

USUAL_FLUTES = 1
"""What a chip load is of, where a tool has no flutes of its own: a turn."""


@dataclass(frozen=True, slots=True)
class ToolCutting:
    """Speed (rev/min), surface speed (m/min), feed (mm/min) and chip load (mm a tooth) of a tool; None where nothing was
    entered that it follows from. ``computed``: which of them follow; ``says``: what is wrong with them."""

    speed: float | None
    surface_speed: float | None
    feed: float | None
    chip_load: float | None
    computed: tuple[str, ...]
    says: tuple[str, ...]


def tool_cutting(setup: Setup, tool: Tool) -> ToolCutting:
    """The cutting data of a tool, each from what was entered, against the spindle and the tool's own greatest speed."""
    entered = tool.cutting
    speed, surface, feed, chip = entered.speed, entered.surface_speed, entered.feed, entered.chip_load
    if speed is None and surface is None:
        return ToolCutting(None, None, feed, chip, (), ())
    whole = feed is not None or chip is not None
    found = cutting_data(
        CuttingDataInput(
            unit="mm",
            diameter=tool.diameter,
            flutes=tool.flutes or USUAL_FLUTES,
            speed=speed,
            surface_speed=surface,
            feed=feed if whole else 1.0,
            chip_load=chip,
        )
    )
    computed = tuple(name for name in found.computed if whole or name not in ("feed", "chip_load"))
    says = tuple(_says(setup, tool, found.speed))
    if whole and tool.flutes is None:
        says = (*says, "Its flutes are not given: the chip load is that of a turn.")
    return ToolCutting(
        found.speed,
        found.surface_speed,
        found.feed if whole else None,
        found.chip_load if whole else None,
        computed,
        says,
    )


def _says(setup: Setup, tool: Tool, speed: float) -> list[str]:
    spindle, says = setup.machine.spindle, []
    if speed > spindle.greatest_speed:
        says.append(f"{speed:.0f} rev/min is more than the spindle turns, {spindle.greatest_speed:.0f} rev/min.")
    if speed < spindle.least_speed:
        says.append(f"{speed:.0f} rev/min is less than the spindle turns, {spindle.least_speed:.0f} rev/min.")
    if tool.greatest_speed is not None and speed > tool.greatest_speed:
        says.append(f"{speed:.0f} rev/min is more than T{tool.number} may turn, {tool.greatest_speed:.0f} rev/min.")
    return says
