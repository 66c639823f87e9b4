"""Where the time of a sequence goes."""

from typing import Literal

from orthotrope.machine.trace import Trace

Spending = Literal["sideways", "up and down", "at the feed", "waiting"]
SPENDINGS: tuple[Spending, ...] = ("sideways", "up and down", "at the feed", "waiting")


def spent(trace: Trace) -> dict[Spending, float]:
    """Seconds by what they are spent on: rapid moves sideways (X or Y moves), rapid moves of Z alone, moves at a feed,
    and dwells. Together they are the time of the trace."""
    found: dict[Spending, float] = dict.fromkeys(SPENDINGS, 0.0)
    for segment in trace.segments:
        spending: Spending
        if segment.kind == "dwell":
            spending = "waiting"
        elif segment.kind != "rapid":
            spending = "at the feed"
        elif segment.start[:2] != segment.end[:2]:
            spending = "sideways"
        else:
            spending = "up and down"
        found[spending] += segment.t1 - segment.t0
    return found
