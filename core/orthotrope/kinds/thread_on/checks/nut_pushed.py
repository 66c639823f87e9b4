"""Putting down, the nut is pushed below its seat by more than its pocket gives."""

from collections.abc import Iterator

from orthotrope.kinds.thread_on.machine import ThreadPockets
from orthotrope.kinds.thread_on.model import ThreadOn
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding, SetupFix
from orthotrope.units import in_unit, with_unit


@check("nut-pushed", "warn", "run")
def nut_pushed(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """The thread that has run off while the nose is not risen by as much: on the way down, at the bottom, on the way
    up."""
    rack, setup = case.world.magazine, case.setup
    if not isinstance(rack, ThreadPockets):
        return
    for event in case.main.trace.of_kind("freed"):
        pushed = event.data["pushed"]
        if pushed <= rack.give + 1e-9:
            continue
        what = (
            f"Putting T{event.data['tool']} down, its nut is pushed {with_unit(pushed)} below its seat; the pocket "
            "gives "
            f"{in_unit(rack.give)}."
        )
        if setup is None or not isinstance(setup.changer, ThreadOn):
            yield report.of_event(event, what)
            continue
        where, fix = "/changer/coupling/give", None
        remedy = "Turn more slowly on the way down, let the flats catch lower, or measure what the pocket gives."
        if setup.changer.coupling.put_down == "going down":
            remedy = f"Seat the nut first and run it off while the spindle rises. {remedy}"
            fix = SetupFix("Run it off while rising", "/changer/coupling/put_down", "rising")
        yield report.of_event(event, f"{what} {remedy}", where, fix)
