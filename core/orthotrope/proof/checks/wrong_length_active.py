"""A sequence ends with another tool's length in force than that of the tool in the spindle."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("wrong-length-active", "stop", "run", harms=True)
def wrong_length_active(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """At each end, a failing branch's as well: a job or a hand goes on with it. What the caller had in force is its own; which length an
    exchange leaves to the job is told by length-not-renewed."""
    run = case.main
    if run.trace.ended != "end" or not run.trace.blocks or case.purpose not in ("exchange", "measure", "probe"):
        return
    called = [event for event in run.trace.of_kind("length-active") if event.data["tool"]]
    last, active = run.trace.blocks[-1], run.length_of
    if not called or not active or (case.purpose == "exchange" and run.returned):
        return
    if active not in (last.holds, last.record):  # another tool than on record is what record-untrue tells
        held = f"T{last.holds}" if last.holds else "no tool"
        yield report.of_event(
            called[-1],
            f"At the end the length of T{active} is in force, and {held} is in the spindle: use its own (G43 H).",
        )
