"""What a pocket table from a file would change."""

from dataclasses import dataclass
from typing import Any

from orthotrope.calc.cutting import ToolCutting, tool_cutting
from orthotrope.calc.lengths import Basis, LengthBasisInput, ToolValue, length_basis
from orthotrope.calc.metrology import RepeatabilityInput, RepeatabilityOutput, repeatability
from orthotrope.calc.outlines import Point, outline
from orthotrope.calc.worksheets import Entered, Way, Worksheet, worksheet
from orthotrope.formats import tool_table
from orthotrope.formats.pocket_table import Row, preview
from orthotrope.formats.tool_sheet import as_pdf
from orthotrope.proof.measuring_cost import MeasuringCost, keeping
from orthotrope.setup import read_setup
from orthotrope.setup.tools import Tool
from orthotrope.units import shown_in
from orthotrope.validation import parse

from shop.job import answers


@dataclass(frozen=True, slots=True)
class TablePreview:
    """``tools`` null: a row is wrong, nothing is taken over."""

    rows: list[Row]
    tools: list[Tool] | None


@answers(tool_table.ToolTable)
def tools_of(
    document: dict[str, Any], content: bytes, columns: list[str] | None, missing: dict[str, str]
) -> tool_table.ToolTable:
    """What a table of tools (CSV or XLSX, or pasted) would change."""
    return tool_table.preview(read_setup(document), content, columns, missing)


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
    values = [ToolValue(tool=tool.number, value=tool.whole_length) for tool in setup.tools]
    if not values:
        return []

    def turned(to: Basis) -> dict[int, float]:
        given = {"values": values, "from": "gauge-line", "to": to, "master_length": setup.tool(master).whole_length}
        home = setup.machine.axes.upright.home_at
        data = LengthBasisInput.model_validate({**given, "home_z": home, "part_z": part or 0.0})
        return {entry.tool: entry.value for entry in length_basis(data).values}

    own, by_master, by_part = turned("gauge-line"), turned("master-tool"), turned("home-to-part")
    return [Bases(n, own[n], by_master[n], None if part is None else by_part[n]) for n in own]


@dataclass(frozen=True, slots=True)
class Outline:
    """The outline of a tool's cutter: right of its axis and below the gauge line, mm."""

    tool: int
    points: tuple[Point, ...]


@answers(list[Outline])
def outlines(tools: list[dict[str, Any]]) -> list[Outline]:
    """The outlines of these tools, as a Setup has them."""
    return [Outline(tool.number, outline(tool)) for tool in (parse(Tool, entry) for entry in tools)]


@dataclass(frozen=True, slots=True)
class ToolPage:
    """What follows for one tool: its cutting data, what keeping its length costs (null: nothing does), and how its
    measured lengths scatter (null: fewer than two)."""

    cutting: ToolCutting
    keeping: MeasuringCost | None
    scatter: RepeatabilityOutput | None
    unused: float | None
    worn: bool


@answers(ToolPage)
def tool_page(document: dict[str, Any], tool: int, lengths: list[float]) -> ToolPage:
    """What follows for one tool; ``unused``: by how much its length has changed since the control last used it, null: not
    at all, or that is not known; ``worn``: whether it has more wear than it may."""
    setup = read_setup(document)
    found = setup.tool(tool)
    changed = None if found.in_use is None else found.whole_length - found.in_use
    return ToolPage(
        tool_cutting(setup, found),
        keeping(setup, tool),
        repeatability(RepeatabilityInput(readings=lengths)) if len(lengths) > 1 else None,
        changed if changed and abs(changed) > SAME else None,
        found.greatest_wear is not None and abs(found.wear) > found.greatest_wear,
    )


SAME = 1e-6
"""mm; lengths that differ by less are the same."""


def tool_sheet(document: dict[str, Any]) -> bytes:
    """The tools on paper."""
    return as_pdf(read_setup(document))


@answers(Worksheet)
def length_worksheet(document: dict[str, Any], way: Way, tool: int, entered: dict[str, Any]) -> Worksheet:
    """A tool's length in a way other than the setter."""
    setup = read_setup(document)
    with shown_in(setup.machine.unit):
        return worksheet(setup, way, tool, Entered(**entered))


@answers(TablePreview)
def pocket_table(document: dict[str, Any], content: bytes) -> TablePreview:
    """What a table (CSV or XLSX) would change."""
    return TablePreview(*preview(read_setup(document), content))
