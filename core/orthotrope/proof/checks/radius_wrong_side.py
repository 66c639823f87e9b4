"""The tip's radius on the side away from the surface."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.proof.touching import NOTHING, SAME, as_placed, radius_given, zeros_of
from orthotrope.units import with_unit


@check("radius-wrong-side", "stop", "text")
def radius_wrong_side(case: Case, report: FindingFactory) -> Iterator[Finding]:
    readout = case.routine.readout if case.routine else NOTHING
    for zero in zeros_of(case.main):
        given = radius_given(as_placed(zero, readout))
        if given is not None and given < -SAME:
            yield report.of_event(
                zero.event,
                f"{zero.name} is set {with_unit(-given)} from the middle of the tip on the side away from the surface, which "
                f"is off by {with_unit(-2 * given)}; reverse the sign of the radius.",
            )
