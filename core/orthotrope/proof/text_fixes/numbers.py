"""Numbers that are not what they should be: a feed, a distance, a radius or what the Setup has."""

import re
from collections.abc import Iterator

from orthotrope.errors import InputError
from orthotrope.proof.case import Case
from orthotrope.proof.findings import Finding
from orthotrope.proof.text_fixes.trying import TEXT_FIXES, TextChange
from orthotrope.proof.touching import WIDEST
from orthotrope.setup.keys import at
from orthotrope.units import MM_PER_INCH

NUMBER = re.compile(r"(?<![#\d.])-?(?:\d+\.?\d*|\.\d+)")
SIGNED = re.compile(r"([-+])(\s*)(\d+\.?\d*|\.\d+)")
FEED = re.compile(r"F\s*(\d+\.?\d*)", re.IGNORECASE)
LIFT = re.compile(r"(Z\s*)(\d+\.?\d*)", re.IGNORECASE)

FAR = 12
"""Lines before a finding's that are looked at: where what it sets is worked out."""


def _shown(value: float, by: float = 1.0) -> str:
    return f"{round(value / by, 5):g}"


def _code(line: str) -> str:
    """A line without its remark."""
    return re.split(r"[(;]", line, maxsplit=1)[0]


def _feeds(case: Case, line: int, text: list[str], feed: float) -> Iterator[TextChange]:
    """The feed in a line, or the one that holds there: given in either unit."""
    if not FEED.search(_code(text[line - 1])):  # only this move's: the others keep theirs
        yield from (TextChange(line, 1, (_with_feed(text[line - 1], feed, by),)) for by in (1.0, MM_PER_INCH))
    for number in range(line, max(0, line - FAR), -1):
        old = text[number - 1]
        found = FEED.search(_code(old))
        if found:
            for by in (1.0, MM_PER_INCH):
                yield TextChange(number, 1, (f"{old[: found.start(1)]}{_shown(feed, by)}{old[found.end(1) :]}",))
            return


def _with_feed(line: str, feed: float, by: float) -> str:
    """A line with a feed, before its remark."""
    code = _code(line).rstrip()
    return f"{code} F{_shown(feed, by)}{line[len(code) :]}"


def _measuring(case: Case) -> list[float]:
    setup, held = case.setup, case.call.from_tool
    if setup is None:
        return []
    probes = [probe.measure_feed for probe in setup.probes if probe.tool == held]
    return [*probes, *(setter.measure_feed for setter in setup.setters)]


@TEXT_FIXES.register("touch-feed-missing")
def no_feed(case: Case, text: list[str], finding: Finding) -> Iterator[TextChange]:
    """The Setup's measuring feed."""
    line = finding.line or 1
    for feed in _measuring(case):
        yield from (TextChange(line, 1, (_with_feed(text[line - 1], feed, by),)) for by in (1.0, MM_PER_INCH))


@TEXT_FIXES.register("single-touch")
def too_fast(case: Case, text: list[str], finding: Finding) -> Iterator[TextChange]:
    """The Setup's measuring feed."""
    for feed in _measuring(case):
        yield from _feeds(case, finding.line or 1, text, feed)


@TEXT_FIXES.register("value-differs")
def other_value(case: Case, text: list[str], finding: Finding) -> Iterator[TextChange]:
    """The Setup's own value in place of one of the numbers, in the line or where it is worked out."""
    if case.setup is None or not finding.quantity or not finding.line:
        return
    try:
        value = at(case.setup.as_json(), finding.quantity)
    except InputError:
        return
    if not isinstance(value, int | float):
        return
    if finding.quantity.endswith("feed"):
        yield from _feeds(case, finding.line, text, value)
        return
    for line in range(finding.line, max(0, finding.line - FAR), -1):
        old = text[line - 1]
        for found in NUMBER.finditer(_code(old)):
            for new in {_shown(value), _shown(-value)} if "." in found[0] or abs(float(found[0])) > 1 else ():
                yield TextChange(line, 1, (f"{old[: found.start()]}{new}{old[found.end() :]}",))


@TEXT_FIXES.register("lift-unequal")
def lift(case: Case, text: list[str], finding: Finding) -> Iterator[TextChange]:
    """As far up as it goes down: the last lift by what is missing in it."""
    run = case.main
    ways = [segment.end[2] - segment.start[2] for segment in run.trace.segments]
    for line in range(finding.line or 1, 0, -1):
        old = text[line - 1]
        found = LIFT.search(_code(old))
        if found and "G53" not in old:
            for by in (1.0, MM_PER_INCH):
                more = float(found[2]) - sum(ways) / by
                yield TextChange(line, 1, (f"{old[: found.start(2)]}{_shown(more)}{old[found.end(2) :]}",))
            return


@TEXT_FIXES.register("offset-off")
@TEXT_FIXES.register("radius-wrong-side")
def other_side(case: Case, text: list[str], finding: Finding) -> Iterator[TextChange]:
    """The sign of a number turned round, in the line or where what it sets is worked out."""
    line = finding.line or 1
    for number in range(line, max(0, line - FAR), -1):
        old = text[number - 1]
        for found in SIGNED.finditer(_code(old)):
            if float(found[3]) > WIDEST:
                continue  # no radius: it is a place
            sign = "-" if found[1] == "+" else "+"
            yield TextChange(number, 1, (f"{old[: found.start(1)]}{sign}{old[found.end(1) :]}",))


@TEXT_FIXES.register("radius-missing")
def no_radius(case: Case, text: list[str], finding: Finding) -> Iterator[TextChange]:
    """The tip's radius, on the side where it belongs."""
    line, probes = finding.line or 1, case.setup.probes if case.setup else ()
    radii = [probe.effective_diameter / 2 for probe in probes if probe.effective_diameter]
    old = text[line - 1]
    for found in re.finditer(r"[XY]\s*\[", _code(old), re.IGNORECASE):
        end = _closing(old, found.end() - 1)
        for radius in radii:
            for sign in "+-":
                yield TextChange(line, 1, (f"{old[:end]} {sign} {_shown(radius)}{old[end:]}",))


def _closing(line: str, opening: int) -> int:
    """Where the bracket that opens there is closed."""
    depth = 0
    for place in range(opening, len(line)):
        depth += {"[": 1, "]": -1}.get(line[place], 0)
        if depth == 0:
            return place
    return len(line)
