"""The pocket table as CSV and XLSX: which tool is where. What is read is reported row by row before anything is changed."""

from collections.abc import Iterable
from dataclasses import dataclass

from orthotrope.errors import InputError
from orthotrope.formats.tables import comma_separated, read_table, workbook
from orthotrope.setup import Setup
from orthotrope.setup.tools import Tool

HEAD = ("pocket", "tool", "name")


@dataclass(frozen=True, slots=True)
class Row:
    """One row that was read: its number in the file (the head is 1), the pocket and tool (0: none), what it ``changes``
    in words ("" nothing), and what is ``wrong`` with it ("" nothing)."""

    row: int
    pocket: int | None
    tool: int | None
    changes: str
    wrong: str


def _rows(setup: Setup) -> list[tuple[int, int | str, str]]:
    stored = {tool.pocket: tool for tool in setup.tools if tool.pocket is not None}
    reserved = {entry.pocket: entry.what for entry in setup.occupants}
    count = setup.changer.pocket_count if setup.changer else 0
    rows: list[tuple[int, int | str, str]] = []
    for pocket in range(1, count + 1):
        tool = stored.get(pocket)
        rows.append((pocket, tool.number if tool else "", tool.name if tool else reserved.get(pocket, "")))
    return rows


def as_csv(setup: Setup) -> str:
    """The table as CSV: a head, a row a pocket; an empty pocket has no tool, a reserved one its name."""
    return comma_separated(HEAD, _rows(setup))


def as_xlsx(setup: Setup) -> bytes:
    """The table as a workbook of one sheet."""
    return workbook("pockets", HEAD, _rows(setup))


def preview(setup: Setup, content: bytes) -> tuple[list[Row], list[Tool] | None]:
    """What a table would change: every row with its change or what is wrong with it, and the tools as they would be;
    None where a row is wrong, for nothing is taken over in part.

    Raises:
        InputError: where the file is no table with the columns pocket and tool.
    """
    if setup.changer is None or not setup.changer.pocket_count:
        raise InputError.at("/changer", "This machine has no pockets yet that a table could fill; add a changer first.")
    cells = read_table(content)
    head = [cell.strip().lower() for cell in cells[0]] if cells else []
    if "pocket" not in head or "tool" not in head:
        raise InputError.at(
            "", f"The first row must name the columns `pocket` and `tool`; it has {', '.join(head) or 'nothing'}."
        )
    places = head.index("pocket"), head.index("tool")
    rows = [
        _row(setup, number, line, places)
        for number, line in enumerate(cells[1:], 2)
        if any(cell.strip() for cell in line)
    ]
    rows = _twice(rows)
    if any(row.wrong for row in rows):
        return rows, None
    wanted = {row.tool: row.pocket for row in rows if row.tool}
    named = {row.pocket for row in rows}
    return rows, [
        tool.model_copy(update={"pocket": wanted.get(tool.number, None if tool.pocket in named else tool.pocket)})
        for tool in setup.tools
    ]


def _row(setup: Setup, number: int, line: list[str], places: tuple[int, int]) -> Row:
    texts = [line[place].strip() if place < len(line) else "" for place in places]
    values: list[int | None] = []
    for name, text in zip(("pocket", "tool"), texts, strict=True):
        plain = text.upper().removeprefix("T") if name == "tool" else text
        plain = plain.removesuffix(".0")
        if plain in ("", "0") and name == "tool":
            values.append(0)
        elif plain.isascii() and plain.isdigit() and len(plain) < 8:
            values.append(int(plain))
        else:
            return Row(number, None, None, "", f'`{name}` must be a whole number; got "{text[:40]}".')
    pocket, tool = values
    assert pocket is not None and tool is not None and setup.changer is not None
    reserved = {entry.pocket: entry.what for entry in setup.occupants}
    if not 1 <= pocket <= setup.changer.pocket_count:
        return Row(number, pocket, tool, "", f"`pocket` must be 1 to {setup.changer.pocket_count}; got {pocket}.")
    if tool and tool not in {entry.number for entry in setup.tools}:
        return Row(number, pocket, tool, "", f"There is no tool T{tool}; add it on the Tools stage first.")
    if tool and pocket in reserved:
        return Row(number, pocket, tool, "", f"Pocket {pocket} is reserved for the {reserved[pocket]}.")
    now = next((entry.number for entry in setup.tools if entry.pocket == pocket), 0)
    named = {0: "empty", **{entry.number: f"T{entry.number}" for entry in setup.tools}}
    changes = "" if now == tool else f"pocket {pocket}: {named[now]} → {named[tool]}"
    return Row(number, pocket, tool, changes, "")


def _twice(rows: Iterable[Row]) -> list[Row]:
    """Pockets and tools that stand in two rows."""
    pockets: dict[int, int] = {}
    tools: dict[int, int] = {}
    found = []
    for row in rows:
        wrong = row.wrong
        if not wrong and row.pocket in pockets:
            wrong = f"Pocket {row.pocket} stands in row {pockets[row.pocket]} already; keep one of them."
        elif not wrong and row.tool and row.tool in tools:
            wrong = f"T{row.tool} stands in row {tools[row.tool]} already; a tool is in one pocket."
        if not wrong:
            pockets[row.pocket or 0] = row.row
            if row.tool:
                tools[row.tool] = row.row
        found.append(Row(row.row, row.pocket, row.tool, row.changes, wrong))
    return found
