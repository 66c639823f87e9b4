"""Reading text: any bytes at all give blocks or faults with line and column, never an exception.

Most lines of most programs are words with plain numbers. They take a fast path: one split by a regular expression gives
their letters and numbers; which combinations of letters are sound is remembered by the string of the letters. Every
other line is squeezed (blanks and comments taken out, capitals) and parsed with columns."""

import re
from array import array
from collections.abc import Callable, Iterable, Iterator, Sequence
from functools import lru_cache
from pathlib import Path
from typing import TextIO

from orthotrope.packed import PIECE, Packed
from orthotrope.program.blocks import AnyBlock, Block, End, If, Plain, Program, Setting, While, Word
from orthotrope.program.expressions import COMMENT, NormalisedLine, compiled, parse_bracket, parse_value
from orthotrope.program.faults import ProgramError
from orthotrope.program.words import M_GROUP_OF, double_group
from orthotrope.sequence.values import Named, Number, Parameter

LONGEST_LINE = 10_000
"""Characters; RS-274 has 256, and a longer line is no block that a control takes."""

_LONGEST_PLAIN = 300
"""Shorter lines hold no number that is too large for a float."""

_DIGITS = 8
"""Of an N or O number at most."""

_PAIRS = re.compile(r"([A-Za-z])([-+]?[0-9]+\.?[0-9]*|[-+]?\.[0-9]+)").split
_PLAIN_LETTERS = frozenset("FGHIJKLMPQRSTXYZABCD")


def read_text(text: str | bytes) -> Program:
    """Read a whole program."""
    if isinstance(text, bytes):
        text = text.decode("utf-8", errors="replace")
    if "\r" in text:
        text = text.replace("\r\n", "\n").replace("\r", "\n")
    return _read(_lines(text))


TOLD_EVERY = 5000
"""Lines of a file after which it is reported how far it was read."""


def read_file(path: Path, tell: Callable[[float], None] | None = None) -> Program:
    """Read a whole program as it lies in a file, of whatever size: memory stays flat. ``tell`` gets the share of it that was read,
    0 to 1, again and again.

    Raises:
        OSError: where it can't be opened.
    """
    with path.open(encoding="utf-8", errors="replace") as file:  # which takes every end of a line for one
        lines = (line.removesuffix("\n") for line in file)
        return _read(lines if tell is None else _reported(lines, file, path.stat().st_size, tell))


def _reported(lines: Iterable[str], file: TextIO, size: int, tell: Callable[[float], None]) -> Iterator[str]:
    for number, line in enumerate(lines):
        if number % TOLD_EVERY == 0:
            tell(file.buffer.tell() / max(size, 1))  # the text's own place is not reported while it is gone through
        yield line


def _read(lines: Iterable[str]) -> Program:
    blocks: Packed[AnyBlock] = Packed()
    faults: list[ProgramError] = []
    special: list[tuple[int, Block]] = []
    labelled = array("q"), array("q")
    for item in read_lines(lines):
        if type(item) is Plain:
            if item.label is not None:
                labelled[0].append(len(blocks))
                labelled[1].append(item.label)
            blocks.append(item)
        elif isinstance(item, Block):
            special.append((len(blocks), item))
            blocks.append(item)
        elif isinstance(item, ProgramError):
            faults.append(item)
    return _linked(blocks if len(blocks) > PIECE else tuple(blocks), special, zip(*labelled, strict=True), faults)


def _lines(text: str) -> Iterator[str]:
    """The lines, one at a time: all at once they would take more than the text."""
    at = 0
    while (end := text.find("\n", at)) >= 0:
        yield text[at:end]
        at = end + 1
    yield text[at:]


def read_lines(lines: Iterable[str]) -> Iterator[AnyBlock | ProgramError]:
    """Read lines one by one, as they come; memory stays flat. Empty lines give nothing."""
    split, sound, make = _PAIRS, _Combinations(), tuple.__new__
    percents = 0
    for number, line in enumerate(lines, 1):
        parts = split(line)
        if len(parts) > 1:
            label = None
            numbered = parts[1] in "Nn" and len(parts) > 4 and not parts[0].strip()
            if numbered and parts[2].isdigit() and len(parts[2]) <= _DIGITS:
                label = int(parts[2])
                del parts[:3]
            letters = "".join(parts[1::3])
            if sound[letters] and not "".join(parts[::3]).strip() and len(line) < _LONGEST_PLAIN:
                values = tuple(map(float, parts[2::3]))
                if sound[letters] == 1 or not _doubled(letters, values):
                    yield make(Plain, (number, letters.upper(), values, label))
                    continue
        stripped = line.strip()
        if not stripped:
            continue
        if stripped == "%":
            percents += 1
            if percents == 2:
                return
            continue
        try:
            block = _parsed(number, line) if len(line) < _REMEMBERED else _Parser(number, line).block()
        except ProgramError as fault:
            yield fault
            continue
        if block is not None:
            yield block


_REMEMBERED = 200
"""Shorter lines are remembered as they were parsed: a text that is written again for another number has nearly all of them again."""


@lru_cache(maxsize=8000)
def _parsed(number: int, line: str) -> Block | None:
    return _Parser(number, line).block()


class _Combinations(dict[str, int]):
    """String of letters → 0: not for the fast path, 1: sound, 2: sound if its G and M words don't clash."""

    def __missing__(self, letters: str) -> int:
        upper = letters.upper()
        others = [letter for letter in upper if letter not in "GM"]
        fit = set(upper) <= _PLAIN_LETTERS and len(set(others)) == len(others)
        several = upper.count("G") > 1 or upper.count("M") > 1
        answer = (2 if several else 1) if fit else 0
        if len(self) < 5000:
            self[letters] = answer
        return answer


def _doubled(letters: str, values: tuple[float, ...]) -> str | None:
    """The sentence for two words of one modal group in a block, or None."""
    upper = letters.upper()
    if group := double_group([value for letter, value in zip(upper, values, strict=True) if letter == "G"]):
        return f"Two G words of one group ({group}) stand in the block."
    seen = set()
    for letter, value in zip(upper, values, strict=True):
        if letter == "M" and (m_group := M_GROUP_OF.get(int(value))):
            if m_group in seen:
                return f"Two M words of one group ({m_group}) stand in the block."
            seen.add(m_group)
    return None


_WHOLE = re.compile(rf"[0-9]{{1,{_DIGITS}}}(?![0-9.])")
_CONTROL = re.compile(r"IF(?=\[)|GOTO|WHILE(?=\[)|DO(?=\d)|END(?=\d)")


class _Parser:
    """One line that is not plain."""

    def __init__(self, number: int, line: str):
        if len(line) > LONGEST_LINE:
            raise ProgramError(number, LONGEST_LINE, f"The line has more than {LONGEST_LINE} characters.")
        self.number, self.line = number, line
        self.comments: list[str] = []
        bare = line
        if "(" in line or ";" in line or ")" in line:
            bare = COMMENT.sub(self._comment, line)
            if "(" in bare or ")" in bare:
                raise self._bad_comment()
        text = "".join(bare.split())
        upper = text.upper()
        self.source = NormalisedLine(number, line, upper if len(upper) == len(text) else text)

    def _comment(self, comment: re.Match[str]) -> str:
        self.comments.append((comment[1] if comment[1] is not None else comment[2]).strip())
        return ""

    def _bad_comment(self) -> ProgramError:
        """What is wrong with the brackets of comments, at the first that does not fit."""
        opened = 0
        for column, sign in enumerate(self.line, 1):
            if sign == "(":
                if opened:
                    return ProgramError(self.number, column, "A comment opens inside a comment.")
                opened = column
            elif sign == ")":
                if not opened:
                    return ProgramError(self.number, column, "A comment closes that was not opened.")
                opened = 0
            elif sign == ";" and not opened:
                break
        return ProgramError(self.number, opened or 1, "The comment that opens here is not closed.")

    def block(self) -> Block | None:
        source = self.source
        skip = source.peek() == "/"
        if skip:
            source.at += 1
        label = self._leading("N")
        if source.peek() == "/":
            source.at += 1
            skip = True
        program = self._leading("O")
        control = self._control()
        words: list[Word] = []
        settings: list[Setting] = []
        while source.peek():
            if source.peek() == "#":
                settings.append(self._setting())
            else:
                words.append(self._word())
            if control is not None:
                raise source.fail("A condition, jump or loop stands alone in its block.", len(source.text) - 1)
        self._check(words)
        if not (source.text or self.comments):
            return None
        return Block(self.number, label, program, skip, tuple(words), tuple(settings), control, tuple(self.comments))

    def _leading(self, letter: str) -> int | None:
        source = self.source
        if source.peek() != letter:
            return None
        match = _WHOLE.match(source.text, source.at + 1)
        if not match:
            raise source.fail(f"{letter} wants a whole number of at most eight digits.")
        source.at = match.end()
        return int(match[0])

    def _control(self) -> If | While | End | None:
        source = self.source
        match = _CONTROL.match(source.text, source.at)
        if not match:
            return None
        place = source.place
        source.at = match.end()
        match match[0]:
            case "IF":
                condition = parse_bracket(source)
                if source.text.startswith("GOTO", source.at):
                    source.at += 4
                    goto = parse_value(source)
                    return If(condition, compiled(condition), goto, compiled(goto), None, place)
                if source.text.startswith("THEN", source.at):
                    source.at += 4
                    return If(condition, compiled(condition), None, None, self._setting(), place)
                raise source.fail("GOTO or THEN is expected after the condition.")
            case "GOTO":
                goto = parse_value(source)
                return If(None, None, goto, compiled(goto), None, place)
            case "WHILE":
                condition = parse_bracket(source)
                if not source.text.startswith("DO", source.at):
                    raise source.fail("DO with a number is expected after the condition.")
                source.at += 2
                return While(condition, compiled(condition), self._loop_number(), place)
            case "DO":
                return While(None, None, self._loop_number(), place)
            case "END":
                return End(self._loop_number(), place)
        raise source.fail("A condition is expected here.")

    def _loop_number(self) -> int:
        source = self.source
        match = re.compile(r"\d{1,4}").match(source.text, source.at)
        if not match:
            raise source.fail("A loop wants a number.")
        source.at = match.end()
        return int(match[0])

    def _setting(self) -> Setting:
        source = self.source
        place = source.place
        if source.peek() != "#":
            raise source.fail("A parameter to set is expected here, such as #100.")
        target = parse_value(source)
        source.expect("=", "An = is expected after the parameter.")
        value = parse_value(source)
        index = compiled(target.number) if isinstance(target, Parameter) else None
        assert isinstance(target, Parameter | Named)
        return Setting(target, value, place, compiled(value), index)

    def _word(self) -> Word:
        source = self.source
        letter, place = source.peek(), source.place
        if not ("A" <= letter <= "Z"):
            raise source.fail(f"'{letter}' does not begin a word.")
        if letter in "NO":
            raise source.fail(f"{letter} stands at the beginning of a block only.")
        source.at += 1
        value = parse_value(source)
        return Word(letter, value, place, compiled(value))

    def _check(self, words: list[Word]) -> None:
        seen: set[str] = set()
        several = False
        for word in words:
            if word.letter in seen and word.letter not in "GM":
                raise ProgramError(self.number, word.place.column, f"{word.letter} stands twice in the block.")
            several = several or word.letter in seen
            seen.add(word.letter)
        if not several:
            return
        plain = [word for word in words if isinstance(word.value, Number)]
        letters = "".join(word.letter for word in plain)
        values = tuple(word.value.value for word in plain if isinstance(word.value, Number))
        for count in range(2, len(plain) + 1):
            if what := _doubled(letters[:count], values[:count]):
                raise ProgramError(self.number, plain[count - 1].place.column, what)


def _linked(
    blocks: Sequence[AnyBlock],
    special: list[tuple[int, Block]],
    labelled: Iterable[tuple[int, int]],
    faults: list[ProgramError],
) -> Program:
    """The program with its labels, subprograms and loops found; a loop without its other end is a fault.

    ``labelled``: index and N number of plain blocks. Most programs number every line and jump to none."""
    labels: dict[int, list[int]] = {}
    # A jump may go to any number that is worked out; without one, 40,000 line numbers are kept for nothing.
    if any(isinstance(block.control, If) and block.control.goto is not None for _, block in special):
        for index, label in labelled:
            labels.setdefault(label, []).append(index)
    programs: dict[int, int] = {}
    loops: dict[int, int] = {}
    opened: list[tuple[int, int, While]] = []
    for index, block in special:
        if block.label is not None:
            labels.setdefault(block.label, []).append(index)
        if block.program is not None:
            programs.setdefault(block.program, index)
        if isinstance(block.control, While):
            opened.append((index, block.line, block.control))
        elif isinstance(block.control, End):
            if opened and opened[-1][2].number == block.control.number:
                start, _, _ = opened.pop()
                loops[start], loops[index] = index, start
            else:
                number = block.control.number
                faults.append(
                    ProgramError(
                        block.line, block.control.place.column, f"END{number} has no DO{number} that it closes."
                    )
                )
    for _, line, control in opened:
        faults.append(ProgramError(line, control.place.column, f"DO{control.number} has no END{control.number}."))
    for at in labels.values():
        at.sort()
    faults.sort(key=lambda fault: (fault.line, fault.column))
    return Program(blocks, tuple(faults), {n: tuple(at) for n, at in labels.items()}, programs, loops)
