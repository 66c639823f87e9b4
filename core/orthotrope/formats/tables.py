"""Tables as CSV and XLSX, and as they are pasted from a spreadsheet: cells as text, row by row."""

import csv
import io
import zipfile
from collections.abc import Iterable, Sequence

from openpyxl import Workbook, load_workbook

from orthotrope.errors import InputError

MOST_ROWS, MOST_COLUMNS = 2000, 50
LARGEST_UNPACKED = 8_000_000
"""Bytes of a workbook's parts; a table of 2000 rows has about 300,000."""

Cell = int | float | str


def comma_separated(head: Sequence[str], rows: Iterable[Sequence[Cell]]) -> str:
    """A table as CSV."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(head)
    writer.writerows([_no_formula(cell) for cell in row] for row in rows)
    return out.getvalue()


FORMULAS = ("=", "+", "-", "@", "\t", "\r")
"""What a text of a cell begins with that a spreadsheet would take for a formula."""


def _no_formula(cell: Cell) -> Cell:
    """A text that is no formula for a spreadsheet, whatever it begins with: an apostrophe says so, and is taken off again on reading."""
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(FORMULAS) and not _is_number(cell) else cell


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def _as_meant(cell: str) -> str:
    return cell[1:] if cell[:1] == "'" and cell[1:].startswith(FORMULAS) else cell


def workbook(title: str, head: Sequence[str], rows: Iterable[Sequence[Cell]]) -> bytes:
    """A table as a workbook of one sheet."""
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = title
    for row in (head, *rows):
        sheet.append(list(row))
    for line in sheet.iter_rows():
        for cell in line:
            if isinstance(cell.value, str):
                cell.data_type = "s"  # a name that begins with = is no formula
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def read_table(content: bytes) -> list[list[str]]:
    """The cells of a CSV or XLSX file as text, row by row.

    Raises:
        InputError: where it is neither, or too large.
    """
    if content[:2] == b"PK":
        try:
            unpacked = sum(part.file_size for part in zipfile.ZipFile(io.BytesIO(content)).infolist())
            if unpacked > LARGEST_UNPACKED:
                raise InputError.at(
                    "",
                    f"The workbook has {unpacked / 1e6:.0f} MB unpacked, a table at most "
                    f"{LARGEST_UNPACKED / 1e6:.0f}; is it another file?",
                )
            book = load_workbook(io.BytesIO(content), read_only=True, data_only=True)
            sheet = book.worksheets[0]
            rows = [
                ["" if cell is None else str(cell) for cell in row]
                for row in sheet.iter_rows(max_row=MOST_ROWS + 1, max_col=MOST_COLUMNS, values_only=True)
            ]
        except InputError:
            raise
        except Exception as bad:  # openpyxl raises nearly anything at a workbook that is none
            raise InputError.at(
                "", f"The file can't be read as a workbook ({bad}); save it as XLSX or CSV again."
            ) from None
    else:
        try:
            text = content.decode("utf-8-sig")
        except UnicodeDecodeError as bad:
            raise InputError.at(
                "", f"Byte {bad.start} is not UTF-8 text; save the table as CSV in UTF-8, or as XLSX."
            ) from None
        first = text.splitlines()[0] if text.strip() else ""
        try:
            read = csv.reader(io.StringIO(text, newline=None), delimiter=max(",;\t", key=first.count))
            rows = [[_as_meant(cell) for cell in row] for row in read]
        except csv.Error as bad:
            raise InputError.at("", f"The file can't be read as CSV ({bad}); save the table again.") from None
    if len(rows) > MOST_ROWS:
        raise InputError.at("", f"The table has more than {MOST_ROWS} rows; is it another file?")
    return rows
