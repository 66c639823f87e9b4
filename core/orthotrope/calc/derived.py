"""Everything that follows from a Setup: pockets, heights, coupling, each number with its working.

The interface answers "why is this number this?" from here; the planners and the checks take their numbers from here.
"""

import math
from dataclasses import dataclass
from typing import Any

from orthotrope.calc.coupling import ThreadCouplingInput, ThreadCouplingOutput, thread_coupling
from orthotrope.calc.geometry import Point, unit_vector
from orthotrope.calc.heights import HeightLadderInput, HeightLadderOutput, height_ladder
from orthotrope.calc.pockets import DiscPocketsInput, Pocket, RackPocketsInput, disc_pockets, rack_pockets
from orthotrope.setup import Setup
from orthotrope.setup.changer import Heights, Rack
from orthotrope.setup.styles import (
    ArmDisc,
    ByHand,
    Coupling,
    Disc,
    DiscChanger,
    MovingDisc,
    PocketChanger,
    ThreadOn,
)
from orthotrope.setup.tools import Tool
from orthotrope.units import with_unit


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
    """What follows from a changer: its pockets (in order), the ladder, the thread's coupling (None: it has a grip), and each
    number's working by key.

    A disc's pockets are where they are with the disc at home and pocket 1 in front; who changes tools by hand has none.
    ``stored_top_z`` is the top of a stored tool: of its nut, or of its knob; ``rack_top_z`` of the block; ``approach_gap`` is
    from hover to where the thread meets (negative: the nose hovers inside the nut), or with a grip to the knob; mm.
    """

    pockets: tuple[Pocket, ...]
    ladder: HeightLadderOutput
    coupling: ThreadCouplingOutput | None
    longest: Tool | None
    longest_length: float
    park_z: float
    approach_gap: float
    stored_top_z: float
    rack_top_z: float
    workings: dict[str, Working]

    def pocket(self, number: int) -> Pocket:
        return self.pockets[number - 1]


def derive(setup: Setup) -> DerivedChanger | None:
    """All that follows from the Setup's changer; None while it has none. Pure: the same Setup, the same result."""
    changer = setup.changer
    if changer is None:
        return None
    return _derive_by_hand(setup, changer) if isinstance(changer, ByHand) else _derive_pockets(setup, changer)


def _derive_pockets(setup: Setup, changer: PocketChanger) -> DerivedChanger:
    heights = changer.heights
    z_axis = setup.machine.axes.Z
    stored = setup.stored()
    longest = max(stored, key=lambda tool: tool.length) if stored else None
    longest_length = longest.length if longest else heights.planned_longest
    ladder = height_ladder(HeightLadderInput(
        touch_z=heights.touch_z, recess=heights.recess, hover_gap=heights.hover_gap, stored_top_z=heights.stored_top_z,
        longest_tool=longest_length, margin=heights.margin, z_top=z_axis.soft_greatest,
        pocket_depth=heights.pocket_depth))  # fmt: skip
    coupling, grows = None, 0.0
    workings = _height_workings(setup, changer, ladder, longest, longest_length)
    if isinstance(changer, ThreadOn):
        thread, grows = changer.coupling, changer.coupling.engaged_length
        coupling = thread_coupling(ThreadCouplingInput(
            lead=thread.lead, speed=thread.speed, feed=thread.feed, engaged_length=thread.engaged_length,
            acceleration=z_axis.acceleration, approach_gap=max(0.0, heights.hover_gap - thread.engaged_length),
            speed_cap=thread.speed_cap, lift_allowed=thread.lift_allowed, observed_lift=thread.observed_lift))  # fmt: skip
        workings |= _coupling_workings(setup, thread, coupling, heights)
    else:
        grows = changer.grip.knob_height
        knob = Term("knob above the gauge line", grows, "mm", "/changer/grip/knob_height")
        gap = Term("hover gap", heights.hover_gap, "mm", "/changer/heights/hover_gap")
        workings["approach_gap"] = Working("Clear of the knob", heights.hover_gap - grows, "mm",
                                           "hover gap − knob above the gauge line", (gap, knob))  # fmt: skip
    rack_top = ladder.couple_z
    if isinstance(changer, DiscChanger):
        pockets, more = _disc(changer)
    else:
        pockets, more = _rack(changer.rack)
        rack_top -= changer.rack.top_below_nose
    return DerivedChanger(
        pockets=tuple(pockets), ladder=ladder, coupling=coupling, longest=longest, longest_length=longest_length,
        park_z=heights.park_z, approach_gap=heights.hover_gap - grows, stored_top_z=ladder.couple_z + grows,
        rack_top_z=rack_top, workings={**more, **workings})  # fmt: skip


def _rack(rack: Rack) -> tuple[list[Pocket], dict[str, Working]]:
    pockets = rack_pockets(RackPocketsInput(datum=rack.datum, bearing_deg=rack.bearing_deg, pitch=rack.pitch, count=rack.count,
                                            rows=rack.rows, row_pitch=rack.row_pitch)).pockets  # fmt: skip
    if rack.single_positions:
        taught = {entry.pocket: entry for entry in rack.taught}
        pockets = [
            Pocket(pocket=p.pocket, x=taught[p.pocket].x, y=taught[p.pocket].y) if p.pocket in taught else p for p in pockets
        ]
    pitch = Term("pitch", rack.pitch, "mm", "/changer/rack/pitch")
    count = Term("pockets in a row", rack.count, "", "/changer/rack/count")
    row = Working("Row", rack.pitch * (rack.count - 1), "mm", "pitch · (pockets − 1)", (pitch, count))
    return pockets, {"row_length": row}


def disc_centre(changer: DiscChanger, swung: bool) -> tuple[float, float]:
    """The disc's middle in plan, mm: with its pocket at the exchange place where it is ``swung`` out, else at home; with an arm
    it stands two hands' reach behind."""
    cos, sin = unit_vector(changer.disc.bearing_deg)
    back = changer.disc.radius
    if isinstance(changer, ArmDisc):
        back += 2 * changer.arm.reach
    elif isinstance(changer, MovingDisc) and not swung:
        back += changer.swing
    return changer.exchange.x - back * cos, changer.exchange.y - back * sin


def turn_steps(disc: Disc, here: int, there: int) -> int:
    """Steps from one pocket to another in front, by the way that the disc turns."""
    forwards = (there - here) % disc.count
    return forwards if disc.way == "forwards" else min(forwards, disc.count - forwards)


def _disc(changer: DiscChanger) -> tuple[list[Pocket], dict[str, Working]]:
    disc = changer.disc
    x, y = disc_centre(changer, swung=False)
    pockets = disc_pockets(DiscPocketsInput(centre=Point(x=x, y=y), radius=disc.radius, count=disc.count,
                                            first_bearing_deg=disc.bearing_deg, sense=disc.sense)).pockets  # fmt: skip
    radius = Term("radius", disc.radius, "mm", "/changer/disc/radius")
    count = Term("pockets", disc.count, "", "/changer/disc/count")
    step = Term("one step", disc.seconds_per_step, "s", "/changer/disc/seconds_per_step")
    most = disc.count // 2 if disc.way == "shorter" else disc.count - 1
    return pockets, {
        "pocket_pitch": Working("Pockets apart", 2 * disc.radius * math.sin(math.pi / disc.count), "mm",
                                "2 · radius · sin(180°/pockets)", (radius, count)),
        "longest_turn": Working("Longest turn", most * disc.seconds_per_step, "s",
                                "half the pockets, whole steps · one step" if disc.way == "shorter"
                                else "(pockets − 1) · one step", (count, step)),
    }  # fmt: skip


def _derive_by_hand(setup: Setup, changer: ByHand) -> DerivedChanger:
    """All heights are the loading place's."""
    tools = setup.exchangeable()
    longest = max(tools, key=lambda tool: tool.length) if tools else None
    length = longest.length if longest else 0.0
    terms = [Term("room", changer.room, "mm", "/changer/room")]
    if longest:
        index = [tool.number for tool in setup.tools].index(longest.number)
        terms.append(Term(f"longest tool, T{longest.number}", length, "mm", f"/tools/{index}/length"))
    z = changer.z
    ladder = HeightLadderOutput(couple_z=z, hover_z=z, empty_z=z, carry_z=z, carry_possible=True,
                                riser=max(0.0, length - changer.room))  # fmt: skip
    return DerivedChanger(
        pockets=(), ladder=ladder, coupling=None, longest=longest, longest_length=length, park_z=z, approach_gap=0.0,
        stored_top_z=z, rack_top_z=z,
        workings={"spare_room": Working("Room to spare", changer.room - length, "mm", "room − longest tool",
                                        tuple(terms))})  # fmt: skip


def _height_workings(
    setup: Setup, changer: PocketChanger, ladder: HeightLadderOutput, longest: Tool | None, longest_length: float
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
    fits = f"{with_unit(room)} below the top of travel" if room >= 0 else f"{with_unit(-room)} above the top of travel"
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


def _coupling_workings(setup: Setup, thread: Coupling, result: ThreadCouplingOutput, heights: Heights) -> dict[str, Working]:
    base = "/changer/coupling"

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
        "approach_gap": Working("Approach gap", heights.hover_gap - thread.engaged_length, "mm", "hover gap − engaged thread", (
            Term("hover gap", heights.hover_gap, "mm", "/changer/heights/hover_gap"), engaged)),
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


def block_corners(rack: Rack, derived: DerivedChanger) -> tuple[tuple[float, float], float, float, float]:
    """The rack's block in plan: middle, length along the bearing, width across it (mm), and the bearing (degrees)."""
    first, end, last = derived.pockets[0], derived.pockets[rack.count - 1], derived.pockets[-1]
    middle = ((first.x + last.x) / 2, (first.y + last.y) / 2)
    length = math.dist((first.x, first.y), (end.x, end.y)) + 2 * rack.end
    return middle, length, rack.width + (rack.rows - 1) * rack.row_pitch, rack.bearing_deg
