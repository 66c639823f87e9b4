"""A touch pushes further than what it touches gives."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.units import in_unit


@check("overtravel-exceeded", "stop", "run", harms=True)
def overtravel_exceeded(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("overtravel-exceeded"):
        name, give = event.data["body"], in_unit(event.data["give"])
        if event.data["made"]:
            says = f"The touch pushes {name} further than the {give} that it gives before the machine stands; touch at a lower feed."
        else:
            says = (
                f"The input is not made and the touch pushes {name} further than the {give} that it gives; end the search "
                "at the expected touch and no more than that beyond it."
            )
        yield report.of_event(event, says)
