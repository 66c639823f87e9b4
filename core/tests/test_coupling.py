"""The thread, move by move: what a nut does when spindle and feed are right, and when they are not."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import pytest
from demo_setup import DOCUMENT
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from orthotrope.kinds.thread_on.derive import greatest_lift
from orthotrope.kinds.thread_on.machine import ThreadPockets
from orthotrope.machine.events import EventKind
from orthotrope.machine.executor import run_program
from orthotrope.machine.run import Call, Run
from orthotrope.machine.trace import Event
from orthotrope.machine.world import World
from orthotrope.program.reader import read_text
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.control import find_profile

PARAMETRIC = find_profile("parametric")
POCKET_3 = "X245.4 Y1187.5"
HOVER, COUPLE = "Z-130.85", "Z-144.35"


def run(world: World, *lines: str, tool: int = 0, at: tuple[float, float, float] = (245.4, 1187.5, -130.85)) -> Run:
    program = read_text("\n".join(("G21 G90", *lines)))
    assert program.readable
    return run_program(program, PARAMETRIC, world, Call(at, from_tool=tool))


def kinds(done: Run) -> list[str]:
    return [event.kind for event in done.trace.events if event.kind not in ("set", "spindle")]


def only(done: Run, kind: EventKind) -> Event:
    (event,) = done.trace.of_kind(kind)
    return event


def rack(world: World) -> ThreadPockets:
    assert isinstance(world.magazine, ThreadPockets)
    return world.magazine


@pytest.fixture
def world(heron: Setup) -> World:
    return nominal_world(heron)


SPIN_UP = ("M3 S1160", "G4 P0.3")
SPIN_BACK = ("M4 S1160", "G4 P0.3")


def test_a_pick_up_meets_grips_and_holds(world: World) -> None:
    done = run(world, *SPIN_UP, f"G53 G1 {COUPLE} F1450", "G4 P0.5", f"G53 G0 {HOVER}", "M5")
    assert kinds(done) == ["thread-meets", "gripped"]
    meets, gripped = only(done, "thread-meets"), only(done, "gripped")
    assert gripped.t - meets.t == pytest.approx(9.6 / 1.25 / (1160 / 60), abs=1e-6)  # turns at the coupling speed
    assert [tool for _, tool in done.trace.holding] == [0, None, 3]
    assert done.trace.ended == "end"


def test_the_thread_meets_where_nose_and_nut_touch(world: World) -> None:
    done = run(world, *SPIN_UP, f"G53 G1 {COUPLE} F1450", "G4 P1")
    meets = only(done, "thread-meets")
    segment = next(s for s in done.trace.segments if s.t0 <= meets.t <= s.t1 and s.kind == "feed")
    assert segment.at(meets.t)[2] == pytest.approx(rack(world).couple_z + rack(world).engaged, abs=1e-6)


def test_a_put_down_frees_the_nut_after_its_turns_from_where_the_flats_catch(world: World) -> None:
    done = run(world, *SPIN_BACK, f"G53 G1 {COUPLE} F1450", "G4 P0.5", f"G53 G0 {HOVER}", tool=3)
    assert kinds(done) == ["thread-leaves", "freed"]
    leaves, freed = only(done, "thread-leaves"), only(done, "freed")
    assert freed.t - leaves.t == pytest.approx(9.6 / 1.25 / (1160 / 60), abs=1e-6)
    segment = next(s for s in done.trace.segments if s.t0 <= leaves.t <= s.t1 and s.kind == "feed")
    assert segment.at(leaves.t)[2] == pytest.approx(rack(world).couple_z + rack(world).flats, abs=1e-6)


def test_down_and_up_again_with_the_same_tool_is_possible(world: World) -> None:
    down = (f"G53 G1 {COUPLE} F1450", "G4 P0.5", f"G53 G0 {HOVER}", "M5", "G4 P0.3")
    done = run(world, *SPIN_BACK, *down, *SPIN_UP, *down, tool=3)
    assert kinds(done) == ["thread-leaves", "freed", "thread-meets", "gripped"]
    assert done.trace.held(done.trace.seconds) == 3 and done.trace.ended == "end"


@pytest.mark.parametrize(
    "lines, tool, kind, wanted",
    [
        ((f"G53 G1 {COUPLE} F1450",), 0, "spindle-still", "forwards"),
        ((*SPIN_BACK, f"G53 G1 {COUPLE} F1450"), 0, "spindle-still", "forwards"),
        ((*SPIN_UP, f"G53 G1 {COUPLE} F1450"), 3, "spindle-still", "backwards"),
        ((f"G53 G1 {COUPLE} F1450", f"G53 G0 {HOVER}"), 3, "spindle-still", "backwards"),
    ],
)
def test_a_spindle_that_stands_or_turns_the_wrong_way(
    world: World, lines: tuple[str, ...], tool: int, kind: EventKind, wanted: str
) -> None:
    done = run(world, *lines, tool=tool)
    assert only(done, kind).data["wanted"] == wanted
    assert done.trace.ended == "stopped"


def test_coming_down_first_and_turning_then_also_puts_down(world: World) -> None:
    done = run(world, f"G53 G1 {COUPLE} F1450", *SPIN_BACK, "G4 P1", f"G53 G0 {HOVER}", tool=3)
    assert kinds(done) == ["thread-leaves", "freed"] and done.trace.ended == "end"


@pytest.mark.parametrize("fetching", [True, False])
def test_leaving_before_the_thread_is_through_pulls_at_the_pocket(world: World, fetching: bool) -> None:
    spin = SPIN_UP if fetching else SPIN_BACK
    done = run(world, *spin, f"G53 G1 {COUPLE} F2900", "M5", f"G53 G0 {HOVER}", tool=0 if fetching else 3)
    pulled = only(done, "moved-ungripped")
    assert pulled.data["fetching"] is fetching and 0 < pulled.data["engaged"] < rack(world).engaged
    height = done.trace.blocks[-1].position[2] - rack(world).couple_z
    assert height == pytest.approx(rack(world).engaged - pulled.data["engaged"] + rack(world).float_allowed, abs=1e-5)


def test_going_sideways_in_the_middle_of_the_thread_is_reported(world: World) -> None:
    done = run(world, *SPIN_UP, "G53 G1 Z-139 F1450", "G53 G0 X300")
    assert only(done, "moved-ungripped").data["tool"] == 3


def test_an_empty_pocket_gives_nothing_and_a_visit_without_turning_is_none(world: World) -> None:
    at = (654.9, 1187.5, -130.85)
    assert only(run(world, *SPIN_UP, f"G53 G1 {COUPLE} F1450", at=at), "pocket-empty").data["pocket"] == 10
    visit = run(world, f"G53 G1 {COUPLE} F1450", f"G53 G0 {HOVER}", at=at)
    assert kinds(visit) == [] and visit.trace.ended == "end"


def test_off_its_axis_the_nose_meets_the_nut_and_not_the_thread(world: World) -> None:
    near = run(world, *SPIN_UP, f"G53 G1 {COUPLE} F1450", "G4 P1", at=(245.6, 1187.5, -130.85))
    assert kinds(near) == ["thread-meets", "gripped"]
    off = run(world, *SPIN_UP, f"G53 G1 {COUPLE} F1450", at=(245.9, 1187.5, -130.85))
    assert only(off, "body-contact").data["body"] == "the nut of T3 in pocket 3"


def test_a_tool_put_into_a_pocket_that_has_one_stops_at_the_contact(world: World) -> None:
    done = run(world, *SPIN_BACK, f"G53 G1 {COUPLE} F1450", tool=5, at=(245.4, 1187.5, -40.0))
    occupied = only(done, "pocket-occupied")
    assert (occupied.data["tool"], occupied.data["stored"], occupied.data["pocket"]) == (5, 3, 3)
    tip = done.trace.blocks[-1].position[2] - 73.6
    assert tip == pytest.approx(rack(world).couple_z + rack(world).engaged, abs=1e-3)


def test_a_cutter_that_is_too_wide_meets_the_rack(heron_with: Callable[..., Setup]) -> None:
    wide = nominal_world(heron_with(tools__2__diameter=20.0))
    done = run(wide, *SPIN_BACK, f"G53 G1 {COUPLE} F1450", tool=3, at=(245.4, 1187.5, -40.0))
    assert only(done, "body-contact").data["body"] == "the rack"


def test_a_tool_that_is_too_long_meets_the_face_below(heron_with: Callable[..., Setup]) -> None:
    long = nominal_world(heron_with(changer__heights__pocket_depth=40.0))
    done = run(long, *SPIN_BACK, f"G53 G1 {COUPLE} F1450", tool=3, at=(245.4, 1187.5, -40.0))
    assert only(done, "body-contact").data["body"] == "the face below the rack"


def test_a_faster_spindle_draws_up_and_a_slower_pushes_down(world: World) -> None:
    def lift(speed: int) -> float:
        done = run(world, f"M3 S{speed}", "G4 P0.5", f"G53 G1 {COUPLE} F1450", "G4 P1")
        return float(only(done, "gripped").data["lift"])

    lifts = [lift(speed) for speed in (900, 1160, 1300, 1500)]
    assert lifts == sorted(lifts) and lifts[0] < 0 < lifts[1]


@settings(max_examples=60, deadline=None)
@given(feed=st.floats(300, 1500), speed=st.floats(400, 1800), acceleration=st.floats(100, 2500))
def test_run_and_formula_agree_wherever_the_feed_is_reached(feed: float, speed: float, acceleration: float) -> None:
    heron = nominal_world(read_setup(DOCUMENT))
    axis = replace(heron.axes[2], acceleration=acceleration, rapid=20_000.0)
    way = 13.5
    v = feed / 60
    assume(
        v * v / (2 * acceleration) <= 3.9 and v * v / acceleration <= way
    )  # reached before the thread meets; else: ramp-short
    world = replace(heron, axes=(heron.axes[0], heron.axes[1], axis))
    done = run(world, f"M3 S{speed:.4f}", "G4 P0.5", f"G53 G1 {COUPLE} F{feed:.6f}", "G4 P9")
    formula = greatest_lift(9.6 * (1 - feed / (1.25 * speed)), 9.6, feed, acceleration, 1.25 * speed)
    assert only(done, "gripped").data["lift"] == pytest.approx(formula, abs=2e-4)


def test_changing_the_tool_by_hand_puts_each_where_it_belongs(world: World) -> None:
    done = run(world, "T5 M6", "T0 M6", tool=3)
    assert [tool for _, tool in done.trace.holding] == [3, 5, 0]
    assert [e.data["tool"] for e in done.trace.of_kind("tool-changed")] == [5, 0]


def test_events_carry_the_place_and_the_line(world: World) -> None:
    done = run(world, *SPIN_UP, f"G53 G1 {COUPLE} F1450", "G4 P0.5")
    events: list[Any] = done.trace.of_kind("thread-meets", "gripped")
    assert [event.line for event in events] == [4, 4]
