"""A requested tool number that is used without a check of its range."""

from collections.abc import Iterator
from dataclasses import replace

from orthotrope.machine.run import Run
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding

BEYOND = (-1, 9999)


def acts(run: Run) -> bool:
    """Whether a run has moved the machine, changed a tool, or failed in trying to."""
    moved = any(segment.kind != "dwell" for segment in run.trace.segments)
    return (
        moved
        or bool(run.trace.of_kind("tool-changed", "beyond-travel"))
        or (run.fault is not None and run.request_used)
    )


@check("range-unguarded", "warn", "text")
def range_unguarded(case: Case, report: FindingFactory) -> Iterator[Finding]:
    if not case.asks_for_a_tool:
        return
    for number in BEYOND:
        run = case.run(replace(case.call, to_tool=number))
        if acts(run):
            line = next((segment.line for segment in run.trace.segments), None)
            yield report(
                f"With tool {number} requested, which does not exist, it goes on and moves; stop with a message when "
                f"#{case.profile.parameters.exchange_to} is out of range, before anything moves.",
                line,
            )
            return
