"""Something that a control does and the virtual machine does not."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("not-simulated", "note", "text")
def not_simulated(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Each once, where it is first met: what depends on it is not proven, and the time may be another."""
    reported: set[str] = set()
    for event in case.main.trace.of_kind("not-simulated"):
        what = event.data["what"]
        if what not in reported:
            reported.add(what)
            yield report.of_event(event, f"This is not simulated: {what}. Check it at the machine.")
