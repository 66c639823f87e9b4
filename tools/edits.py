"""Single edits of a program's text: what a hand slips at."""

import re
from collections.abc import Iterator
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Edit:
    """An edit of ``line`` (counted from 1): ``how``, the line ``before`` and ``after`` it, and the whole ``text`` with it."""

    line: int
    how: str
    before: str
    after: str
    text: str


EXCHANGED = {
    "G0": ("G1",), "G1": ("G0",), "G53": ("",), "G90": ("G91",), "G91": ("G90",), "G20": ("G21",), "G21": ("G20",),
    "G38.2": ("G1", "G38.3"), "G38.3": ("G1", "G38.2"), "G43": ("G49",), "G49": ("",), "G17": ("G18",), "G94": ("G93",),
    "M3": ("M4",), "M4": ("M3",), "M5": ("M3",), "M10": ("M11",), "M11": ("M10",), "M48": ("M49",), "M49": ("M48",),
    "M19": ("",), "M0": ("",), "M30": ("M99", ""), "M99": ("M30", ""), "EQ": ("NE",), "NE": ("EQ",), "GT": ("LT",), "LT": ("GT",),
    "GE": ("LT",), "LE": ("GT",), "AND": ("OR",), "OR": ("AND",), "L20": ("L2",), "L2": ("L20",),
}  # fmt: skip
"""Word → what it is taken for."""

WORD = re.compile(r"[A-Z]+\d*(?:\.\d+)?")
NUMBER = re.compile(r"(?<![\d#.A-Z])-?\d+\.?\d*|(?<=[XYZFPSRIJK])-?\d+\.?\d*")
PARAMETER = re.compile(r"#(\d+)")
SIGN = re.compile(r" ([+-]) ")


def edits(text: str) -> Iterator[Edit]:
    """All edits of a text, none twice, comments and messages left alone."""
    lines = text.split("\n")
    known = {text}
    for index, line in enumerate(lines):
        for how, new in (*_whole(lines, index), *((how, [new]) for how, new in _within(line))):
            goes = 2 if how == "exchanged with the next" else 1
            made = "\n".join([*lines[:index], *new, *lines[index + goes :]])
            if made not in known:
                known.add(made)
                yield Edit(index + 1, how, line.strip(), " | ".join(part.strip() for part in new), made)


def _whole(lines: list[str], index: int) -> Iterator[tuple[str, list[str]]]:
    line = lines[index]
    if not _code(line).strip() or line.strip() == "%":
        return
    yield "left out", []
    if index + 1 < len(lines) and _code(lines[index + 1]).strip():
        yield "exchanged with the next", [lines[index + 1], line]


def _code(line: str) -> str:
    """A line's words: its comment is blanked, so that places stay."""
    return re.sub(r"\([^)]*\)", lambda found: " " * len(found[0]), line)


def _within(line: str) -> Iterator[tuple[str, str]]:
    code = _code(line)
    for found in WORD.finditer(code):
        for other in EXCHANGED.get(found[0], ()):
            yield f"{found[0]} for {other or 'nothing'}", line[: found.start()] + other + line[found.end() :]
    for found in NUMBER.finditer(code):
        value = float(found[0])
        before = code[found.start() - 1] if found.start() else ""
        for how, other in _numbers(value, before):
            yield how, f"{line[: found.start()]}{other:g}{line[found.end() :]}"
    for found in PARAMETER.finditer(code):
        number = int(found[1])
        yield "the next parameter", f"{line[: found.start(1)]}{number + 1}{line[found.end(1) :]}"
    for found in SIGN.finditer(code):
        other = "-" if found[1] == "+" else "+"
        yield f"{found[1]} for {other}", f"{line[: found.start(1)]}{other}{line[found.end(1) :]}"


def _numbers(value: float, before: str) -> Iterator[tuple[str, float]]:
    if value:
        yield "other sign", -value
    if before in "FS":
        yield "half", value / 2
        yield "double", value * 2
    elif before == "P":
        yield "a tenth", value / 10
        yield "one more", value + 1
    elif value == int(value) and 0 <= value < 50:
        yield "one more", value + 1
    else:
        yield "3 more", value + 3
        yield "3 less", value - 3
        yield "30 less", value - 30
        yield "a digit lost", float(str(int(value))[:-1] or 0) if abs(value) >= 10 else value / 10
