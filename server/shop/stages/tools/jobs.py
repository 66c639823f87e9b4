"""What a pocket table from a file would change."""

from dataclasses import dataclass
from typing import Any

from orthotrope.calc.lengths import Basis, LengthBasisInput, ToolValue, length_basis
from orthotrope.formats import tool_table
from orthotrope.formats.pocket_table import Row, preview
from orthotrope.setup import read_setup
from orthotrope.setup.tools import Tool

from shop.job import answers


@dataclass(frozen=True, slots=True)
class TablePreview:
    """``tools`` null: a row is wrong, nothing is taken over."""

    rows: list[Row]
    tools: list[Tool] | None


@answers(tool_table.ToolTable)
def tools_of(document: dict[str, Any], content: bytes) -> tool_table.ToolTable:
    """What a table of tools (CSV or XLSX, or pasted) would change."""
    return tool_table.preview(read_setup(document), content)


@dataclass(frozen=True, slots=True)
class Bases:
    """A tool's length in each of the three bases, mm; ``home_to_part`` null: there is no such work offset."""

    tool: int
    gauge_line: float
    master_tool: float
    home_to_part: float | None


@answers(list[Bases])
def bases(document: dict[str, Any], master: int, work_offset: int) -> list[Bases]:
    """The lengths of all tools in every basis: from the gauge line, against a master tool, from home to a part."""
    setup = read_setup(document)
    part = next((offset.z for offset in setup.work_offsets if offset.number == work_offset), None)
    values = [ToolValue(tool=tool.number, value=tool.length) for tool in setup.tools]
    if not values:
        return []

    def turned(to: Basis) -> dict[int, float]:
        given = {"values": values, "from": "gauge-line", "to": to, "master_length": setup.tool(master).length}
        home = setup.machine.axes.upright.home_at
        data = LengthBasisInput.model_validate({**given, "home_z": home, "part_z": part or 0.0})
        return {entry.tool: entry.value for entry in length_basis(data).values}

    own, by_master, by_part = turned("gauge-line"), turned("master-tool"), turned("home-to-part")
    return [Bases(n, own[n], by_master[n], None if part is None else by_part[n]) for n in own]


@answers(TablePreview)
def pocket_table(document: dict[str, Any], content: bytes) -> TablePreview:
    """What a table (CSV or XLSX) would change."""
    return TablePreview(*preview(read_setup(document), content))
