"""What follows from a probe: how late a touch is, how far a search pushes it, and how fast one may be."""

import math
from dataclasses import dataclass

from orthotrope.calc.derived import Derivation, Term
from orthotrope.calc.touch_devices import DerivedSearch, delay_of, fastest_search, pushed, rise_of, search_derivations
from orthotrope.setup import Setup
from orthotrope.setup.probes import Probe

FEEDS = (0.25, 0.5, 1.0, 1.5, 2.0, 3.0, 4.0)
"""Of the measuring feed: those at which the error is shown."""


@dataclass(frozen=True, slots=True)
class FeedError:
    """Measuring at a ``feed`` (mm/min) with an effective diameter that holds for another: every surface is off by so much, mm,
    positive: it is found too far along the way; ``stops``: how far the axis goes on after the latch, mm."""

    feed: float
    error: float
    stops: float


@dataclass(frozen=True, slots=True)
class DerivedProbe:
    """What follows from a probe. ``late``: how far a touch at the measuring feed goes on until it is latched; ``feed_error``: how far each
    surface is off since it was qualified at another feed; mm."""

    probe: Probe
    index: int
    search: DerivedSearch
    late: float
    feed_error: float
    feeds: tuple[FeedError, ...]
    workings: dict[str, Derivation]


def derive_probe(setup: Setup, index: int) -> DerivedProbe:
    """All that follows from the probe of this index."""
    probe, axes = setup.probes[index], setup.machine.axes
    delay, slows = delay_of(setup, probe), min(axis.acceleration for _, axis in axes.items())
    within = min(probe.overtravel_across, probe.overtravel_up)
    slowest = min(axis.rapid for _, axis in axes.items())
    search = DerivedSearch(
        delay,
        pushed(probe, probe.search_feed, delay, slows),
        within,
        fastest_search(probe, within, delay, slows, slowest),
    )
    known = probe.qualified_feed or probe.measure_feed
    feeds = tuple(
        FeedError(feed, (feed - known) / 60 * delay, (feed / 60) ** 2 / (2 * slows))
        for feed in sorted({round(probe.measure_feed * part, 6) for part in FEEDS} | {known})
    )
    return DerivedProbe(
        probe,
        index,
        search,
        rise_of(setup, probe),
        (probe.measure_feed - known) / 60 * delay,
        feeds,
        search_derivations(
            probe,
            f"/probes/{index}",
            search,
            Term("slowest axis' acceleration", slows, "mm/s²", ""),
            ("effective diameter", "qualifying"),
            (),
        ),
    )


def lobes(points: list[tuple[float, float]], x: float, y: float, radius: float) -> list[tuple[float, float]]:
    """Where the tip stood round the clock: the angle of each touch about the middle, degrees, and how much further out than the
    mean it was latched, mm."""
    found = []
    for at_x, at_y in points:
        angle = math.degrees(math.atan2(at_y - y, at_x - x)) % 360.0
        found.append((angle, math.hypot(at_x - x, at_y - y) - radius))
    return sorted(found)
