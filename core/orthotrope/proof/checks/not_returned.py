"""X and Y are not back where the exchange was called."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.units import in_unit

BACK_WITHIN = 0.01
"""mm; nearer than this is back."""


@check("not-returned", "note", "run")
def not_returned(case: Case, report: FindingFactory) -> Iterator[Finding]:
    run = case.main
    if case.purpose != "exchange" or run.trace.ended != "end" or not run.trace.segments:
        return
    if run.trace.of_kind("wait-expired"):
        return  # it stopped where it stood, as it should
    end, at = run.trace.blocks[-1].position, case.call.at
    if max(abs(end[0] - at[0]), abs(end[1] - at[1])) > BACK_WITHIN:
        yield report(
            f"It was called at X {in_unit(at[0])} Y {in_unit(at[1])} and ends at X {in_unit(end[0])} Y "
            f"{in_unit(end[1])}; go back at park "
            f"height.",
            run.trace.blocks[-1].line,
            run.trace.seconds,
            end,
        )
