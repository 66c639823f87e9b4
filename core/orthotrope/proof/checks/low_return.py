"""An exchange ends with Z below park height."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.units import in_unit, with_unit


@check("low-return", "stop", "run")
def low_return(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Without a Setup park height is the highest that the program itself went to."""
    run = case.main
    if case.purpose != "exchange" or run.trace.ended != "end" or not run.trace.segments:
        return
    if run.trace.of_kind("wait-expired"):
        return  # it stopped where it stood, as it should
    known = case.derived is not None
    park = case.derived.park_z if case.derived else max(max(s.start[2], s.end[2]) for s in run.trace.segments)
    end = run.trace.blocks[-1].position
    if end[2] < park - 1e-3:
        yield report(
            f"Z ends at {with_unit(end[2])}, below park height {in_unit(park)}; the new tool may be longer. Leave Z at "
            "park.",
            run.trace.segments[-1].line,
            run.trace.seconds,
            end,
            "/changer/heights/park_z" if known else None,
        )
