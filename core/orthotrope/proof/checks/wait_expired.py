"""An input did not come in time."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("wait-expired", "stop", "run")
def wait_expired(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("wait-expired"):
        said = "made" if event.data["said"] else "idle"
        yield report.of_event(
            event,
            f"The input {event.data['input']} stayed {said} for {event.data['seconds']:.1f} s of waiting "
            "and the program stopped; look at the device, its time, and the input's wiring.",
        )
