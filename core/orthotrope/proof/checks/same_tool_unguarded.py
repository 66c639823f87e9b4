"""No early end when the requested tool is in the spindle already."""

from collections.abc import Iterator
from dataclasses import replace

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("same-tool-unguarded", "note", "text")
def same_tool_unguarded(case: Case, report: FindingFactory) -> Iterator[Finding]:
    if not case.asks_for_a_tool:
        return
    tool = case.call.from_tool or case.call.to_tool
    run = case.run(replace(case.call, from_tool=tool, to_tool=tool))
    moved = next((segment for segment in run.trace.segments if segment.kind != "dwell"), None)
    if moved:
        yield report(
            f"With T{tool} in the spindle and T{tool} requested it moves anyway; end early when both are the same.",
            moved.line,
        )
