"""A grip opens with nothing to hold the tool."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("dropped-tool", "stop", "run", harms=True)
def dropped_tool(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("dropped-tool"):
        yield report.of_event(
            event,
            f"Nothing holds T{event.data['tool']} where the grip lets go of it: it falls. Open the grip "
            "only where a pocket or hand has the tool, at the height at which it stands there.",
        )
