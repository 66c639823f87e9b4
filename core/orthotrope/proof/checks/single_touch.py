"""A zero is set from one fast touch, or a length from fewer touches than the Setup has."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.proof.touching import zeros_of
from orthotrope.units import feed_with_unit

MEASURING = 100.0
"""mm/min; the feed up to which a touch measures, where the Setup has none."""


@check("single-touch", "note", "text")
def single_touch(case: Case, report: FindingFactory) -> Iterator[Finding]:
    reported: set[int] = set()
    setters, probes = (case.setup.setters, case.setup.probes) if case.setup else ((), ())
    feeds = [*(setter.measure_feed for setter in setters), *(probe.measure_feed for probe in probes)]
    measuring = max(feeds, default=MEASURING)
    for zero in zeros_of(case.main):
        for touch in zero.touches:
            if touch.feed > measuring + 1e-9 and touch.number not in reported:
                reported.add(touch.number)
                yield report.of_event(
                    touch.event,
                    f"{zero.name} is set from one touch at {feed_with_unit(touch.feed)}; back off and touch again at "
                    f"{feed_with_unit(measuring)} or less.",
                )
    yield from _too_few(case, report)


def _too_few(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """A length that came of fewer touches than the Setup has for its setter."""
    touches = {event.data["touch"]: event.data["input"] for event in case.main.trace.of_kind("touch")}
    for event in case.main.trace.of_kind("length-set") if case.setup else ():
        used = {number for number in event.data["touches"] if number in touches}
        on = {touches[number] for number in used}
        setter = next((entry for entry in case.setup.setters if {entry.input} == on), None) if case.setup else None
        if setter and len(used) < setter.touches:
            yield report.of_event(
                event,
                f"The length of T{event.data['tool']} comes of {len(used)} touch{'' if len(used) == 1 else 'es'}; the Setup has "
                f"{setter.touches} for {setter.name}.",
            )
