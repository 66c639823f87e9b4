"""What follows from a thread-on rack."""

from dataclasses import dataclass

from orthotrope.calc.coupling import ThreadCouplingInput, ThreadCouplingOutput, thread_coupling
from orthotrope.calc.derived import DERIVING, Derivation, DerivedChanger, StoredFeed, Term, climb
from orthotrope.calc.rack import block_of, pockets_of, storage_of, taking_of
from orthotrope.kinds.thread_on.model import ThreadOn, ThreadSection
from orthotrope.setup import Setup
from orthotrope.setup.changer import Heights


@dataclass(frozen=True, slots=True, kw_only=True)
class DerivedThread(DerivedChanger):
    """With what the coupling comes to."""

    coupling: ThreadCouplingOutput

    def looked_at(self) -> tuple[object, ...]:
        return *DerivedChanger.looked_at(self), self.coupling.ideal_feed, self.coupling.feed_limit


@DERIVING.register("thread-on")
def derive(setup: Setup, changer: ThreadOn) -> DerivedThread:
    """All that follows from a thread-on rack."""
    thread, rack, heights = changer.coupling, changer.rack, changer.heights
    ladder, (pockets, row) = climb(setup, changer), pockets_of(rack)
    coupling = thread_coupling(
        ThreadCouplingInput(
            lead=thread.lead,
            speed=thread.speed,
            feed=thread.feed,
            engaged_length=thread.engaged_length,
            acceleration=setup.machine.axes.upright.acceleration,
            approach_gap=max(0.0, heights.hover_gap - thread.engaged_length),
            speed_cap=thread.speed_cap,
            lift_allowed=thread.lift_allowed,
            observed_lift=thread.observed_lift,
        )
    )
    outline = block_of(rack, pockets)
    return DerivedThread(
        **ladder.shared(changer, thread.engaged_length),
        pockets=pockets,
        coupling=coupling,
        middle=outline.middle,
        outline=outline,
        rack_top_z=ladder.heights.couple_z - rack.top_below_nose,
        workings={**row, **ladder.workings, **_derivations(setup, thread, coupling, heights)},
        storage=storage_of(rack, "nut", thread.nut_diameter, thread.hole_diameter, thread.bore_depth),
        taking=taking_of(rack, pockets, StoredFeed(thread.feed, "/changer/coupling/feed", "coupling feed")),
    )


def greatest_lift(thread_lift: float, engaged: float, feed: float, acceleration: float, ideal: float) -> float:
    """The nut's greatest displacement while the thread runs on, mm, positive: drawn up.

    While Z is at its feed v the nut moves by (lead·speed − v)·t; in the ramp at the bottom Z slows down by a·t²/2 more.
    The thread is tight when turns·lead reaches the engaged length, which in the ramp is before Z stands. At or below
    the ideal feed the greatest is reached when it is tight; above it, where Z and the thread are equally fast.
    """
    v, rate = feed / 60, ideal / 60
    ramp_seconds = v / acceleration
    at_speed = engaged - v * ramp_seconds / 2  # the way that Z has gone since the thread met, when its ramp begins
    if at_speed <= 0:
        return thread_lift
    begin = at_speed / v
    if engaged / rate <= begin:  # tight before the ramp begins
        return thread_lift
    candidates = [(rate - v) * begin]
    tight = engaged / rate - begin

    def lift(t: float) -> float:
        return (rate - v) * (begin + t) + acceleration * t * t / 2

    candidates.append(lift(min(tight, ramp_seconds)))
    turning_point = (v - rate) / acceleration
    if 0 < turning_point < min(tight, ramp_seconds):
        candidates.append(lift(turning_point))
    return max(candidates, key=abs)


def _derivations(
    setup: Setup, thread: ThreadSection, result: ThreadCouplingOutput, heights: Heights
) -> dict[str, Derivation]:
    terms = _Terms(setup, thread, result)
    speeding_up = Term(
        "seconds to speed", setup.machine.spindle.seconds_to_speed, "s", "/machine/spindle/seconds_to_speed"
    )
    hover_gap = Term("hover gap", heights.hover_gap, "mm", "/changer/heights/hover_gap")
    return {
        "approach_gap": Derivation(
            "Approach gap",
            heights.hover_gap - thread.engaged_length,
            "mm",
            "hover gap − engaged thread",
            (hover_gap, terms.engaged),
        ),
        **_lifts(thread, result, terms),
        **_feeds(thread, result, terms),
        "turns": Derivation("Turns", result.turns, "", "engaged thread/lead", (terms.engaged, terms.lead)),
        "speed_seconds": Derivation(
            "Time to speed",
            _speed_seconds(setup, thread.speed),
            "s",
            "seconds to speed · speed/greatest speed",
            (speeding_up, terms.speed),
        ),
    }


class _Terms:
    """What the workings of the coupling come from."""

    def __init__(self, setup: Setup, thread: ThreadSection, result: ThreadCouplingOutput):
        self._thread = thread
        self.lead, self.speed = self.of("lead", "lead", "mm"), self.of("speed", "speed", "rev/min")
        self.feed, self.engaged = self.of("feed", "feed", "mm/min"), self.of("engaged thread", "engaged_length", "mm")
        self.allowed = self.of("lift allowed", "lift_allowed", "mm")
        self.ideal = Term("ideal feed", result.ideal_feed, "mm/min")
        z = setup.machine.axes.upright.acceleration
        self.acceleration = Term("acceleration of Z", z, "mm/s²", "/machine/axes/Z/acceleration")

    def of(self, name: str, key: str, unit: str) -> Term:
        """A number of the coupling."""
        return Term(name, getattr(self._thread, key), unit, f"/changer/coupling/{key}")


def _lifts(thread: ThreadSection, result: ThreadCouplingOutput, terms: _Terms) -> dict[str, Derivation]:
    greatest = greatest_lift(
        result.lift, thread.engaged_length, thread.feed, terms.acceleration.value, result.ideal_feed
    )
    end_formula = (
        "v²/(8 · acceleration), v the ideal feed in mm/s"
        if result.end_lift is not None
        else "the ramp at the ideal feed is longer than the engaged thread; see the run"
    )
    steady = (terms.engaged, terms.feed, terms.ideal)
    return {
        "lift": Derivation("Lift, steady", result.lift, "mm", "engaged thread · (1 − feed/ideal feed)", steady),
        "end_lift": Derivation("Lift, end ramp", result.end_lift, "mm", end_formula, (terms.ideal, terms.acceleration)),
        "greatest_lift": Derivation(
            "Nut moves",
            greatest,
            "mm",
            "the greatest of turns · lead − way of Z, end ramp included",
            (*steady, terms.acceleration),
        ),
    }


def _feeds(thread: ThreadSection, result: ThreadCouplingOutput, terms: _Terms) -> dict[str, Derivation]:
    fastest = min(result.ideal_feed, result.feed_limit) if result.feed_limit > 0 else 0.0
    observed = thread.observed_lift is not None
    corrected = (terms.feed, terms.of("observed lift", "observed_lift", "mm"), terms.engaged) if observed else ()
    return {
        "ideal_feed": Derivation("Ideal feed", result.ideal_feed, "mm/min", "lead · speed", (terms.lead, terms.speed)),
        "feed_limit": Derivation(
            "Fastest good feed",
            fastest,
            "mm/min",
            "60 · √(8 · acceleration · lift allowed), but no more than the ideal feed",
            (terms.acceleration, terms.allowed, terms.ideal),
        ),
        "corrected_feed": Derivation(
            "Corrected feed",
            result.corrected_feed,
            "mm/min",
            "feed/(1 − observed lift/engaged thread)" if observed else "ideal feed",
            corrected or (terms.ideal,),
        ),
        "ramp_distance": Derivation(
            "Ramp", result.ramp_distance, "mm", "(feed/60)²/(2 · acceleration)", (terms.feed, terms.acceleration)
        ),
    }


def _speed_seconds(setup: Setup, speed: float) -> float:
    spindle = setup.machine.spindle
    return spindle.seconds_to_speed * speed / spindle.greatest_speed
