"""What is computed of a program that is reviewed."""

import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from orthotrope.program.blocks import Program
from orthotrope.program.reader import read_text
from orthotrope.proof.case import Case, Purpose
from orthotrope.proof.findings import FINDING
from orthotrope.proof.program_values import ProgramValue, program_values
from orthotrope.proof.review import make_case, review_file
from orthotrope.proof.text_fixes.trying import MOST_FIXED, TextFix, text_fixes
from orthotrope.setup import read_setup
from orthotrope.units import shown_in
from pydantic import TypeAdapter

MOST_FINDINGS = 1000
"""That are kept of one text, the worst."""


MOST_MENDED_BLOCKS = 20_000
"""That such a text may run."""

SAID_EVERY = 0.3
"""Seconds between two times that it is said how far it is."""

TEXT_FIX: TypeAdapter[TextFix] = TypeAdapter(TextFix)
PROGRAM_VALUE: TypeAdapter[ProgramValue] = TypeAdapter(ProgramValue)


def reviewed(document: dict[str, Any], text: str, progress: str, purpose: Purpose, profile: str) -> dict[str, Any]:
    """The review of the program in a file, as plain values; ``progress``: the file in which its progress is written."""
    setup = read_setup(document)
    control = next((entry for entry in setup.every_profile() if entry.name == profile), setup.profile)

    def case_of(program: Program) -> Case:
        return make_case(program, control, purpose, setup)

    with shown_in(setup.machine.unit):
        found = review_file(Path(text), case_of, _Progress(Path(progress)))
        small = _small(Path(text), case_of) if found.seconds is not None else None
        fixes = text_fixes(small[0], small[1], found.findings) if small and found.findings else []
        believed = program_values(small[0]) if small else []
    return {
        "findings": [FINDING.dump_python(finding, mode="json") for finding in found.findings[:MOST_FINDINGS]],
        "count": len(found.findings),
        "seconds": found.seconds,
        "by_line": [[line, round(seconds, 3)] for line, seconds in found.by_line],
        "program_values": [PROGRAM_VALUE.dump_python(belief, mode="json") for belief in believed],
        "fixes": [TEXT_FIX.dump_python(fix, mode="json") for fix in fixes],
    }


def _small(path: Path, case_of: Callable[[Program], Case]) -> tuple[Case, str] | None:
    """The case and the text of a program that is short enough to be looked at more closely."""
    if path.stat().st_size > MOST_FIXED:
        return None
    text = path.read_text(encoding="utf-8", errors="replace")
    case = case_of(read_text(text))
    return None if case.main.endless or len(case.main.trace.blocks) > MOST_MENDED_BLOCKS else (case, text)


class _Progress:
    """Writes down how far a review is, now and then."""

    def __init__(self, path: Path):
        self.path, self.written, self.what = path, 0.0, ""

    def __call__(self, what: str, share: float) -> None:
        now = time.monotonic()
        if what == self.what and now - self.written < SAID_EVERY:
            return
        self.what, self.written = what, now
        part = self.path.with_suffix(".part")
        part.write_text(f"{share:.3f} {what}", encoding="utf-8")
        part.replace(self.path)
