"""The tool sheet on paper: every tool with its drawing to one scale, its dimensions and its cutting data, as a PDF of A4
pages."""

import io
from collections.abc import Iterator
from datetime import datetime

from reportlab.lib.pagesizes import A4
from reportlab.lib.utils import simpleSplit
from reportlab.pdfgen.canvas import Canvas

from orthotrope.calc.cutting import tool_cutting
from orthotrope.calc.outlines import outline
from orthotrope.formats.paper import BOLD, EDGE, HEIGHT, PLAIN, WIDTH, fonts
from orthotrope.machine.report import Scene
from orthotrope.machine.shapes import StackPart
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup
from orthotrope.setup.tools import Tool
from orthotrope.units import in_unit, shown_in, shown_unit, with_unit

ROWS = 4
"""Tools on a page."""

HEAD = 46.0
DRAWN = 170.0
"""Points; the height of the head, and how wide a drawing is."""

LINE = 13.0


def as_pdf(setup: Setup, when: datetime | None = None) -> bytes:
    """The sheet of all tools, in the order of their numbers; ``when``: what it is dated, None: now."""
    fonts()
    file = io.BytesIO()
    with shown_in(setup.machine.unit):
        page = Canvas(file, pagesize=A4, pageCompression=1)
        page.setTitle(f"{setup.machine.name}: tools")
        tools = sorted(setup.tools, key=lambda tool: tool.number)
        # What holds each tool is drawn as it is run: the last part is the tool itself.
        held = {entry.number: entry.parts[:-1] for entry in Scene.of(nominal_world(setup)).tools}
        scale = _scale(setup, held)
        pages = max(1, -(-len(tools) // ROWS))
        for number in range(pages):
            _head(page, setup, number + 1, pages, when or datetime.now())
            for row, tool in enumerate(tools[number * ROWS : (number + 1) * ROWS]):
                _tool(page, setup, tool, held[tool.number], HEIGHT - EDGE - HEAD - row * _row_height(), scale)
            if not tools:
                page.setFont(PLAIN, 11)
                page.drawString(EDGE, HEIGHT - EDGE - HEAD - 20, "There are no tools yet.")
            page.showPage()
        page.save()
    return file.getvalue()


def _row_height() -> float:
    return (HEIGHT - 2 * EDGE - HEAD) / ROWS


def _scale(setup: Setup, held: dict[int, tuple[StackPart, ...]]) -> float:
    """Points a mm, the same for every tool, so that they can be compared: the longest and the widest have room."""
    parts = [part for parts in held.values() for part in parts]
    longest = max((tool.whole_length for tool in setup.tools), default=100.0)
    above = max((part.high for part in parts), default=0.0)
    widest = max([20.0, *(tool.diameter for tool in setup.tools), *(2 * part.radius for part in parts)])
    return min((_row_height() - 44) / (longest + above), (DRAWN - 74) / widest)


def _head(page: Canvas, setup: Setup, number: int, pages: int, when: datetime) -> None:
    page.setFont(BOLD, 15)
    page.drawString(EDGE, HEIGHT - EDGE - 12, f"{setup.machine.name}: tools")
    page.setFont(PLAIN, 9)
    reported = f"{len(setup.tools)} tools, {when:%Y-%m-%d %H:%M}, page {number} of {pages}"
    page.drawRightString(WIDTH - EDGE, HEIGHT - EDGE - 12, reported)
    page.drawString(
        EDGE,
        HEIGHT - EDGE - 26,
        f"Lengths in {'inches' if setup.machine.unit == 'inch' else 'mm'}, from the gauge line; drawn to one scale",
    )


def _tool(page: Canvas, setup: Setup, tool: Tool, held: tuple[StackPart, ...], top: float, scale: float) -> None:
    """One tool in its row, whose upper edge is at ``top`` points up the page."""
    page.setLineWidth(0.6)
    page.line(EDGE, top, WIDTH - EDGE, top)
    above = max([0.0, *(part.high for part in held)])
    _drawing(page, tool, held, EDGE + DRAWN / 2 + 10, top - 16 - above * scale, scale)
    x, y = EDGE + DRAWN + 16, top - 18
    page.setFont(BOLD, 12)
    page.drawString(x, y, _fitted(f"T{tool.number}  {tool.name}", BOLD, 12, WIDTH - EDGE - x)[0])
    page.setFont(PLAIN, 9)
    for index, (name, value) in enumerate(_lines(setup, tool)):
        column, row = divmod(index, MOST_LINES)
        left, below = x + column * 168, y - 18 - row * LINE
        page.drawString(left, below, name)
        page.drawRightString(left + 152, below, value)
    if tool.notes:
        for index, line in enumerate(reversed(_fitted(tool.notes, PLAIN, 8, WIDTH - EDGE - x)[:MOST_NOTES])):
            page.setFont(PLAIN, 8)
            page.drawString(x, top - _row_height() + 6 + index * 10, line)


MOST_LINES, MOST_NOTES = 8, 2


def _fitted(text: str, font: str, size: float, width: float) -> list[str]:
    """A text in lines that are no wider, points; where it does not go on in a line of its own, "…" tells that there is more."""
    lines = [str(line) for line in simpleSplit(text, font, size, width)] or [""]
    kept = MOST_NOTES if font == PLAIN else 1
    if len(lines) > kept:
        lines = [*lines[: kept - 1], f"{lines[kept - 1][:-1]}…"]
    return lines


def _lines(setup: Setup, tool: Tool) -> Iterator[tuple[str, str]]:
    """What is known of a tool, in words and with units."""
    yield "type", tool.type
    yield "pocket", str(tool.pocket or "none")
    yield "diameter", with_unit(tool.diameter)
    yield "length", with_unit(tool.length)
    if tool.wear:
        yield "wear", with_unit(tool.wear)
    yield "stick-out", with_unit(tool.stick_out)
    optional = (("cutting length", tool.cutting_length), ("corner radius", tool.corner_radius))
    yield from ((name, with_unit(value)) for name, value in optional if value is not None)
    if tool.angle_deg is not None:
        yield "angle", f"{tool.angle_deg:g}°"
    if tool.flutes is not None:
        yield "flutes", str(tool.flutes)
    if tool.greatest_speed is not None:
        yield "greatest speed", f"{tool.greatest_speed:.0f} rev/min"
    if tool.collar_scatter is not None:
        yield "stop collar, scatter", with_unit(tool.collar_scatter)
    found = tool_cutting(setup, tool)
    for name, value, unit, decimals in (
        ("speed", found.speed, "rev/min", 0),
        ("surface speed", found.surface_speed, "m/min", 1),
        ("feed", found.feed, "mm/min", 0),
        ("chip load", found.chip_load, "mm", 4),
    ):
        if value is not None:
            by, shown = shown_unit(unit)
            yield name, f"{value / by:.{decimals}f} {shown}"


def _drawing(page: Canvas, tool: Tool, held: tuple[StackPart, ...], middle: float, gauge: float, scale: float) -> None:
    """The tool hanging from the gauge line at ``gauge`` points, with its length and diameter as dimensions."""
    page.setLineWidth(0.4)
    page.setDash(6, 2)
    page.line(middle - 60, gauge, middle + 60, gauge)
    page.setDash()
    page.setLineWidth(0.9)
    for part in held:
        half = part.radius * scale
        page.rect(middle - half, gauge + part.low * scale, 2 * half, (part.high - part.low) * scale)
    path = page.beginPath()
    for index, (x, z) in enumerate(outline(tool)):
        (path.lineTo if index else path.moveTo)(middle + x * scale, gauge - z * scale)
    path.close()
    page.drawPath(path)
    _dimensions(page, tool, middle, gauge, scale)


def _dimensions(page: Canvas, tool: Tool, middle: float, gauge: float, scale: float) -> None:
    tip, left = gauge - tool.whole_length * scale, middle - 62
    page.setLineWidth(0.3)
    page.line(left, gauge, left, tip)
    page.line(left - 3, gauge, left + 3, gauge)
    page.line(left - 3, tip, middle, tip)
    page.setFont(PLAIN, 8)
    page.saveState()
    page.translate(left - 3, (gauge + tip) / 2)
    page.rotate(90)
    page.drawCentredString(0, 0, in_unit(tool.whole_length))
    page.restoreState()
    page.drawCentredString(middle, tip - 11, f"Ø {in_unit(tool.diameter)}")
