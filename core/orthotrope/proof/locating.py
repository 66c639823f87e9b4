"""Where an imported text does otherwise than the one that Orthotrope writes for the same sequence: the cause of what only it does wrong."""

import json
import re
from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from difflib import SequenceMatcher
from functools import lru_cache
from typing import Any, NamedTuple

from orthotrope.errors import OrthotropeError
from orthotrope.machine.run import Run
from orthotrope.machine.trace import BlockState
from orthotrope.program.reader import read_text
from orthotrope.proof.case import Case
from orthotrope.proof.digest import read_by_control
from orthotrope.proof.findings import Finding
from orthotrope.proof.judging import FaultResult
from orthotrope.proof.sequences.registry import SequenceRef, SequenceResult, kind_of
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.keys import at as value_at
from orthotrope.setup.keys import numbers_in, placed
from orthotrope.units import MM_PER_INCH

ALIKE = 0.6
"""The share of lines that two texts have in common from which on one is a version of the other."""

NEAR = 3
"""Lines; a finding that is no further from the difference has its place already."""

MOST_COMPARED = 5_000
"""Lines of a text that is compared; the written ones have hundreds."""

MOST_SHOWN = 3
"""Lines of a difference that are quoted."""


@dataclass(frozen=True, slots=True)
class Difference:
    """What ``has`` in the imported text, from ``line`` on (counted from 1; where nothing is there, the line that follows), in place of what
    the written text ``had``, from the line ``at`` on of those that a control reads (counted from 0)."""

    line: int
    at: int
    has: tuple[str, ...]
    had: tuple[str, ...]

    @property
    def last(self) -> int:
        """The last line of it."""
        return self.line + max(len(self.has), 1) - 1

    def covers(self, line: int) -> bool:
        """Whether a line is in it or within :data:`NEAR`."""
        return self.line - NEAR <= line <= self.last + NEAR

    def __str__(self) -> str:
        has, had = (" · ".join(part[:MOST_SHOWN]) for part in (self.has, self.had))
        if not self.has:
            return f"Before line {self.line} the written text has “{had}”, which is missing"
        if not self.had:
            return f"Line {self.line}, “{has}”, is not in the written text"
        return f"Line {self.line} is “{has}”, in the written text “{had}”"


def differences(imported: str, written: str) -> list[Difference]:
    """Where two texts differ in what a control reads; none where they are not alike (:data:`ALIKE`). Lines that are only numbered otherwise
    are the same."""
    its, ours = _lines(imported), _lines(written)
    if not its or len(its) > MOST_COMPARED:
        return []
    end = its[-1].number
    matcher = _matched(its, ours, r"") or _matched(its, ours, r"^N\d+")
    return [
        Difference(
            its[a].number if a < len(its) else end,
            b,
            tuple(line.shown for line in its[a:to]),
            tuple(line.shown for line in ours[b:until]),
        )
        for what, a, to, b, until in (matcher.get_opcodes() if matcher else ())
        if what != "equal"
    ]


def _matched(its: list["Line"], ours: list["Line"], aside: str) -> "SequenceMatcher[str] | None":
    """The lines of two texts that are alike, beside one another, what fits ``aside`` left out of each; None: they are not alike."""
    one, other = ([re.sub(aside, "", line.code) for line in lines] for lines in (its, ours))
    matcher = SequenceMatcher(None, one, other, autojunk=False)
    return matcher if matcher.quick_ratio() >= ALIKE and matcher.ratio() >= ALIKE else None


class Line(NamedTuple):
    """A line that a control reads something in: its ``number``, its ``code`` without spaces, as all controls read it, and as it is
    ``shown``."""

    number: int
    code: str
    shown: str


def _lines(text: str) -> list[Line]:
    read = (
        (number, " ".join(line.split())) for number, line in enumerate(read_by_control(text.upper()).split("\n"), 1)
    )
    return [Line(number, shown.replace(" ", ""), shown) for number, shown in read if shown not in ("", "%")]


def located(document: dict[str, Any], results: list[SequenceResult], imported: str) -> Iterator[SequenceResult]:
    """The results of an imported text, each finding that the written text has not with the line where the imported one does otherwise; as
    they are where the texts are not alike."""
    setup, of_both = read_setup(document), dict[Key, bool]()
    for result in results:
        found, kind = {*_keys(result)}, kind_of(result.sequence)
        try:
            written = kind.written(setup, result.sequence) if found else ""
        except OrthotropeError:  # there is no written text of it
            written = ""
        every = differences(imported, written) if written else []
        if every and not found <= of_both.keys():
            theirs = {key for its in kind.prove(document, [result.sequence], None, None) for key in _keys(its)}
            of_both |= {key: key in theirs for key in found}
        case = None if not every or all(of_both[key] for key in found) else kind.cases(setup)(result.sequence)
        if case is None:
            yield result
            continue
        first = every[0] if len(every) == 1 else _first(every, case, imported)
        meant = _quantity(json.dumps(document), _Written(written, result.sequence), first) if first else None
        cause = Cause(every, first, meant)
        yield replace(
            result,
            findings=tuple(f if of_both.get(_key(f), True) else cause.of(f) for f in result.findings),
            faults=tuple(
                f if of_both.get(_key(f.finding, f.fault), True) else cause.of_fault(f) for f in result.faults
            ),
        )


Key = tuple[str, str]
"""A check, and the fault under which it has found something."""


def _key(finding: Finding | None, fault: str = "none") -> Key:
    return finding.check if finding else "", fault


def _keys(result: SequenceResult) -> Iterator[Key]:
    """Of all that is wrong."""
    yield from (_key(finding) for finding in result.findings if finding.severity != "note")
    yield from (_key(fault.finding, fault.fault) for fault in result.faults if fault.verdict != "safe")


@dataclass(frozen=True, slots=True)
class Cause:
    """``every`` difference of a text, the ``first`` that changes what is done (None: where nothing is wrong none does), and the Setup's
    ``quantity`` that is written there, where that is known."""

    every: list[Difference]
    first: Difference | None
    quantity: str | None

    def of(self, finding: Finding) -> Finding:
        """The finding with the line of its cause; as it is where it has that already."""
        line = finding.line
        if line is not None and any(entry.covers(line) for entry in self.every):
            compared = finding.quantity if finding.check == "value-differs" else None
            return replace(finding, quantity=compared or self.quantity)
        cause = self.first or min(self.every, key=lambda entry: abs(entry.line - (line or 0)))
        quantity = self.quantity if cause == self.first else None  # the text is the cause, not what it comes to harm at
        shows = f" It shows at line {line}." if line is not None else ""
        return replace(
            finding, message=f"{finding.message}{shows} {cause}: look there first.", line=cause.line, quantity=quantity
        )

    def of_fault(self, result: FaultResult) -> FaultResult:
        """The same of what a fault comes to."""
        if result.finding is None:
            return result
        finding = self.of(result.finding)
        return replace(result, finding=finding, says=finding.message.replace(result.finding.message, result.says))


NUMBER = re.compile(r"(?<![#\w.])-?\d+\.?\d*|(?<=[XYZFSPH])-?\d+\.?\d*")
STEP = 0.5
"""By how much a quantity is changed to see which numbers of the written text follow; a whole number by 1."""


@dataclass(frozen=True, slots=True)
class _Written:
    """A written text, and a sequence that it is written for: of those that have one text any."""

    text: str
    sequence: SequenceRef = field(compare=False)


@lru_cache(maxsize=64)  # all sequences that have one text have the same
def _quantity(document: str, written: _Written, difference: Difference) -> str | None:
    """The quantity that the number follows which the written text has in place of a difference: one that has that value, else any; of
    several the one that the fewest lines follow. None: none does, or no one number is meant."""
    values = _numbers_lost(difference)
    if not values:
        return None
    setup, plain = read_setup(document), json.loads(document)
    factor = MM_PER_INCH if setup.profile.unit == "inch" else 1.0
    equal, others = list[str](), list[str]()
    for where, value in numbers_in(plain):
        near = min(abs(abs(value) - abs(number * by)) for number in values for by in (1.0, factor))
        (equal if near < EQUAL else others).append(where)
    found = (_followed(setup, plain, written.sequence, difference.at, every) for every in (equal, others))
    return next((where for where in found if where), None)


def _followed(setup: Setup, document: dict[str, Any], sequence: SequenceRef, at: int, every: list[str]) -> str | None:
    """Of these quantities the one whose change the line ``at`` follows by the same amount, and the fewest others."""
    written, follow = kind_of(sequence).written, list[tuple[int, str]]()
    before = _lines(written(setup, sequence))
    for where in every:
        value = value_at(document, where)
        try:
            step = 1 if isinstance(value, int) else STEP
            after = _lines(written(read_setup(placed(document, where, value + step)), sequence))
        except OrthotropeError:  # it can't be another there
            continue
        if len(after) == len(before) and _changed_by(before[at].shown, after[at].shown, step):
            follow.append((sum(a.code != b.code for a, b in zip(before, after, strict=True)), where))
    return min(follow)[1] if follow else None


def _changed_by(before: str, after: str, step: float) -> bool:
    """Whether a number of a line has changed by as much, either way, in mm or inches."""
    pairs = zip(NUMBER.findall(before), NUMBER.findall(after), strict=False)
    by = [abs(float(b) - float(a)) for a, b in pairs if a != b]
    return any(min(abs(more - step), abs(more * MM_PER_INCH - step)) < 2 * EQUAL for more in by)


EQUAL = 5e-4
"""mm; a number of a text is a quantity's value within this: its last decimal."""


def _numbers_lost(difference: Difference) -> list[float]:
    """The numbers that one line of the written text has and what stands in its place has not."""
    if len(difference.had) != 1:
        return []
    has = [number for code in difference.has for number in NUMBER.findall(code)]
    lost = [number for number in NUMBER.findall(difference.had[0]) if number not in has]
    return [float(number) for number in lost]


def _first(every: list[Difference], case: Case, imported: str) -> Difference | None:
    """The first difference that changes what is done where everything is as the Setup says; None: none does."""
    program = read_text(imported)
    if not (program.readable and case.program.readable):
        return None
    ours, its = case.main, replace(case, program=program, _runs={}).main
    differing = {line: entry for entry in every for line in range(entry.line, entry.last + 1) if entry.has}
    passed: Difference | None = None
    for mine, other in zip(_effects(ours), _effects(its), strict=False):
        passed = differing.get(other[0].line, passed)
        if mine[1] != other[1]:
            return passed or min(every, key=lambda entry: abs(entry.line - other[0].line))
    return None


def _effects(run: Run) -> Iterator[tuple[BlockState, tuple[object, ...]]]:
    """The blocks of a run that do something, each with what is so after it."""
    before: tuple[object, ...] | None = None
    for block in run.trace.blocks:
        after = (*(round(value, 3) for value in block.position), block.record, block.doubtful, block.holds)
        if after != before:
            yield block, after
        before = after
