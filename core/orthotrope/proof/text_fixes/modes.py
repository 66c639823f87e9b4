"""Words that state a unit, or put back what was changed."""

from collections.abc import Iterator

from orthotrope.machine.modes import NORMAL
from orthotrope.proof.case import Case
from orthotrope.proof.findings import Finding
from orthotrope.proof.text_fixes.trying import TEXT_FIXES, TextChange


@TEXT_FIXES.register("unit-unstated")
def unit(case: Case, text: list[str], finding: Finding) -> Iterator[TextChange]:
    """The profile's unit, before the first length."""
    yield TextChange(finding.line or 1, 0, ("G20" if case.profile.unit == "inch" else "G21",))


@TEXT_FIXES.register("mode-leak")
def put_back(case: Case, text: list[str], finding: Finding) -> Iterator[TextChange]:
    """The normal state, or what the caller had, before the end."""
    line = finding.line or len(text)
    words = [f"G{NORMAL[mode]:g}" for mode in NORMAL if f"with {mode} " in finding.message]
    if "with unit " in finding.message:
        asked = case.profile.parameters.called_unit
        words = [f"G#{asked}"] if case.profile.arithmetic else ["G20" if case.profile.unit == "inch" else "G21"]
    if "with work offset " in finding.message:
        words = ["G54"]
    for word in words:
        yield TextChange(line, 0, (word,))
        yield TextChange(line + 1, 0, (word,))
