"""A sideways zero without the tip's radius."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.proof.touching import NOTHING, SAME, as_placed, radius_given, zeros_of


@check("radius-missing", "stop", "text")
def radius_missing(case: Case, report: FindingFactory) -> Iterator[Finding]:
    readout = case.routine.readout if case.routine else NOTHING
    for zero in zeros_of(case.main):
        given = radius_given(as_placed(zero, readout))
        if given is not None and abs(given) <= SAME:
            yield report.of_event(
                zero.event,
                f"{zero.name} is set at the middle of the tip, which stood beside the surface; add the tip's radius on the "
                "side of the surface.",
            )
