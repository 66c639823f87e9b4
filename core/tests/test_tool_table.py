"""The tool table out and in again; what is wrong in a row is reported, and nothing of it is lost."""

import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from orthotrope.errors import InputError
from orthotrope.formats.tables import comma_separated, read_table
from orthotrope.formats.tool_table import COLUMNS, as_csv, as_xlsx, preview
from orthotrope.setup import read_setup

DEMO = Path(__file__).parents[2] / "demo" / "setups"
SETUPS = {name: read_setup(json.loads((DEMO / f"{name}.json").read_text())) for name in ("heron", "plover", "knot")}
HERON = SETUPS["heron"]


def text(*rows: str) -> bytes:
    return "\n".join(rows).encode()


@pytest.mark.parametrize("name", [*SETUPS])
def test_out_and_in_again_changes_nothing(name: str) -> None:
    setup = SETUPS[name]
    for content in (as_csv(setup).encode(), as_xlsx(setup)):
        table = preview(setup, content)
        assert [(row.changes, row.wrong) for row in table.rows] == [("", "")] * len(setup.tools)
        assert list(table.tools) == sorted(setup.tools, key=lambda tool: tool.number)


def test_of_five_hundred_pasted_rows_ten_are_bad_and_none_is_lost() -> None:
    rows = [f"{100 + n}\tend mill {n}\tflat end mill\t{6 + n / 100}\t{50 + n / 10}\t30" for n in range(500)]
    bad = {
        7: "x7\tname\tdrill\t6\t50\t30", 50: "\tno number\tdrill\t6\t50\t30", 99: "100\ttwice\tdrill\t6\t50\t30",
        140: "240\t\tspoon\t6\t50\t30", 201: "301\t\tdrill\tsix\t50\t30", 250: "350\t\tdrill\t6\t50\t60",
        333: "433\t\tdrill\t-6\t50\t30", 400: "500\t\tdrill\t6\t1e9\t30", 444: "544.5\t\tdrill\t6\t50\t30", 499: "599\t\tdrill\t\t50\t30",
    }  # fmt: skip
    for place, row in bad.items():
        rows[place] = row
    table = preview(HERON, text("number\tname\ttype\tdiameter\tlength\tstick-out", *rows))
    wrong = {row.row - 2: row for row in table.rows if row.wrong}
    assert set(wrong) == set(bad) and len(table.rows) == 500
    assert all("\t".join(row.cells).strip() == bad[place].strip() for place, row in wrong.items())
    assert len(table.tools) == len(HERON.tools) + 490
    assert len({row.wrong for row in wrong.values()}) == 10  # each its own sentence


def test_only_the_columns_that_there_are_change_a_tool() -> None:
    table = preview(HERON, text("number,length", "T3,1.9in", "9,51.2"))
    (changed,) = [tool for tool in table.tools if tool not in HERON.tools]
    assert changed == HERON.tool(3).model_copy(update={"length": pytest.approx(48.26), "in_use": HERON.tool(3).length})
    assert [row.changes for row in table.rows] == ["T3: Length", ""]


@pytest.mark.parametrize(
    ("rows", "says"),
    [
        (["name,length", "x,3"], "no column is the number"),
        (["number,length,length", "3,4,5"], "Length stands in it twice"),
    ],
)
def test_a_table_whose_columns_are_not_known_changes_nothing_until_they_are_chosen(rows: list[str], says: str) -> None:
    table = preview(HERON, text(*rows))
    assert list(table.tools) == HERON.tools and all(says in row.wrong for row in table.rows)
    chosen = preview(HERON, text("a,b,c", "3,48,whatever"), ["number", "length", ""])
    assert [row.changes for row in chosen.rows] == ["T3: Length"] and chosen.columns[2].field == ""
    with pytest.raises(InputError, match="The table is empty"):
        preview(HERON, b"")
    with pytest.raises(InputError, match="has 3 columns"):
        preview(HERON, text("a,b,c", "3,48,x"), ["number"])


def test_the_headings_of_the_screen_are_understood_and_what_is_missing_is_asked_for_all_at_once() -> None:
    table = preview(HERON, text('T,Diameter (mm),"Length, mm",Stick-out,colour', "T3,6,48.5,30,red", "30,6,70,,blue"))
    assert [column.field for column in table.columns] == ["number", "diameter", "length", "stick_out", ""]
    assert [bool(row.wrong) for row in table.rows] == [False, True]
    assert table.rows[1].wrong == "Stick-out is missing, and the tool is new: enter it."
    short = text("T,Length,Diameter", "30,70,x", "31,far,8")
    table = preview(HERON, short)
    assert table.lacks == ("stick_out",)
    for row, says in ((table.rows[0], 'Diameter "x"'), (table.rows[1], 'Length "far"')):
        assert (
            says in row.wrong and "Stick-out is missing" in row.wrong and "`" not in row.wrong and "_" not in row.wrong
        )
    made = preview(HERON, text("T,Length,Diameter", "30,70,8"), None, {"stick_out": "35"})
    assert made.rows[0].changes == "T30 is new" and made.tools[-1].stick_out == 35
    wrong = preview(HERON, text("T,Length,Stick-out", "3,48,60")).rows[0].wrong
    assert "Stick-out must be below the length" in wrong


def test_a_pocket_has_one_tool() -> None:
    table = preview(HERON, text("number,pocket", "3,", "4,3", "5,9", "6,99"))
    assert [bool(row.wrong) for row in table.rows] == [False, False, True, True]
    assert "Pocket 9 has T9" in table.rows[2].wrong and "at most 10" in table.rows[3].wrong
    assert {tool.number: tool.pocket for tool in table.tools}[4] == 3


@given(st.lists(st.lists(st.text(max_size=6), max_size=5), max_size=6))
def test_whatever_is_pasted_is_reported_or_refused(cells: list[list[str]]) -> None:
    head = ["number", *list(COLUMNS)[1:5]]
    content = "\n".join("\t".join(row) for row in [head, *cells]).encode("utf-8", "replace")
    try:
        table = preview(HERON, content)
    except InputError as refused:
        assert refused.faults[0].what.endswith((".", "?"))
        return
    assert {tool.number for tool in table.tools} >= {tool.number for tool in HERON.tools}


@pytest.mark.parametrize("name", ["=1+1", "+cmd", "-2 flutes", "@x", "=HYPERLINK(1)"])
def test_a_name_is_no_formula_in_a_csv_file_and_comes_back_as_it_was(name: str) -> None:
    text = comma_separated(["tool", "length"], [[name, -1.5]])
    assert text.splitlines()[1] == f"'{name},-1.5"
    assert read_table(text.encode())[1] == [name, "-1.5"]
