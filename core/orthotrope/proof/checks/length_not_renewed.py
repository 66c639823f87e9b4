"""Z moves with a length active that is not the one to go by, or an exchange leaves such a one to the job."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("length-not-renewed", "stop", "run", harms=True)
def length_not_renewed(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("length-old"):
        yield report.of_event(
            event,
            f"Z moves in part coordinates with the length that was active before: {event.data['why']}. Call the length "
            "(G43) again first.",
        )
    run = case.main
    if case.purpose == "measure" and run.left.length_old and run.trace.ended == "end" and run.trace.blocks:
        last = run.trace.blocks[-1]
        says = f"At the end the length that was active before is still in force: {run.left.length_old}. Call the length (G43) again."
        yield report(says, last.line, last.t1, last.position)
    if case.purpose == "exchange" and case.setup is not None:
        yield from _left_to_the_job(case, report)


def _left_to_the_job(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """An exchange that goes back to the job: with which length, and whether that can be true."""
    run, setup = case.main, case.setup
    blocks = run.trace.blocks
    assert setup is not None
    if not run.returned or not blocks or not blocks[-1].holds or blocks[-1].doubtful:
        return
    last, held, active = blocks[-1], int(blocks[-1].holds), run.length_of
    if active and active not in (held, last.record):  # another tool than on record is what record-untrue tells
        says = f"The length of T{active} is in force, and T{held} is in the spindle: use its own (G43 H)."
    elif active and held != case.call.from_tool and _slips(case, held) and not _measured(case, held):
        says = (
            f"T{held} may have slipped in its nut when it was put down, and is used with the length on record: measure it "
            f"after it is fetched, or give it a stop collar."
        )
    elif not active and case.call.active == "length" and held != case.call.from_tool:
        says = f"The job had a length in force, and goes on with T{held} without one: use its length (G43 H)."
    else:
        return
    yield report(says, last.line, last.t1, last.position)


def _slips(case: Case, number: int) -> bool:
    return case.setup is not None and any(tool.number == number for tool in case.setup.slipping())


def _measured(case: Case, number: int) -> bool:
    return any(event.data["tool"] == number for event in case.main.trace.of_kind("length-set"))
