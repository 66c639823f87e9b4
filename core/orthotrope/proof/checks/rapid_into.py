"""The last stretch onto or off a tool, or into or out of a fork, goes faster than its stored feed."""

from bisect import bisect_left
from collections.abc import Iterator

from orthotrope.calc.derived import StoredFeed
from orthotrope.machine.trace import Segment
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.units import MM_PER_INCH, feed_with_unit

SAME = 0.5
"""mm/min; feeds that differ by less are the same."""

SAME_TIME = 1e-9
"""Seconds; moments that differ by less are the same."""


@check("rapid-into", "stop", "run", harms=True)
def rapid_into(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Reported once for each feed and way, as a rapid or with another feed than the stored one."""
    taking = case.derived.taking if case.derived else None
    if taking is None:
        return
    decimal = 10.0**-case.profile.decimals * (MM_PER_INCH if case.profile.unit == "inch" else 1.0)
    reported: set[tuple[str, str]] = set()
    crashed = {event.t for event in case.main.trace.of_kind("body-contact")}
    for onto, segment in _last_stretches(case):
        sideways = segment.start[:2] != segment.whole_end[:2]
        stored: StoredFeed | None = taking.feed_in if sideways else taking.feed
        if stored is None or (not onto and not sideways) or segment.t1 in crashed:
            continue  # what ended in a contact is reported by that
        # The override is a hand's; what it does to the thread is judged by the thread's own checks.
        wanted = (stored.value, stored.value * case.call.override)
        if segment.kind == "feed" and any(abs(segment.feed - feed) <= max(SAME, decimal) for feed in wanted):
            continue
        how = "as a rapid" if segment.kind == "rapid" else f"at {feed_with_unit(segment.feed)}"
        where = "onto" if onto and not sideways else "into" if onto else "out of"
        if (stored.where, where) in reported:
            continue
        reported.add((stored.where, where))
        what = "the tool" if where == "onto" else "the fork"
        yield report(
            f"The last stretch {where} {what} goes {how}; the {stored.name} is {feed_with_unit(stored.value)}. Give the move that "
            "feed.",
            segment.line,
            segment.t0,
            segment.start,
            stored.where,
        )


def _last_stretches(case: Case) -> Iterator[tuple[bool, Segment]]:
    """The moves that come onto a tool or into its pocket (True), and those that leave a fork with one."""
    trace = case.main.trace
    events = trace.of_kind("comes-onto", "goes-off", "thread-meets", "thread-leaves")
    moves = [segment for segment in trace.segments if segment.kind in ("rapid", "feed", "touch")] if events else []
    for event in events:
        begins = event.kind in ("comes-onto", "goes-off")
        first = bisect_left(moves, event.t - SAME_TIME, key=lambda move: move.t0 if begins else move.t1)
        if first < len(moves) and moves[first].t0 <= event.t + SAME_TIME:
            yield event.kind != "goes-off", moves[first]
