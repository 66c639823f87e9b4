"""The tool table as CSV and XLSX, and as it is pasted from a spreadsheet. What is read is reported row by row before anything
is changed; what is wrong in a row is reported, and that row is handed back as it was."""

import math
import re
from dataclasses import dataclass
from functools import cache
from typing import Any

from orthotrope.errors import Fault, InputError, QuantityError
from orthotrope.formats.tables import Cell, comma_separated, read_table, workbook
from orthotrope.setup import Setup
from orthotrope.setup.quantities import quantity_at
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

ALSO = {
    "no": "number",
    "tool": "number",
    "tool_number": "number",
    "speed": "greatest_speed",
    "remarks": "notes",
    "comment": "notes",
}
"""Headings that people write beside the fields' own names and those on the screen."""


def label(field: str) -> str:
    """What a field of a tool is called on the screen."""
    found = quantity_at(f"/tools/0/{field}")
    return "Number" if field == "number" else found.name if found else field.replace("_", " ").capitalize()


def _plain(heading: str) -> str:
    """A heading without its unit: "Length, mm" and "length (mm)" are "length"."""
    return re.sub(r"[,(\[].*$", "", heading).strip().lower().replace("-", "_").replace(" ", "_")


@cache
def _headings() -> dict[str, str]:
    """Heading → field, as the screen and a file of ours have them."""
    labels = {_plain(label(field)): field for field in COLUMNS} | {_plain("T"): "number"}
    return {**ALSO, **labels, **{field: field for field in COLUMNS}}


@dataclass(frozen=True, slots=True)
class Column:
    """A column as it came, and the field of a tool that it is taken for ("": it is not taken)."""

    heading: str
    field: str


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
    """A table that was read: its columns as they came and what each is taken for, its rows, and the tools as they would be with its
    good rows. ``lacks``: the fields that new tools need and the table does not have; ``fields``: those that a column can be, with
    what they are called."""

    head: tuple[str, ...]
    columns: tuple[Column, ...]
    lacks: tuple[str, ...]
    fields: dict[str, str]
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


def preview(
    setup: Setup, content: bytes, columns: list[str] | None = None, missing: dict[str, str] | None = None
) -> ToolTable:
    """What a table would change. A tool that is known is changed in the columns that the table has; one that is not is
    new. Lengths without a unit are in the machine's. ``columns``: the field that each column is ("": none), None: by its heading;
    ``missing``: what new tools get, by field, as it was typed, where the table has it not.

    Raises:
        InputError: where it has no column of numbers, or one twice.
    """
    with shown_in(setup.machine.unit):
        return _preview(setup, read_table(content), columns, missing or {})


def _preview(setup: Setup, cells: list[list[str]], chosen: list[str] | None, missing: dict[str, str]) -> ToolTable:
    came = tuple(cell.strip() for cell in cells[0]) if cells else ()
    head = tuple(_headings().get(_plain(cell), "") for cell in came)
    if chosen is not None:
        if len(chosen) != len(came) or any(field and field not in COLUMNS for field in chosen):
            raise InputError.at(
                "/columns", f"The table has {len(came)} columns; each is one of the fields of a tool, or none."
            )
        head = tuple(chosen)
    named = [field for field in head if field]
    twice = [label(field) for field in dict.fromkeys(named) if named.count(field) > 1]
    columns = tuple(Column(*pair) for pair in zip(came, head, strict=True))
    fields = {field: label(field) for field in COLUMNS}
    if "number" not in named or twice:
        if not came:
            raise InputError.at("", "The table is empty: its first row names the columns, each further one is a tool.")
        what = f"{', '.join(twice)} stands in it twice" if twice else "no column is the number of the tool"
        unread = tuple(
            ToolRow(number, None, "", f"In the table {what}: choose what its columns are.", tuple(line))
            for number, line in enumerate(cells[1:], 2)
            if any(cell.strip() for cell in line)
        )
        return ToolTable(came, columns, (), fields, unread, tuple(setup.tools))
    tools = {tool.number: tool for tool in setup.tools}
    rows: list[ToolRow] = []
    seen: dict[int, int] = {}
    pockets = {tool.pocket: tool.number for tool in setup.tools if tool.pocket is not None}
    for number, line in enumerate(cells[1:], 2):
        if not any(cell.strip() for cell in line):
            continue
        row, tool = _row(setup, tools, head, number, line, seen, missing)
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
    new = any(row.tool not in {tool.number for tool in setup.tools} for row in rows)
    lacks = tuple(field for field in REQUIRED if field not in head) if new else ()
    return ToolTable(
        came, columns, lacks, fields, tuple(rows), tuple(sorted(tools.values(), key=lambda tool: tool.number))
    )


REQUIRED = ("diameter", "length", "stick_out")
"""Without which there is no tool."""


def _row(
    setup: Setup,
    tools: dict[int, Tool],
    head: tuple[str, ...],
    number: int,
    line: list[str],
    seen: dict[int, int],
    missing: dict[str, str],
) -> tuple[ToolRow, Tool | None]:
    texts = tuple(line[: len(head)]) + ("",) * (len(head) - len(line))
    given = {field: text.strip() for field, text in zip(head, texts, strict=True) if field}
    values, faults = _values(setup, given)
    wanted: int | None = values.get("number")
    if wanted is None and not any(fault.where == "/number" for fault in faults):
        faults.append(Fault("/number", "Number is missing; give the tool its number."))
    if wanted in seen:
        faults.append(Fault("/number", f"T{wanted} stands in row {seen[wanted]} already; keep one of them."))
    before = tools.get(wanted) if wanted is not None else None
    kept: dict[str, Any] = before.model_dump(mode="json") if before else {"name": "", "pocket": None}
    if before is None:
        typed, wrong = _values(setup, {field: text for field, text in missing.items() if not given.get(field)})
        values |= typed
        faults += wrong
        for field in REQUIRED:
            if values.get(field) is None and not any(fault.where == f"/{field}" for fault in faults):
                faults.append(Fault(f"/{field}", f"{label(field)} is missing, and the tool is new: enter it."))
    changed = {name: value for name, value in values.items() if value is not None or name in ("pocket",)}
    tool: Tool | None = None
    try:
        tool = parse(Tool, {**kept, **{name: _same(kept.get(name), value) for name, value in changed.items()}})
    except InputError as bad:
        reported = {fault.where for fault in faults}
        faults += [Fault(fault.where, _labelled(fault.what)) for fault in bad.faults if fault.where not in reported]
    if tool is not None and before and before.in_use is None and tool.whole_length != before.whole_length:
        tool = tool.model_copy(update={"in_use": before.whole_length})  # until the tool is called again
    count = setup.changer.pocket_count if setup.changer else 0
    if tool is not None and tool.pocket is not None and tool.pocket > count:
        faults.append(Fault("/pocket", f"Pocket must be at most {count}; got {tool.pocket}."))
    if faults or tool is None:
        return ToolRow(number, wanted, "", " ".join(fault.what for fault in faults), texts), None
    return ToolRow(number, wanted, _changes(before, tool), "", texts), tool


def _labelled(text: str) -> str:
    """A sentence with the names that are on the screen in place of the fields' own."""
    return re.sub(r"`(\w+)`", lambda found: label(found[1]) if found[1] in COLUMNS else found[1], text)


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
        raise InputError.at(f"/{name}", f'{label(name)} "{text[:40]}": {bad.what}') from None
    return int(value) if kind == "count" and value == int(value) else value


def _changes(before: Tool | None, tool: Tool) -> str:
    if before is None:
        return f"T{tool.number} is new"
    fields = [label(name) for name in COLUMNS if getattr(before, name) != getattr(tool, name)]
    return f"T{tool.number}: {', '.join(fields)}" if fields else ""
