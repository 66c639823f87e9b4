"""Something is set because of a touch that may have missed."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.proof.touching import touches_of, untested, zeros_of


@check("touch-unguarded", "stop", "text")
def touch_unguarded(case: Case, report: FindingFactory) -> Iterator[Finding]:
    run, reported = case.main, set[int]()
    touches = {touch.number: touch for touch in touches_of(run)}
    loose = [(zero.name, zero.untested) for zero in zeros_of(run)]
    for event in run.trace.of_kind("length-set"):
        used = tuple(touches[number] for number in event.data["touches"])
        loose.append((f"the length of T{event.data['tool']}", untested(event.data, used)))
    for what, missing in loose:
        for touch in missing:
            if touch.number in reported:
                continue
            reported.add(touch.number)
            yield report.of_event(
                touch.event,
                f"This touch may miss and the program goes on; {what} is set from it all the same. Ask whether it was "
                "made before its place is used, or use the touching move that stops at a miss.",
            )
