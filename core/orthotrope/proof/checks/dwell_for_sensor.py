"""A dwell where an input tells when the action is complete."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("dwell-for-sensor", "warn", "text")
def dwell_for_sensor(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Not where the control has no means to wait for an input."""
    if case.profile.wait == "none":
        return
    reported: set[int] = set()
    for event in case.main.trace.of_kind("blind-dwell"):
        if event.line not in reported:
            reported.add(event.line)
            data = event.data
            yield report.of_event(
                event,
                f"After {data['word']} it dwells {data['seconds']:g} s; the input {data['input']} "
                f"({data['role']}) shows when that is done: wait for it.",
                "/inputs",
            )
