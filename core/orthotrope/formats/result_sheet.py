"""A routine's result on paper: what was found with what it is uncertain by, and where each touch was on the plan, magnified; a page
of A4 as PDF."""

import io
from collections.abc import Mapping, Sequence
from datetime import datetime

from reportlab.lib.pagesizes import A4
from reportlab.pdfgen.canvas import Canvas

from orthotrope.formats.paper import BOLD, EDGE, HEIGHT, PLAIN, WIDTH, fonts
from orthotrope.sequence.probing.registry import Aim
from orthotrope.sequence.probing.summing import Quantity, Result
from orthotrope.setup import Setup
from orthotrope.setup.routines import Routine
from orthotrope.units import in_column, with_unit

COLUMNS = ("", "found", "± (95 %)", "expected", "off by", "may be", "last time", "moved by")
LINE = 17.0
PLAN = 300.0
"""Points; how high the plan may be, and below how long the longest deviation is drawn."""
LONGEST = 40.0


def as_pdf(
    setup: Setup,
    routine: Routine,
    found: Result,
    touches: Sequence[tuple[Aim, float]],
    last: Mapping[str, float],
    by: str,
    when: datetime | None = None,
) -> bytes:
    """The sheet. ``touches``: each with how far along its way it was off what was expected, mm; ``last``: what was found the last
    time, by the quantity's name; ``by``: whose result it is; ``when``: what it is dated, None: now."""
    fonts()
    file = io.BytesIO()
    page = Canvas(file, pagesize=A4, pageCompression=1)
    page.setTitle(f"{setup.machine.name}: {routine.name}")
    page.setFont(BOLD, 15)
    page.drawString(EDGE, HEIGHT - EDGE - 12, f"{setup.machine.name}: {routine.name}")
    page.setFont(PLAIN, 9)
    page.drawRightString(
        WIDTH - EDGE, HEIGHT - EDGE - 12, f"{by}, {when or datetime.now():%Y-%m-%d %H:%M}, page 1 of 1"
    )
    unit = "inches" if setup.machine.unit == "inch" else "mm"
    page.drawString(
        EDGE, HEIGHT - EDGE - 28, f"{routine.kind}, with {routine.probe or 'no probe'}; machine coordinates, {unit}"
    )
    below = _table(page, found, last, HEIGHT - EDGE - 60)
    _plan(page, touches, below - 24)
    page.showPage()
    page.save()
    return file.getvalue()


def _table(page: Canvas, found: Result, last: Mapping[str, float], top: float) -> float:
    """The quantities from ``top`` down, points up the page; returns where it ends."""
    step = (WIDTH - 2 * EDGE) / len(COLUMNS)
    rows = [COLUMNS, *(_row(entry, last.get(entry.name)) for entry in found.quantities)]
    for index, row in enumerate(rows):
        y = top - index * LINE
        page.setFont(PLAIN if index else BOLD, 9)
        for column, text in enumerate(row):
            if column:
                page.drawRightString(EDGE + (column + 1) * step, y, text)
            else:
                page.drawString(EDGE, y, text)
        page.setLineWidth(0.3)
        page.line(EDGE, y - 5, WIDTH - EDGE, y - 5)
    y = top - len(rows) * LINE
    zero = "  ".join(f"{axis.upper()} {in_column(value)}" for axis, value in found.zero.items())
    page.setFont(PLAIN, 9)
    for says in (f"Zero: {zero}" if zero else "", found.says):
        if says:
            page.drawString(EDGE, y, says)
            y -= LINE
    return y


def _row(entry: Quantity, last: float | None) -> tuple[str, ...]:
    def shown(value: float) -> str:
        return f"{value:.4f}°".replace("-", "−") if entry.unit == "°" else in_column(value)

    return (
        entry.name.replace("_", " "),
        shown(entry.value),
        shown(entry.half_width_95),
        shown(entry.expected),
        shown(entry.off),
        "" if entry.allowed is None else f"± {shown(entry.allowed)}",
        "" if last is None else shown(last),
        "" if last is None else shown(entry.value - last),
    )


def _plan(page: Canvas, touches: Sequence[tuple[Aim, float]], top: float) -> None:
    """Where the touches were expected, to scale, and from there how far each was off along its way, magnified."""
    xs, ys = [aim.meets[0] for aim, _ in touches], [aim.meets[1] for aim, _ in touches]
    wide, high = max(xs) - min(xs), max(ys) - min(ys)
    scale = min((WIDTH - 2 * EDGE - 160) / max(wide, 1.0), (PLAN - 120) / max(high, 1.0), 8.0)
    middle, centre = (WIDTH / 2, top - PLAN / 2), ((max(xs) + min(xs)) / 2, (max(ys) + min(ys)) / 2)
    most = max([1e-6, *(abs(off) for _, off in touches)])
    page.setFont(PLAIN, 9)
    page.drawString(EDGE, top, f"Plan: from where each touch was expected; the longest line is {with_unit(most)}.")
    for number, (aim, off) in enumerate(touches, 1):
        x = middle[0] + (aim.meets[0] - centre[0]) * scale
        y = middle[1] + (aim.meets[1] - centre[1]) * scale
        dx, dy = (part * off / most * LONGEST for part in (aim.way[0], aim.way[1] + aim.way[2]))
        page.setLineWidth(0.6)
        page.circle(x, y, 3)
        page.setLineWidth(1.6)
        page.line(x, y, x + dx, y + dy)
        page.drawString(x + 7, y + 5, f"{number}: {in_column(off)}")
    for number, (aim, off) in enumerate(touches, 1):
        column, row = divmod(number - 1, 12)
        page.drawString(EDGE + column * 170, top - PLAN - row * 13, f"{number}  {aim.name}  {in_column(off)}")
