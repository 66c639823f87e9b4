"""The tool table as CSV and XLSX, and as it is pasted from a spreadsheet. What is read is told row by row before anything
is changed; what is wrong in a row is told, and that row is handed back as it was."""

import math
from dataclasses import dataclass
from typing import Any

from orthotrope.errors import Fault, InputError, QuantityError
from orthotrope.formats.tables import Cell, comma_separated, read_table, workbook
from orthotrope.setup import Setup
from orthotrope.setup.tools import Tool
from orthotrope.units import MM_PER_INCH, read_quantity, shown_in
from orthotrope.validation import parse

COLUMNS: dict[str, str] = {
    "number": "count",
    "name": "",
    "type": "",
    "diameter": "length",
    "length": "length",
    "wear": "length",
    "greatest_wear": "length",
    "stick_out": "length",
    "shank_above": "length",
    "breakage": "length",
    "collar_scatter": "length",
    "flutes": "count",
    "cutting_length": "length",
    "corner_radius": "length",
    "angle_deg": "angle",
    "greatest_speed": "speed",
    "fetched_a_shift": "count",
    "off_axis": "length",
    "edge_height": "length",
    "pocket": "count",
    "notes": "",
}
"""The columns, by the field of a tool, and of which kind of quantity each is; "" is text."""

NEEDED = ("number",)


@dataclass(frozen=True, slots=True)
class ToolRow:
    """One row that was read: its number in the table (the head is 1), the tool, what it ``changes`` in words ("": nothing),
    what is ``wrong`` with it ("": nothing), and its cells as they came."""

    row: int
    tool: int | None
    changes: str
    wrong: str
    cells: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class ToolTable:
    """A table that was read: its columns as they came, its rows, and the tools as they would be with its good rows."""

    head: tuple[str, ...]
    rows: tuple[ToolRow, ...]
    tools: tuple[Tool, ...]


def _cell(setup: Setup, tool: Tool, field: str) -> Cell:
    value = getattr(tool, field)
    if value is None:
        return ""
    if COLUMNS[field] == "length" and setup.machine.unit == "inch":
        return float(f"{value / MM_PER_INCH:.15g}")
    return value  # type: ignore[no-any-return]


def _rows(setup: Setup) -> list[list[Cell]]:
    return [[_cell(setup, tool, field) for field in COLUMNS] for tool in setup.tools]


def as_csv(setup: Setup) -> str:
    """The table as CSV, lengths in the machine's unit."""
    return comma_separated(tuple(COLUMNS), _rows(setup))


def as_xlsx(setup: Setup) -> bytes:
    """The table as a workbook of one sheet, lengths in the machine's unit."""
    return workbook("tools", tuple(COLUMNS), _rows(setup))


def preview(setup: Setup, content: bytes) -> ToolTable:
    """What a table would change. A tool that is known is changed in the columns that the table has; one that is not is
    new. Lengths without a unit are in the machine's.

    Raises:
        InputError: where it is no table with the column number.
    """
    with shown_in(setup.machine.unit):
        return _preview(setup, read_table(content))


def _preview(setup: Setup, cells: list[list[str]]) -> ToolTable:
    head = tuple(cell.strip().lower().replace("-", "_").replace(" ", "_") for cell in cells[0]) if cells else ()
    known = [name for name in head if name in COLUMNS]
    strange = [name for name in head if name and name not in COLUMNS]
    if "number" not in head or strange:
        what = f"there is no column {', '.join(strange)}" if strange else "the column `number` is missing"
        raise InputError.at("", f"The first row must name the columns: {what}; there are {', '.join(COLUMNS)}.")
    if len(set(known)) != len(known):
        raise InputError.at("", "A column stands in the table twice; keep one of them.")
    tools = {tool.number: tool for tool in setup.tools}
    rows: list[ToolRow] = []
    seen: dict[int, int] = {}
    pockets = {tool.pocket: tool.number for tool in setup.tools if tool.pocket is not None}
    for number, line in enumerate(cells[1:], 2):
        if not any(cell.strip() for cell in line):
            continue
        row, tool = _row(setup, tools, head, number, line, seen)
        if tool is not None and tool.pocket is not None:
            other = pockets.get(tool.pocket, tool.number)
            if other != tool.number and tools.get(other) and tools[other].pocket == tool.pocket:
                wrong = f"Pocket {tool.pocket} has T{other}; give that one another pocket first."
                row, tool = ToolRow(row.row, row.tool, "", wrong, row.cells), None
        if tool is not None:
            tools[tool.number], seen[tool.number] = tool, number
            if tool.pocket is not None:
                pockets[tool.pocket] = tool.number
        rows.append(row)
    return ToolTable(head, tuple(rows), tuple(sorted(tools.values(), key=lambda tool: tool.number)))


def _row(
    setup: Setup, tools: dict[int, Tool], head: tuple[str, ...], number: int, line: list[str], seen: dict[int, int]
) -> tuple[ToolRow, Tool | None]:
    texts = tuple(line[: len(head)]) + ("",) * (len(head) - len(line))
    given = {name: text.strip() for name, text in zip(head, texts, strict=True) if name in COLUMNS}
    wanted: int | None = None
    try:
        values, faults = _values(setup, given)
        if faults:
            raise InputError(faults)
        wanted = values.get("number")
        if wanted is None:
            raise InputError.at("/number", "`number` is missing; give the tool its number.")
        if wanted in seen:
            raise InputError.at("/number", f"T{wanted} stands in row {seen[wanted]} already; keep one of them.")
        before = tools.get(wanted)
        kept = before.model_dump(mode="json") if before else {"name": "", "pocket": None}
        changed = {name: value for name, value in values.items() if value is not None or name in ("pocket",)}
        tool = parse(Tool, {**kept, **{name: _same(kept.get(name), value) for name, value in changed.items()}})
        if before and before.in_use is None and tool.whole_length != before.whole_length:
            tool = tool.model_copy(update={"in_use": before.whole_length})  # until the tool is called again
        count = setup.changer.pocket_count if setup.changer else 0
        if tool.pocket is not None and tool.pocket > count:
            raise InputError.at("/pocket", f"`pocket` must be at most {count}; got {tool.pocket}.")
    except InputError as bad:
        return ToolRow(number, wanted, "", " ".join(fault.what for fault in bad.faults), texts), None
    return ToolRow(number, wanted, _changes(before, tool), "", texts), tool


def _same(before: Any, value: Any) -> Any:
    """What was there, where the new value is the same but for what writing it down has rounded."""
    both = isinstance(before, float) and isinstance(value, float)
    return before if both and math.isclose(before, value, rel_tol=1e-12) else value


def _values(setup: Setup, given: dict[str, str]) -> tuple[dict[str, Any], list[Fault]]:
    """The values of a row's cells, and what is wrong with each."""
    values: dict[str, Any] = {}
    faults: list[Fault] = []
    for name, text in given.items():
        try:
            values[name] = _value(setup, name, text)
        except InputError as bad:
            faults += bad.faults
    return values, faults


def _value(setup: Setup, name: str, text: str) -> Any:
    """A cell's value; None where it is empty."""
    kind = COLUMNS[name]
    if not kind:
        return text or None
    if name == "number":
        text = text.upper().removeprefix("T")
    if not text:
        return None
    try:
        value = read_quantity(text, kind, setup.machine.unit).value
    except QuantityError as bad:
        raise InputError.at(f"/{name}", f'`{name}` "{text[:40]}": {bad.what}') from None
    return int(value) if kind == "count" and value == int(value) else value


def _changes(before: Tool | None, tool: Tool) -> str:
    if before is None:
        return f"T{tool.number} is new"
    fields = [name.replace("_", " ") for name in COLUMNS if getattr(before, name) != getattr(tool, name)]
    return f"T{tool.number}: {', '.join(fields)}" if fields else ""
