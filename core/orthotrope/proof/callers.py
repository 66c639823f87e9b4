"""An exchange called from a job that has something active: a length, another offset, compensation, a cycle, a rotation,
the spindle turning."""

from collections.abc import Iterator
from dataclasses import replace

from orthotrope.machine.run import Active
from orthotrope.proof.case import CHECKS, Case, Teller, findings_of
from orthotrope.proof.findings import Finding

CALLERS: dict[Active, str] = {
    "length": "a tool's length",
    "offset": "the second work offset",
    "compensation": "cutter compensation",
    "cycle": "a canned cycle",
    "rotation": "a rotation",
    "forwards": "the spindle turning",
    "backwards": "the spindle turning backwards",
}
"""What a caller may have active, in words."""


def called_otherwise(case: Case) -> Iterator[Finding]:
    """What goes wrong only from such a caller, each finding with what was active: contacts and their like, and modes
    that are not as they were."""
    known = {(finding.check, finding.line) for finding in (*findings_of(case, "run"), *_leaks(case))}
    for active, says in CALLERS.items():
        called = replace(case, call=replace(case.call, active=active), _runs={})
        for finding in (*findings_of(called, "run"), *_leaks(called)):
            if (finding.check, finding.line) not in known:
                known.add((finding.check, finding.line))
                yield replace(finding, message=f"Called with {says} active: {finding.message}")


def _leaks(case: Case) -> Iterator[Finding]:
    entry = CHECKS["mode-leak"]
    return entry.function(case, Teller(entry.name, entry.severity))
