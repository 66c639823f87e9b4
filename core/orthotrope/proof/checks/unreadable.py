"""A block that can't be read, or that RS-274 calls an error when it is run."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding

MOST = 200
"""Findings; a file of noise has a fault in every line, and nobody reads more."""


@check("unreadable", "stop", "static")
def unreadable(case: Case, report: FindingFactory) -> Iterator[Finding]:
    faults = case.program.faults
    for fault in faults[:MOST]:
        yield report(f"Column {fault.column}: {fault.what}", fault.line)
    if len(faults) > MOST:
        yield report(f"{len(faults) - MOST} more lines can't be read; is this a program at all?", faults[MOST].line)


@check("unreadable-run", "stop", "run")
def unreadable_run(case: Case, report: FindingFactory) -> Iterator[Finding]:
    fault = case.main.fault if case.program.readable else None
    if fault and not case.main.nowhere:
        yield FindingFactory("unreadable", "stop")(
            f"Column {fault.column}: {fault.what}", fault.line, case.main.trace.seconds
        )
