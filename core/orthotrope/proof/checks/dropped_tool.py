"""A grip opens with nothing to hold the tool."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, Teller, check
from orthotrope.proof.findings import Finding


@check("dropped-tool", "stop", "run", harms=True)
def dropped_tool(case: Case, tell: Teller) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("dropped-tool"):
        yield tell.of_event(
            event,
            f"Nothing holds T{event.data['tool']} where the grip lets go of it: it falls. Open the grip "
            "only where a pocket or hand has the tool, at the height at which it stands there.",
        )
