"""What is computed of a program that is reviewed."""

import time
from pathlib import Path
from typing import Any

from orthotrope.program.blocks import Program
from orthotrope.program.reader import read_text
from orthotrope.proof.case import Case, Purpose
from orthotrope.proof.findings import FINDING
from orthotrope.proof.mending.trying import Mend, mended
from orthotrope.proof.review import make_case, review_file
from orthotrope.setup import read_setup
from orthotrope.units import shown_in
from pydantic import TypeAdapter

MOST_FINDINGS = 1000
"""That are kept of one text, the worst."""

MOST_MENDED = 200_000
"""Characters of a text that mended lines are looked for in: each of them is run dozens of times."""

MOST_MENDED_BLOCKS = 20_000
"""That such a text may run."""

SAID_EVERY = 0.3
"""Seconds between two times that it is said how far it is."""

MEND: TypeAdapter[Mend] = TypeAdapter(Mend)


def reviewed(document: dict[str, Any], text: str, told: str, purpose: Purpose, profile: str) -> dict[str, Any]:
    """The review of the program in a file, as plain values; ``told``: the file in which it is said how far it is."""
    setup = read_setup(document)
    control = next((entry for entry in setup.every_profile() if entry.name == profile), setup.profile)

    def case_of(program: Program) -> Case:
        return make_case(program, control, purpose, setup)

    with shown_in(setup.machine.unit):
        found = review_file(Path(text), case_of, _Telling(Path(told)))
        mends = _mends(Path(text), found.findings, case_of) if found.seconds is not None else []
    return {
        "findings": [FINDING.dump_python(finding, mode="json") for finding in found.findings[:MOST_FINDINGS]],
        "count": len(found.findings),
        "seconds": found.seconds,
        "by_line": [[line, round(seconds, 3)] for line, seconds in found.by_line],
        "mends": [MEND.dump_python(mend, mode="json") for mend in mends],
    }


def _mends(path: Path, findings: list[Any], case_of: Any) -> list[Mend]:
    if not findings or path.stat().st_size > MOST_MENDED:
        return []
    from_text = path.read_text(encoding="utf-8", errors="replace")
    case: Case = case_of(read_text(from_text))
    if case.main.endless or len(case.main.trace.blocks) > MOST_MENDED_BLOCKS:
        return []
    return mended(case, from_text, findings)


class _Telling:
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
