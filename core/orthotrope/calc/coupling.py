"""A nut threaded on and off by the turning spindle."""

import math
from typing import ClassVar

from pydantic import model_validator

from orthotrope.calc.registry import Result, calculation
from orthotrope.errors import InputError
from orthotrope.units import in_unit, with_unit
from orthotrope.validation import Acceleration, Distance, Feed, Length, PositiveLength, Record, Speed


class ThreadCouplingInput(Record):
    lead: PositiveLength
    speed: Speed
    feed: Feed
    engaged_length: PositiveLength
    acceleration: Acceleration
    approach_gap: Distance
    speed_cap: Speed
    lift_allowed: Distance
    observed_lift: Length | None = None

    @model_validator(mode="after")
    def _lift_within_thread(self) -> "ThreadCouplingInput":
        if self.observed_lift is not None and self.observed_lift >= self.engaged_length:
            raise InputError.at(
                "/observed_lift",
                f"`observed_lift` must be below the engaged length, "
                f"{with_unit(self.engaged_length)}; got {in_unit(self.observed_lift)}.",
            )
        return self


class ThreadCouplingOutput(Result):
    optional: ClassVar[frozenset[str]] = frozenset()

    ideal_feed: Feed
    lift: Length
    end_lift: Length | None
    feed_limit: Distance
    corrected_feed: Feed
    ramp_distance: Distance
    ramp_fits: bool
    speed_allowed: bool
    turns: float


@calculation("thread-coupling", "ideal feed, lift and ramp of a nut that is threaded on by the turning spindle")
def thread_coupling(data: ThreadCouplingInput) -> ThreadCouplingOutput:
    """What the nut does while the thread runs on; mm, mm/min, positive lift: the nut is drawn up out of its pocket.

    ``lift`` is the steady part, engaged·(1 − feed/ideal). ``end_lift`` is what the ramp at the bottom adds at the ideal
    feed, v²/(8a) (v in mm/s): Z slows down while the spindle goes on; None where that ramp is longer than the engaged
    thread. ``feed_limit`` is the feed whose end lift is just the allowed one, 60·√(8·a·allowed).
    """
    ideal = data.lead * data.speed
    speed = ideal / 60.0
    ramp = (data.feed / 60.0) ** 2 / (2 * data.acceleration)
    corrected = ideal
    if data.observed_lift is not None:
        corrected = data.feed / (1 - data.observed_lift / data.engaged_length)
    return ThreadCouplingOutput(
        ideal_feed=ideal,
        lift=data.engaged_length * (1 - data.feed / ideal),
        end_lift=speed**2 / (8 * data.acceleration)
        if speed**2 / (2 * data.acceleration) <= data.engaged_length
        else None,
        feed_limit=60 * math.sqrt(8 * data.acceleration * data.lift_allowed),
        corrected_feed=corrected,
        ramp_distance=ramp,
        ramp_fits=ramp <= data.approach_gap,
        speed_allowed=data.speed <= data.speed_cap,
        turns=data.engaged_length / data.lead,
    )
