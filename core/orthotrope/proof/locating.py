"""Where an imported text does otherwise than the one that Orthotrope writes for the same sequence: the cause of what only it does wrong."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from difflib import SequenceMatcher
from typing import Any

from orthotrope.errors import OrthotropeError
from orthotrope.machine.run import Run
from orthotrope.machine.trace import BlockState
from orthotrope.program.reader import read_text
from orthotrope.proof.case import Case
from orthotrope.proof.digest import read_by_control
from orthotrope.proof.findings import Finding
from orthotrope.proof.judging import FaultResult
from orthotrope.proof.sequences.registry import SequenceResult, kind_of
from orthotrope.setup import read_setup

ALIKE = 0.6
"""The share of lines that two texts have in common from which on one is a version of the other."""

NEAR = 3
"""Lines; a finding that is no further from the difference has its place already."""

MOST_SHOWN = 3
"""Lines of a difference that are quoted."""


@dataclass(frozen=True, slots=True)
class Difference:
    """What ``has`` in the imported text, from ``line`` on (counted from 1; where nothing is there, the line that follows), in place of what
    the written text ``had``."""

    line: int
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
    """Where two texts differ in what a control reads; none where they are not alike (:data:`ALIKE`)."""
    its, ours = _lines(imported), _lines(written)
    matcher = SequenceMatcher(None, [code for _, code in its], [code for _, code in ours], autojunk=False)
    if matcher.quick_ratio() < ALIKE or matcher.ratio() < ALIKE:
        return []
    end = its[-1][0] if its else 1
    return [
        Difference(
            its[a][0] if a < len(its) else end,
            tuple(code for _, code in its[a:to]),
            tuple(code for _, code in ours[b:until]),
        )
        for what, a, to, b, until in matcher.get_opcodes()
        if what != "equal"
    ]


def _lines(text: str) -> list[tuple[int, str]]:
    """The lines that a control reads something in, with their numbers."""
    read = ((number, re.sub(r"\s+", " ", line).strip().upper()) for number, line in _numbered(text))
    return [(number, code) for number, code in read if code and code != "%"]


def _numbered(text: str) -> Iterator[tuple[int, str]]:
    yield from enumerate(read_by_control(text).split("\n"), 1)


def located(document: dict[str, Any], results: list[SequenceResult], imported: str) -> Iterator[SequenceResult]:
    """The results of an imported text, each finding that the written text has not with the line where the imported one does otherwise; as
    they are where the texts are not alike."""
    setup, of_both = read_setup(document), dict[Key, bool]()
    for result in results:
        found, kind = {*_keys(result)}, kind_of(result.sequence)
        try:
            written, case = kind.written(setup, result.sequence), kind.cases(setup)(result.sequence)
        except OrthotropeError:  # there is no written text of it
            written, case = "", None
        every = differences(imported, written) if found and case else []
        if not every or case is None:
            yield result
            continue
        if not found <= of_both.keys():
            theirs = {key for its in kind.prove(document, [result.sequence], None, None) for key in _keys(its)}
            of_both |= {key: key in theirs for key in found}
        cause = Cause(every, every[0] if len(every) == 1 else _first(every, case, imported))
        yield replace(
            result,
            findings=tuple(f if of_both[_key(f)] else cause.of(f) for f in result.findings),
            faults=tuple(f if of_both[_key(f.finding, f.fault)] else cause.of_fault(f) for f in result.faults),
        )


Key = tuple[str, str]
"""A check, and the fault under which it has found something."""


def _key(finding: Finding | None, fault: str = "none") -> Key:
    return finding.check if finding else "", fault


def _keys(result: SequenceResult) -> Iterator[Key]:
    yield from (_key(finding) for finding in result.findings)
    yield from (_key(fault.finding, fault.fault) for fault in result.faults)


@dataclass(frozen=True, slots=True)
class Cause:
    """``every`` difference of a text, and the ``first`` that changes what is done (None: where nothing is wrong none does)."""

    every: list[Difference]
    first: Difference | None

    def of(self, finding: Finding) -> Finding:
        """The finding with the line of its cause; as it is where it has that already."""
        line = finding.line
        if finding.severity == "note" or (line is not None and any(entry.covers(line) for entry in self.every)):
            return finding
        cause = self.first or min(self.every, key=lambda entry: abs(entry.line - (line or 0)))
        shows = f" It shows at line {line}." if line is not None else ""
        return replace(finding, message=f"{finding.message}{shows} {cause}: look there first.", line=cause.line)

    def of_fault(self, result: FaultResult) -> FaultResult:
        """The same of what a fault comes to."""
        if result.finding is None or result.verdict == "safe":
            return result
        finding = self.of(result.finding)
        return replace(result, finding=finding, says=finding.message.replace(result.finding.message, result.says))


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
