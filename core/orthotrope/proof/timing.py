"""Where the time of a sequence goes."""

from typing import Literal

from orthotrope.machine.trace import Trace

Share = Literal["sideways", "up and down", "at the feed", "waiting"]
SHARES: tuple[Share, ...] = ("sideways", "up and down", "at the feed", "waiting")


def spent(trace: Trace) -> dict[Share, float]:
    """Seconds by what they are spent on: rapid moves sideways (X or Y moves), rapid moves of Z alone, moves at a feed, and
    dwells. Together they are the time of the trace."""
    found: dict[Share, float] = dict.fromkeys(SHARES, 0.0)
    for segment in trace.segments:
        share: Share
        if segment.kind == "dwell":
            share = "waiting"
        elif segment.kind != "rapid":
            share = "at the feed"
        elif segment.start[:2] != segment.end[:2]:
            share = "sideways"
        else:
            share = "up and down"
        found[share] += segment.t1 - segment.t0
    return found
