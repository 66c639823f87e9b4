"""What was gone down is not gone up again."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.units import with_unit

SAME_HEIGHT = 0.01
"""mm."""


@check("lift-unequal", "warn", "text")
def lift_unequal(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Where Z moves so much further only, and nothing is touched from above."""
    run = case.main
    if case.purpose != "probe" or run.trace.ended != "end" or run.z_absolute:
        return
    plunge, lift, last = 0.0, 0.0, None
    for segment in run.trace.segments:
        way = segment.end[2] - segment.start[2]
        if way and segment.kind == "touch":
            return
        plunge, lift, last = plunge + max(0.0, -way), lift + max(0.0, way), segment if way else last
    if plunge > 0 and last and abs(plunge - lift) > SAME_HEIGHT:
        yield report(
            f"Z goes {with_unit(plunge)} down and {with_unit(lift)} up again; lift as far as it plunged.",
            last.line,
            last.t0,
            last.start,
        )
