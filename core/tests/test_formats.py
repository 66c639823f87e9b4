"""Open formats: the pocket table out and in again, every bad row reported; the mounting pattern read back by another
library."""

import io
import math
import time
import zipfile

import ezdxf
import pytest
from demo_setup import DOCUMENT, changed
from ezdxf.entities.lwpolyline import LWPolyline
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook
from orthotrope.calc.derived import derive
from orthotrope.errors import InputError
from orthotrope.formats.layout import Mark, ordered, read_layout
from orthotrope.formats.mounting import mounting_pattern
from orthotrope.formats.pocket_table import as_csv, as_xlsx, preview
from orthotrope.formats.tables import read_table
from orthotrope.setup import Setup, read_setup

HERON = read_setup(DOCUMENT)


def test_a_table_out_and_in_again_changes_nothing() -> None:
    for content in (as_csv(HERON).encode(), as_xlsx(HERON)):
        rows, tools = preview(HERON, content)
        assert len(rows) == 10 and not any(row.changes or row.wrong for row in rows)
        assert tools == list(HERON.tools)
    book = load_workbook(io.BytesIO(as_xlsx(HERON)))
    assert [cell.value for cell in book["pockets"][8]] == [7, None, "setter"]


@given(st.permutations([tool["number"] for tool in DOCUMENT["tools"]]), st.sampled_from(",;\t"))
def test_any_arrangement_is_taken_as_it_is_written(order: list[int], separator: str) -> None:
    pockets = [1, 2, 3, 4, 5, 6, 8, 9]
    lines = [f"T{tool}{separator}{pocket}" for tool, pocket in zip(order, pockets, strict=True)]
    text = "\n".join([f"Tool{separator}Pocket", *lines])
    rows, tools = preview(HERON, text.encode("utf-8-sig"))
    assert tools is not None and {tool.number: tool.pocket for tool in tools} == dict(zip(order, pockets, strict=True))
    assert sum(bool(row.changes) for row in rows) == sum(
        a != b for a, b in zip(order, [1, 2, 3, 4, 5, 6, 8, 9], strict=True)
    )


def test_every_bad_row_is_reported_and_nothing_is_taken() -> None:
    text = "pocket,tool\n1,2\n1,3\n4,2\n11,1\n7,5\n3,77\nx,1\n5,1.5\n\n6,6\n"
    rows, tools = preview(HERON, text.encode())
    assert tools is None and [row.row for row in rows if row.wrong] == [3, 4, 5, 6, 7, 8, 9]
    said = " ".join(row.wrong for row in rows)
    for part in (
        "Pocket 1 stands in row 2",
        "T2 stands in row 2",
        "1 to 10; got 11",
        "reserved for the setter",
        "no tool T77",
        '`pocket` must be a whole number; got "x"',
        '`tool` must be a whole number; got "1.5"',
    ):
        assert part in said
    for content, says in (
        (b"a,b\n1,2", "columns `pocket` and `tool`"),
        (b"\xff\xfe1", "not UTF-8"),
        (b"PK\x03\x04no", "as a workbook"),
        (b"pocket,tool\n" + b"1,1\n" * 3000, "more than 2000"),
    ):
        with pytest.raises(InputError, match=says):
            preview(HERON, content)
    assert read_table(b"pocket;tool\n1;2") == [["pocket", "tool"], ["1", "2"]]


@pytest.mark.parametrize("unit, scale", [("mm", 1.0), ("inch", 1 / 25.4)])
@pytest.mark.parametrize("frame", ["machine", "rack"])
def test_the_mounting_pattern_has_every_hole_where_its_pocket_is(unit: str, scale: float, frame: str) -> None:
    turned = read_setup(changed(DOCUMENT, changer__rack__bearing_deg=12.0, changer__rack__datum__y=1000.0))
    drawing = ezdxf.read(io.StringIO(mounting_pattern(turned, unit, frame)))  # type: ignore[arg-type]
    assert drawing.units == (ezdxf.units.IN if unit == "inch" else ezdxf.units.MM)
    space = drawing.modelspace()
    holes = sorted((c.dxf.center.x, c.dxf.center.y) for c in space.query('CIRCLE[layer=="HOLES"]'))
    turn = math.radians(12) if frame == "machine" else 0.0
    start = (128.4, 1000.0) if frame == "machine" else (0.0, 0.0)
    wanted = [
        ((start[0] + 58.5 * n * math.cos(turn)) * scale, (start[1] + 58.5 * n * math.sin(turn)) * scale)
        for n in range(10)
    ]
    for one, other in zip(holes, sorted(wanted), strict=True):
        assert math.dist(one, other) < 1e-9
    assert len(space.query('CIRCLE[layer=="RECESSES"]')) == 9
    (outline,) = (entity for entity in space if isinstance(entity, LWPolyline))
    xs = [point[0] for point in outline.get_points()]
    if frame == "rack":
        assert max(xs) - min(xs) == pytest.approx((58.5 * 9 + 66) * scale)
    assert any("pitch" in text.dxf.text for text in space.query("TEXT"))


def test_a_layout_comes_in_from_a_drawing_in_the_order_one_chooses() -> None:
    marks = read_layout(mounting_pattern(HERON, "inch", "machine").encode())
    holes = [mark for mark in marks if mark.layer == "HOLES"]
    derived = derive(HERON)
    assert derived is not None and len(holes) == 10
    for mark, pocket in zip(ordered(holes, "along X"), derived.pockets, strict=True):
        assert (mark.x, mark.y) == pytest.approx((pocket.x, pocket.y), abs=1e-6)
    grid = [Mark("0", x, y + 0.3 * (x > 5), 8.0) for y in (10.0, 0.0) for x in (20.0, 0.0, 10.0)]
    assert [(m.x, round(m.y)) for m in ordered(grid, "row by row")] == [
        (0, 0),
        (10, 0),
        (20, 0),
        (0, 10),
        (10, 10),
        (20, 10),
    ]
    assert ordered(grid, "as drawn") == grid
    bare = ezdxf.new("R2010", setup=False)
    bare.modelspace().add_point((1.0, 2.0))
    bare.units = 0
    out = io.StringIO()
    bare.write(out)
    with pytest.raises(InputError, match="neither millimetres nor inches"):
        read_layout(out.getvalue().encode())
    assert read_layout(out.getvalue().encode(), "inch")[0].y == pytest.approx(50.8)
    with pytest.raises(InputError, match="can't be read as a DXF"):
        read_layout(b"G21 G90")
    with pytest.raises(InputError, match="it stops short"):
        read_layout(b"0\nSECTION\n")
    old = ezdxf.new("R2000", setup=False)
    old.modelspace().add_circle((1.0, 2.0), 4.0, dxfattribs={"layer": "Plätze"})
    out = io.StringIO()
    old.write(out)
    written = out.getvalue().replace("\n", "\r\n").encode("cp1252")
    assert read_layout(written, "mm") == [Mark("Plätze", 1.0, 2.0, 8.0)]


def drawing_of(*places: tuple[float, float, float]) -> bytes:
    circles = "".join(f"0\nCIRCLE\n8\n0\n10\n{x}\n20\n{y}\n30\n0\n40\n{r}\n" for x, y, r in places)
    return f"0\nSECTION\n2\nENTITIES\n{circles}0\nENDSEC\n0\nEOF\n".encode()


def test_a_drawing_is_bounded_and_read_in_a_time_that_grows_with_it() -> None:
    begun = time.perf_counter()
    marks = read_layout(drawing_of(*((i % 45 * 20.0, i // 45 * 20.0, 5.0) for i in range(1980))), "mm")
    assert [*map(len, (marks, ordered(marks, "row by row")))] == [1980, 1980] and time.perf_counter() - begun < 6
    with pytest.raises(InputError, match="more than 2000 circles"):
        read_layout(drawing_of(*((i * 10.0, 0.0, 4.0) for i in range(2001))), "mm")
    for wrong in ((float("nan"), 0.0, 1.0), (1e9, 0.0, 1.0), (0.0, 0.0, float("inf"))):
        with pytest.raises(InputError):
            read_layout(drawing_of(wrong), "mm")


def test_a_table_is_bounded_and_its_cells_are_taken_as_they_stand(heron: Setup) -> None:
    old = as_csv(heron).replace("\r\n", "\r").encode()  # line ends of old machines
    assert [row.changes for row in preview(heron, old)[0]] == [""] * 10
    assert preview(heron, "pocket,tool\n²,1\n".encode())[0][0].wrong
    with pytest.raises(InputError, match="no pockets yet"):
        preview(read_setup({**DOCUMENT, "changer": None}), old)
    named = read_setup(changed(DOCUMENT, tools__0__name="=1+1"))
    sheet = load_workbook(io.BytesIO(as_xlsx(named))).active
    assert sheet is not None and next(c for row in sheet.iter_rows() for c in row if c.value == "=1+1").data_type == "s"
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as book:
        book.writestr("xl/worksheets/sheet1.xml", b"<c/>" * 4_000_000)
    with pytest.raises(InputError, match="16 MB unpacked"):
        preview(heron, packed.getvalue())
