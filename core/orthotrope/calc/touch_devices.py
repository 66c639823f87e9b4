"""What follows from a touch device, a setter or a probe: how late a touch is, how far a search pushes it, and how fast one may be."""

import math
from dataclasses import dataclass

from orthotrope.calc.derived import Derivation, Term
from orthotrope.setup import Setup
from orthotrope.setup.touch_device import TouchDevice

FEED_STEP = 10.0
"""mm/min; offered feeds are whole multiples of it."""

CLEAR = 0.2
"""mm; a back-off is at least this much longer than what it has to undo, for the switch's hysteresis."""

BEYOND, LEAST_BEYOND = 1.0, 0.05
"""mm; how far beyond its back-off a measuring touch ends, and at least: what touches scatter by is less."""


def delay_of(setup: Setup, device: TouchDevice) -> float:
    """Seconds from the switching of a device to the latch: its own latency, the input's filter and the control's."""
    entry = next((entry for entry in setup.inputs if entry.number == device.input), None)
    return device.latency + setup.machine.latency + (entry.filter if entry else 0.0)


def rise_of(setup: Setup, device: TouchDevice) -> float:
    """How far a tip goes on from its first contact until a touch at the measuring feed is latched, mm. A plane height and an effective
    diameter hold this, since they were found at that feed (hardware.md, Touching)."""
    return device.trigger_travel + device.measure_feed / 60 * delay_of(setup, device)


def pushed(device: TouchDevice, feed: float, delay: float, acceleration: float) -> float:
    """How far a touch at ``feed`` (mm/min) pushes a device from its contact until the axis is at rest, mm: its travel,
    v·delay, and v²/(2a) of stopping."""
    speed = feed / 60
    return device.trigger_travel + speed * delay + speed * speed / (2 * acceleration)


def measuring_beyond(device: TouchDevice, overtravel: float, delay: float, acceleration: float) -> float:
    """How far beyond its back-off a measuring touch ends, mm: the back-off begins where the search stood, which is beyond the contact by what
    it was :func:`pushed`; where the input dies in between, the touch must stay within the ``overtravel`` all the same."""
    left = overtravel - pushed(device, device.search_feed, delay, acceleration)
    return min(BEYOND, max(LEAST_BEYOND, left))


def fastest_search(
    device: TouchDevice, overtravel: float, delay: float, acceleration: float, rapid: float
) -> float | None:
    """The fastest search, mm/min, that stays within the overtravel allowed and that the back-off can undo; down to
    whole steps of :data:`FEED_STEP`. None where even a slow one does not.

    From v·delay + v²/(2a) = what is left: v = a·(√(delay² + 2·left/a) − delay)."""
    left = min(overtravel, device.back_off - CLEAR) - device.trigger_travel
    if left <= 0:
        return None
    speed = acceleration * (math.sqrt(delay * delay + 2 * left / acceleration) - delay)
    feed = math.floor(min(speed * 60, rapid) / FEED_STEP) * FEED_STEP
    return feed or None


@dataclass(frozen=True, slots=True)
class DerivedSearch:
    """What follows for a device's touches. ``delay``: seconds from its switching to the latch; ``push``: how far the search pushes it from
    the contact, ``within``: how far it may; mm. ``fastest``: the fastest search that stays within, mm/min, None where none does."""

    delay: float
    push: float
    within: float
    fastest: float | None


def search_derivations(
    device: TouchDevice,
    where: str,
    search: DerivedSearch,
    acceleration: Term,
    lag: tuple[str, str],
    limits: tuple[Term, ...],
) -> dict[str, Derivation]:
    """How the figures of a device come about; ``where`` it is in the Setup (JSON pointer). ``lag``: what holds the delay already, a name,
    and what takes it out; ``limits``: what else limits the search beside the back-off."""
    feed = Term("search feed", device.search_feed, "mm/min", f"{where}/search_feed")
    measuring = Term("measuring feed", device.measure_feed, "mm/min", f"{where}/measure_feed")
    wait = Term("delay: filter and latency", search.delay, "s", "/machine/latency")
    travel = Term("trigger travel", device.trigger_travel, "mm", f"{where}/trigger_travel")
    back = Term("back-off", device.back_off, "mm", f"{where}/back_off")
    holds, removed = lag
    return {
        "push": Derivation(
            "The search pushes it",
            search.push,
            "mm",
            "trigger travel + v·delay + v²/(2·acceleration)",
            (travel, feed, wait, acceleration),
        ),
        "lag": Derivation(
            f"In the {holds} already",
            device.measure_feed / 60 * search.delay + device.trigger_travel,
            "mm",
            f"trigger travel + v·delay at the measuring feed; it repeats, and {removed} at the same feed takes it out",
            (travel, measuring, wait),
        ),
        "fastest": Derivation(
            "Fastest search",
            search.fastest,
            "mm/min",
            "the feed at which it is pushed by the overtravel allowed, or by the back-off less 0.2 mm"
            if search.fastest
            else "none: the trigger travel alone is more than the overtravel allowed or the back-off",
            (*limits, back, travel, wait, acceleration),
            f"down to steps of {FEED_STEP:g} mm/min",
        ),
    }
