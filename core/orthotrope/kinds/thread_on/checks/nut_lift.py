"""On pick-up the nut is drawn up or pushed down by more than its pocket allows."""

import math
from collections.abc import Iterator

from orthotrope.kinds.thread_on.derive import DerivedThread
from orthotrope.kinds.thread_on.machine import ThreadPockets
from orthotrope.kinds.thread_on.model import ThreadOn
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding, SetupFix
from orthotrope.units import feed_with_unit, in_unit, with_unit


@check("nut-lift", "warn", "run", harms=True)
def nut_lift(case: Case, report: FindingFactory) -> Iterator[Finding]:
    rack, setup, derived = case.world.magazine, case.setup, case.derived
    if not isinstance(rack, ThreadPockets):
        return
    for event in case.main.trace.of_kind("gripped"):
        lift = event.data["lift"]
        if not event.data["fetched"] or abs(lift) <= rack.float_allowed + 1e-9:
            continue
        way = "drawn up" if lift > 0 else "pushed down"
        what = (
            f"The nut of T{event.data['tool']} is {way} {with_unit(abs(lift))} while the thread runs on; "
            f"its pocket allows {in_unit(rack.float_allowed)}."
        )
        if setup is None or not isinstance(derived, DerivedThread) or not isinstance(setup.changer, ThreadOn):
            yield report.of_event(event, what)
            continue
        coupling, limit = derived.coupling, derived.coupling.feed_limit
        if coupling.ideal_feed <= limit + 1e-9:
            feed = round(coupling.ideal_feed, 3)
            fix = SetupFix(f"Use {feed_with_unit(feed)}", "/changer/coupling/feed", feed)
            yield report.of_event(
                event,
                f"{what} The feed does not fit {setup.changer.coupling.speed:g} rev/min at "
                f"{with_unit(rack.lead)} a turn.",
                fix.where,
                fix,
            )
        else:
            speed = math.floor(limit / rack.lead)
            fix = SetupFix(f"Use {speed:g} rev/min", "/changer/coupling/speed", float(speed))
            yield report.of_event(
                event,
                f"{what} In the ramp at the bottom Z slows down while the spindle goes on; with this "
                f"acceleration {feed_with_unit(limit)} is the fastest good feed, "
                f"{speed:g} rev/min.",
                fix.where,
                fix,
            )
