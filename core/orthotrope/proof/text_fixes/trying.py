"""A fixed line is offered only when its finding is gone with it."""

from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from orthotrope.program.reader import read_text
from orthotrope.proof.case import Case
from orthotrope.proof.findings import Finding
from orthotrope.proof.review import review
from orthotrope.registry import Registry

MOST_TRIED = 16
"""Texts that are tried for one finding."""

MOST_FINDINGS = 12
"""Findings that a fix is looked for, the worst first."""


MOST_FIXED = 200_000
"""Characters of a text that fixed lines are looked for in: each of them is run dozens of times."""


@dataclass(frozen=True, slots=True)
class TextChange:
    """A change of a text: from ``line`` on (counted from 1) so many lines go (0 or 1), and ``lines`` come."""

    line: int
    goes: int
    lines: tuple[str, ...]

    def made(self, text: list[str]) -> list[str]:
        """The lines of a text with it."""
        return [*text[: self.line - 1], *self.lines, *text[self.line - 1 + self.goes :]]


@dataclass(frozen=True, slots=True)
class TextFix:
    """What fixes a finding, identified by its ``check`` and ``message``: a change of the text, the line ``before`` it ("": one is put
    in)."""

    check: str
    message: str
    change: TextChange
    before: str


TextFixer = Callable[[Case, list[str], Finding], Iterator[TextChange]]

TEXT_FIXES: Registry[TextFixer] = Registry("check", "orthotrope.proof.text_fixes.*")
"""What might fix what a check says, by its name: changes of the text, the likeliest first."""


def text_fixes(case: Case, text: str, findings: list[Finding]) -> list[TextFix]:
    """What fixes the findings of a text, one for each where there is any."""
    lines, offered = text.split("\n"), list[TextFix]()
    before = _counted(findings)
    for finding in [entry for entry in findings if entry.check in TEXT_FIXES][:MOST_FINDINGS]:
        for number, change in enumerate(TEXT_FIXES[finding.check](case, lines, finding)):
            if number == MOST_TRIED:
                break
            made = change.made(lines)
            if made == lines or not _fixes(case, "\n".join(made), finding, before):
                continue
            if change not in [entry.change for entry in offered]:  # one line may fix several
                old = lines[change.line - 1] if change.goes else ""
                offered.append(TextFix(finding.check, finding.message, change, old))
            break
    return offered


def _counted(findings: list[Finding]) -> Counter[str]:
    return Counter(finding.check for finding in findings if finding.severity != "note")


def _fixes(case: Case, text: str, finding: Finding, before: Counter[str]) -> bool:
    """Whether the finding is gone with it, and nothing new is said."""
    program = read_text(text)
    if not program.readable:
        return False
    after = review(replace(case, program=program, _runs={}))
    left = sum(entry.check == finding.check for entry in after)
    notes = finding.severity == "note"
    fewer = left == 0 if notes else left < before[finding.check]
    return fewer and _counted(after) <= before
