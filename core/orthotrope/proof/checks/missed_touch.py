"""A touching move that ends without a touch."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("missed-touch", "stop", "run")
def missed_touch(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """One that goes on at a miss and is tested is none."""
    run = case.main
    for event in run.trace.of_kind("missed-touch"):
        if event.data["stops"]:
            yield report.of_event(
                event, "The touching move ends without a touch, and the control stops there; look where the surface is."
            )
        elif event.data["touch"] not in run.tested:
            yield report.of_event(
                event,
                "The touching move ends without a touch and the program goes on as if there had been one; ask whether it "
                "was made, or use the touching move that stops at a miss.",
            )
