"""The coupling is turned faster than its cap while the thread runs on or off."""

from collections.abc import Iterator

from orthotrope.kinds.thread_on.model import ThreadOn
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding

FASTER = 1e-3
"""Of the cap; what is faster by less is the same."""


@check("speed-over-cap", "stop", "run", harms=True)
def speed_over_cap(case: Case, report: FindingFactory) -> Iterator[Finding]:
    if case.setup is None or not isinstance(case.setup.changer, ThreadOn):
        return
    cap, trace = case.setup.changer.coupling.speed_cap, case.main.trace
    moments = [event for event in trace.events if event.kind in ("thread-meets", "thread-leaves", "gripped", "freed")]
    for event in moments:
        speed = abs(trace.turning(event.t))
        if speed > cap * (1 + FASTER):
            yield report.of_event(
                event,
                f"The coupling turns at {speed:.0f} rev/min while the thread runs; its cap is {cap:g}. Lower the speed.",
                "/changer/coupling/speed",
            )
            return
