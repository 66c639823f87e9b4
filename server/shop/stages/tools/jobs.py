"""What a pocket table from a file would change."""

from dataclasses import dataclass
from typing import Any

from orthotrope.formats.pocket_table import Row, preview
from orthotrope.setup import read_setup
from orthotrope.setup.tools import Tool

from shop.job import answers


@dataclass(frozen=True, slots=True)
class TablePreview:
    """``tools`` null: a row is wrong, nothing is taken over."""

    rows: list[Row]
    tools: list[Tool] | None


@answers(TablePreview)
def pocket_table(document: dict[str, Any], content: bytes) -> TablePreview:
    """What a table (CSV or XLSX) would change."""
    return TablePreview(*preview(read_setup(document), content))
