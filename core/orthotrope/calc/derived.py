"""Everything that follows from a Setup: pockets, heights, coupling, each number with its working.

The interface answers "why is this number this?" from here; the planners and the checks take their numbers from here.
"""

import math
from dataclasses import dataclass
from typing import Any

from orthotrope.calc.coupling import ThreadCouplingInput, ThreadCouplingOutput, thread_coupling
from orthotrope.calc.heights import HeightLadderInput, HeightLadderOutput, height_ladder
from orthotrope.calc.pockets import Pocket, RackPocketsInput, rack_pockets
from orthotrope.setup import Setup
from orthotrope.setup.changer import Changer
from orthotrope.setup.tools import Tool


@dataclass(frozen=True, slots=True)
class Term:
    """One input of a working: ``where`` it stands in the Setup (JSON pointer), or "" where it is itself derived."""

    name: str
    value: float
    unit: str
    where: str = ""


@dataclass(frozen=True, slots=True)
class Working:
    """A derived quantity and how it came about. ``value`` is None where it can't be had, and ``formula`` says why."""

    name: str
    value: float | None
    unit: str
    formula: str
    terms: tuple[Term, ...]
    rounding: str = "not rounded"

    def as_json(self) -> dict[str, Any]:
        terms = [{"name": t.name, "value": t.value, "unit": t.unit, "where": t.where} for t in self.terms]
        return {"name": self.name, "value": self.value, "unit": self.unit, "formula": self.formula,
                "terms": terms, "rounding": self.rounding}  # fmt: skip


@dataclass(frozen=True, slots=True)
class DerivedChanger:
    """What follows from a changer: its pockets (in order), the ladder, the coupling, and each number's working by key.

    ``nut_top_z`` is the top of a stored nut, ``rack_top_z`` of the block; ``approach_gap`` is from hover to where the
    thread meets (negative: the nose hovers inside the nut); mm.
    """

    pockets: tuple[Pocket, ...]
    ladder: HeightLadderOutput
    coupling: ThreadCouplingOutput
    longest: Tool | None
    longest_length: float
    park_z: float
    approach_gap: float
    nut_top_z: float
    rack_top_z: float
    workings: dict[str, Working]

    def pocket(self, number: int) -> Pocket:
        return self.pockets[number - 1]


def derive(setup: Setup) -> DerivedChanger | None:
    """All that follows from the Setup's changer; None while it has none. Pure: the same Setup, the same result."""
    changer = setup.changer
    return _derive_rack(setup, changer) if changer else None


def _derive_rack(setup: Setup, changer: Changer) -> DerivedChanger:
    rack, heights, thread = changer.rack, changer.heights, changer.coupling
    z_axis = setup.machine.axes.Z
    pockets = rack_pockets(
        RackPocketsInput(datum=rack.datum, bearing_deg=rack.bearing_deg, pitch=rack.pitch, count=rack.count)
    ).pockets
    if rack.single_positions:
        taught = {entry.pocket: entry for entry in rack.taught}
        pockets = [
            Pocket(pocket=p.pocket, x=taught[p.pocket].x, y=taught[p.pocket].y) if p.pocket in taught else p for p in pockets
        ]
    stored = setup.stored()
    longest = max(stored, key=lambda tool: tool.length) if stored else None
    longest_length = longest.length if longest else heights.planned_longest
    ladder = height_ladder(HeightLadderInput(
        touch_z=heights.touch_z, recess=heights.recess, hover_gap=heights.hover_gap, stored_top_z=heights.stored_top_z,
        longest_tool=longest_length, margin=heights.margin, z_top=z_axis.soft_greatest,
        pocket_depth=heights.pocket_depth))  # fmt: skip
    approach_gap = heights.hover_gap - thread.engaged_length
    coupling = thread_coupling(ThreadCouplingInput(
        lead=thread.lead, speed=thread.speed, feed=thread.feed, engaged_length=thread.engaged_length,
        acceleration=z_axis.acceleration, approach_gap=max(0.0, approach_gap), speed_cap=thread.speed_cap,
        lift_allowed=thread.lift_allowed, observed_lift=thread.observed_lift))  # fmt: skip
    workings = {
        "row_length": Working(
            "Row",
            rack.pitch * (rack.count - 1),
            "mm",
            "pitch · (pockets − 1)",
            (Term("pitch", rack.pitch, "mm", "/changer/rack/pitch"), Term("pockets", rack.count, "", "/changer/rack/count")),
        ),
        **_height_workings(setup, changer, ladder, longest, longest_length),
        **_coupling_workings(setup, changer, coupling, approach_gap),
    }
    return DerivedChanger(
        pockets=tuple(pockets), ladder=ladder, coupling=coupling, longest=longest, longest_length=longest_length,
        park_z=heights.park_z, approach_gap=approach_gap, nut_top_z=ladder.couple_z + thread.engaged_length,
        rack_top_z=ladder.couple_z - rack.top_below_nose, workings=workings)  # fmt: skip


def _height_workings(
    setup: Setup, changer: Changer, ladder: HeightLadderOutput, longest: Tool | None, longest_length: float
) -> dict[str, Working]:
    heights, base = changer.heights, "/changer/heights"

    def term(name: str, key: str) -> Term:
        return Term(name, getattr(heights, key), "mm", f"{base}/{key}")

    if longest:
        index = [tool.number for tool in setup.tools].index(longest.number)
        reach = Term(f"longest tool, T{longest.number}", longest_length, "mm", f"/tools/{index}/length")
    else:
        reach = Term("longest tool, planned", longest_length, "mm", f"{base}/planned_longest")
    top, margin = term("stored top", "stored_top_z"), term("margin", "margin")
    couple = Term("couple", ladder.couple_z, "mm")
    room = setup.machine.axes.Z.soft_greatest - ladder.carry_z
    fits = f"{room:.3f} mm below the top of travel" if room >= 0 else f"{-room:.3f} mm above the top of travel"
    return {
        "couple_z": Working("Couple", ladder.couple_z, "mm", "nose on spacer − rack sunk by",
                            (term("nose on spacer", "touch_z"), term("rack sunk by", "recess"))),
        "hover_z": Working("Hover", ladder.hover_z, "mm", "couple + hover gap", (couple, term("hover gap", "hover_gap"))),
        "empty_z": Working("Empty", ladder.empty_z, "mm", "stored top + margin", (top, margin)),
        "carry_z": Working("Carry", ladder.carry_z, "mm", f"stored top + longest tool + margin; {fits}",
                           (top, reach, margin)),
        "riser": Working("Riser", ladder.riser, "mm", "longest tool − pocket depth, or 0 where it fits",
                         (reach, term("pocket depth", "pocket_depth"))),
    }  # fmt: skip


def greatest_lift(thread_lift: float, engaged: float, feed: float, acceleration: float,
                  ideal: float) -> float:  # fmt: skip
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


def _coupling_workings(setup: Setup, changer: Changer, result: ThreadCouplingOutput, approach_gap: float) -> dict[str, Working]:
    thread, base = changer.coupling, "/changer/coupling"

    def term(name: str, key: str, unit: str) -> Term:
        return Term(name, getattr(thread, key), unit, f"{base}/{key}")

    lead, speed, feed = term("lead", "lead", "mm"), term("speed", "speed", "rev/min"), term("feed", "feed", "mm/min")
    engaged = term("engaged thread", "engaged_length", "mm")
    acceleration = Term("acceleration of Z", setup.machine.axes.Z.acceleration, "mm/s²", "/machine/axes/Z/acceleration")
    allowed = term("lift allowed", "lift_allowed", "mm")
    ideal = Term("ideal feed", result.ideal_feed, "mm/min")
    greatest = greatest_lift(result.lift, thread.engaged_length, thread.feed, acceleration.value,
                             result.ideal_feed)  # fmt: skip
    end_formula = (
        "v²/(8 · acceleration), v the ideal feed in mm/s"
        if result.end_lift is not None
        else "the ramp at the ideal feed is longer than the engaged thread; see the run"
    )
    fastest = min(result.ideal_feed, result.feed_limit) if result.feed_limit > 0 else 0.0
    corrected_terms: tuple[Term, ...] = (ideal,)
    if thread.observed_lift is not None:
        corrected_terms = (feed, term("observed lift", "observed_lift", "mm"), engaged)
    return {
        "approach_gap": Working("Approach gap", approach_gap, "mm", "hover gap − engaged thread", (
            Term("hover gap", changer.heights.hover_gap, "mm", "/changer/heights/hover_gap"), engaged)),
        "ideal_feed": Working("Ideal feed", result.ideal_feed, "mm/min", "lead · speed", (lead, speed)),
        "lift": Working("Lift, steady", result.lift, "mm", "engaged thread · (1 − feed/ideal feed)", (engaged, feed, ideal)),
        "end_lift": Working("Lift, end ramp", result.end_lift, "mm", end_formula, (ideal, acceleration)),
        "greatest_lift": Working("Nut moves", greatest, "mm", "the greatest of turns · lead − way of Z, end ramp included",
                                 (engaged, feed, ideal, acceleration)),
        "feed_limit": Working("Fastest good feed", fastest, "mm/min",
                              "60 · √(8 · acceleration · lift allowed), but no more than the ideal feed",
                              (acceleration, allowed, ideal)),
        "corrected_feed": Working("Corrected feed", result.corrected_feed, "mm/min",
                                  "ideal feed" if thread.observed_lift is None
                                  else "feed/(1 − observed lift/engaged thread)", corrected_terms),
        "ramp_distance": Working("Ramp", result.ramp_distance, "mm", "(feed/60)²/(2 · acceleration)", (feed, acceleration)),
        "turns": Working("Turns", result.turns, "", "engaged thread/lead", (engaged, lead)),
        "speed_seconds": Working("Time to speed", _speed_seconds(setup, thread.speed), "s",
                                 "seconds to speed · speed/greatest speed",
                                 (Term("seconds to speed", setup.machine.spindle.seconds_to_speed, "s",
                                       "/machine/spindle/seconds_to_speed"), speed)),
    }  # fmt: skip


def _speed_seconds(setup: Setup, speed: float) -> float:
    spindle = setup.machine.spindle
    return spindle.seconds_to_speed * speed / spindle.greatest_speed


def block_corners(setup: Setup, derived: DerivedChanger) -> tuple[tuple[float, float], float, float, float]:
    """The rack's block in plan: middle, length along the bearing, width across it (mm), and the bearing (degrees)."""
    assert setup.changer is not None
    rack = setup.changer.rack
    first, last = derived.pockets[0], derived.pockets[-1]
    middle = ((first.x + last.x) / 2, (first.y + last.y) / 2)
    return middle, math.dist((first.x, first.y), (last.x, last.y)) + 2 * rack.end, rack.width, rack.bearing_deg
