"""Single edits of a program's text: what a hand slips at."""

import itertools
import re
from collections.abc import Callable, Iterable, Iterator
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
WORD_NUMBER = re.compile(r"([XYZFPSHDL])(-?\d+\.?\d*)")
SIGN = re.compile(r" ([+-]) ")


New = tuple[str, list[str], int]
"""How a line is edited, the lines in its place, and how many lines they replace."""


def edits(text: str) -> Iterator[Edit]:
    """All edits of a text, none twice, comments and messages left alone."""
    return _made(text, lambda lines, index: (*_whole(lines, index), *((h, [n], 1) for h, n in _within(lines[index]))))


def wider(text: str) -> Iterator[Edit]:
    """Those that :func:`edits` has not, many times as many: lines twice or later, labels, parameters and numbers of the same text in one
    another's place, digits swapped, other sizes, words lost and put in, code in a remark, decimals and ABS lost, the position where it
    stands for the latched one, modes over some lines, and a number changed wherever it stands."""
    labels = re.findall(r"^N(\d+)", text, re.MULTILINE)
    parameters = sorted(set(PARAMETER.findall(text)), key=int)
    numbers: dict[str, set[str]] = {}
    for line in text.split("\n"):
        for letter, number in WORD_NUMBER.findall(_code(line)):
            numbers.setdefault(letter, set()).add(number)

    def within(line: str) -> Iterator[tuple[str, str]]:
        code = _code(line)
        for found in re.finditer(r"GOTO (\d+)", code):
            yield from (("another label", _put(line, found, 1, label)) for label in labels)
        for found in PARAMETER.finditer(code):
            yield from (("another parameter", _put(line, found, 1, other)) for other in parameters)
        for found in WORD_NUMBER.finditer(code):
            yield from (("another number", _put(line, found, 2, other)) for other in sorted(numbers[found[1]]))
        for found in NUMBER.finditer(code):
            for by in (0.4, -0.4, 1.5, -1.5, 12.0, -12.0):
                yield f"{by:+g}", _put(line, found, 0, f"{float(found[0]) + by:g}")
            yield "ten times", _put(line, found, 0, f"{float(found[0]) * 10:g}")
            yield from (("digits swapped", _put(line, found, 0, other)) for other in _swapped(found[0]))

    def both(lines: list[str], index: int) -> Iterator[New]:
        yield from _later(lines, index)
        yield from _over_a_region(lines, index)
        yield from ((how, [new], 1) for how, new in within(lines[index]))
        yield from ((how, [new], 1) for how, new in _words(lines[index]))

    yield from _made(text, both)
    for number in sorted(
        {found[0] for line in text.split("\n") for found in NUMBER.finditer(_code(line)) if "." in found[0]}
    ):
        yield from _everywhere(text, number)


def _everywhere(text: str, number: str) -> Iterator[Edit]:
    """A number changed in all lines alike: what is consistent, and wrong."""
    lines = text.split("\n")
    places = [index for index, line in enumerate(lines) if any(f[0] == number for f in NUMBER.finditer(_code(line)))]
    for how, other in (("other sign", -float(number)), ("3 more", float(number) + 3)) if len(places) > 1 else ():
        new = list(lines)
        for index in places:
            for found in reversed([f for f in NUMBER.finditer(_code(lines[index])) if f[0] == number]):
                new[index] = f"{new[index][: found.start()]}{other:g}{new[index][found.end() :]}"
        yield Edit(
            places[0] + 1, f"{how} wherever it stands", lines[places[0]].strip(), new[places[0]].strip(), "\n".join(new)
        )


PUT_IN = ("G90", "G91", "G20", "G49", "M5", "M11", "M48", "G92 Z0", "G4 P0")
"""Words that a block gets in front, in a line of their own."""

REGION = 6
"""Lines that a mode is changed over."""


def _over_a_region(lines: list[str], index: int) -> Iterator[New]:
    yield from ((f"{word} put in", [word, lines[index]], 1) for word in PUT_IN)
    region = lines[index : index + REGION]
    for one, other in (("G90", "G91"), ("G91", "G90"), ("G0", "G1"), ("G53 ", ""), ("GOTO", "(GOTO)")):
        changed = [re.sub(rf"(?<![A-Z]){one}(?!\d)", other, line) for line in region]
        if sum(a != b for a, b in zip(region, changed, strict=True)) > 1:
            yield f"{one} for {other or 'nothing'} over {REGION} lines", changed, len(region)


def _words(line: str) -> Iterator[tuple[str, str]]:
    code = _code(line)
    for found in re.finditer(r"(?<![A-Z#\[])[A-Z](?:-?\d+\.?\d*|#\d+|\[.*?\](?= |$))", code):
        yield f"{found[0]} lost", line[: found.start()] + line[found.end() :]
        if found.start():
            yield "the rest in a remark", f"{line[: found.start()]}({code[found.start() :].strip()})"
    if "ABS[" in code:
        yield "ABS lost", line.replace("ABS[", "[")
    for found in re.finditer(r"#506(\d)", code):
        yield "where it stands for where it was latched", f"{line[: found.start()]}#502{found[1]}{line[found.end() :]}"
    for found in NUMBER.finditer(code):
        if "." in found[0]:
            yield "decimals lost", f"{line[: found.start()]}{found[0].split('.')[0]}{line[found.end() :]}"


def _made(text: str, of: Callable[[list[str], int], Iterable[New]]) -> Iterator[Edit]:
    lines = text.split("\n")
    known = {text}
    for index, line in enumerate(lines):
        if not _code(line).strip() or line.strip() == "%":
            continue
        for how, new, goes in of(lines, index):
            made = "\n".join([*lines[:index], *new, *lines[index + goes :]])
            if made not in known:
                known.add(made)
                yield Edit(index + 1, how, line.strip(), " | ".join(part.strip() for part in new), made)


def _whole(lines: list[str], index: int) -> Iterator[New]:
    yield "left out", [], 1
    if index + 1 < len(lines) and _code(lines[index + 1]).strip():
        yield "exchanged with the next", [lines[index + 1], lines[index]], 2


def _later(lines: list[str], index: int) -> Iterator[New]:
    yield "twice", [lines[index]] * 2, 1
    for by in (2, 3, 5):
        if index + by < len(lines) and _code(lines[index + by]).strip():
            yield f"{by} lines later", [*lines[index + 1 : index + by + 1], lines[index]], by + 1


def _put(line: str, found: re.Match[str], group: int, other: str) -> str:
    return f"{line[: found.start(group)]}{other}{line[found.end(group) :]}"


def _swapped(number: str) -> Iterator[str]:
    """Two digits next to one another swapped, of a number with three or more."""
    at = [index for index, sign in enumerate(number) if sign.isdigit()]
    for one, other in itertools.pairwise(at if len(at) >= 3 else []):
        signs = list(number)
        signs[one], signs[other] = signs[other], signs[one]
        yield "".join(signs)


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
        for how, number in _numbers(value, before):
            yield how, f"{line[: found.start()]}{number:g}{line[found.end() :]}"
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
