"""Touches, inputs, hard stops and play of the virtual machine; and a run that is stopped from outside."""

import math
from dataclasses import replace

import pytest
from demo_setup import demo
from hypothesis import given
from hypothesis import strategies as st
from orthotrope.calc.wiring import InputStatesInput, InputTestInput, as_tested, input_states, input_test, seen
from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun, run_program
from orthotrope.machine.inputs import Inputs, WorldInput
from orthotrope.machine.report import trace_as_json
from orthotrope.machine.run import Call, Run
from orthotrope.machine.shapes import BoxBody, StackPart
from orthotrope.machine.stops import Crashed, CutShort
from orthotrope.machine.virtual import VirtualMachine
from orthotrope.machine.world import World, WorldAxis, WorldSpindle, WorldTool
from orthotrope.program.reader import read_text
from orthotrope.proof.exchanges import exchange_case
from orthotrope.proof.review import make_case, review
from orthotrope.proof.verdicts import judge_faults
from orthotrope.setup import read_setup
from orthotrope.setup.control import find_profile
from orthotrope.setup.roles import INPUT_ROLES

PROFILE = find_profile("parametric")
AXIS = WorldAxis("X", -200.0, 200.0, 6000.0, 400.0, 0.0)
PLATE = BoxBody("the plate", 0.0, 0.0, 30.0, 30.0, 1.0, 0.0, -100.0, -80.0, makes=1, give=2.0)
WORLD = World(
    axes=(AXIS, AXIS, AXIS),
    spindle=WorldSpindle(10_000.0, 1.0, (StackPart("the nose", 11.0, 0.0, 40.0),)),
    tools={1: WorldTool(1, "stylus", 50.0, 50.0, 30.0, 3.0)},
    work_offsets={1: (5.0, 6.0, -70.0)},
    bodies=(PLATE,),
    inputs=Inputs([WorldInput(1, "plate", "touch plate", "normally open", "low")]),
    latency=0.003,
    pre_travel=0.01,
)


def run(text: str, world: World = WORLD, **lead: str) -> Run:
    control = Control(PROFILE, world, Call(at=(0.0, 0.0, 0.0), from_tool=1))
    control.machine.signals.leads.update({1: lead["lead"]} if lead else {})  # type: ignore[dict-item]
    return ProgramRun(read_text(text), control).go()


@given(st.floats(20, 1500), st.floats(0, 0.01), st.floats(0, 0.05))
def test_contact_latched_and_stopped_are_three(feed: float, latency: float, pre_travel: float) -> None:
    machine = VirtualMachine(replace(WORLD, latency=latency, pre_travel=pre_travel), (0.0, 0.0, -20.0), 1)
    touched = machine.touch((0.0, 0.0, -35.0), feed, 0)
    assert touched.latched is not None
    contact = -80.0 + 50.0
    v = feed / 60
    assert touched.latched[2] == pytest.approx(contact - pre_travel - v * latency, abs=3e-6)
    assert touched.stopped[2] == pytest.approx(touched.latched[2] - v * v / (2 * 400.0), abs=3e-6)
    assert machine.signals.is_made(WORLD.inputs[0])
    machine.move((0.0, 0.0, -20.0), "rapid", 0.0, 0, False)  # away from what is pressed nothing is met
    assert not machine.signals.is_made(WORLD.inputs[0])


def test_the_latched_position_is_in_part_coordinates_and_a_miss_is_reported() -> None:
    done = run("G21 G90 G38.2 Z5 F60\n#100 = #5063\n#101 = #170")
    assert done.trace.of_kind("set")[0].data["value"] == pytest.approx(-30 - 0.01 - 0.003 + 70, abs=1e-6)
    missed = run("G21 G90 G1 Z50 F2000\nG38.3 Z45 F60\n#101 = #170\n#102 = 7")
    assert [event.data["value"] for event in missed.trace.of_kind("set")] == [0, 7]
    stopped = run("G21 G90 G1 Z50 F2000\nG38.2 Z45 F60\n#102 = 7")
    assert (
        stopped.trace.ended == "stopped" and stopped.trace.of_kind("missed-touch") and not stopped.trace.of_kind("set")
    )


def test_the_trace_tells_the_inputs_of_each_segment() -> None:
    done = run("G21 G90 G38.2 Z5 F60\nG0 Z60\nG0 X20")
    reported = [segment["inputs"] for segment in trace_as_json(done.trace)["segments"]]
    assert reported == [{"plate": False}, {"plate": True}, {"plate": False}]


def test_a_dead_input_is_driven_in_and_a_made_one_does_not_begin() -> None:
    dead = run("G21 G90 G38.2 Z-10 F60", lead="broken")
    assert dead.trace.of_kind("overtravel-exceeded")[0].data == {"body": "the plate", "give": 2.0, "made": False}
    assert dead.trace.segments[-1].end[2] == pytest.approx(-32.0, abs=1e-5)  # as far as it gives, no further
    made = run("G21 G90 G38.2 Z-10 F60", lead="to ground")
    assert made.trace.of_kind("already-made") and not made.trace.segments


def test_a_fast_touch_pushes_further_than_it_gives() -> None:
    rigid = replace(WORLD, bodies=(replace(PLATE, give=0.1),))
    assert run("G21 G90 G38.2 Z-10 F2000", rigid).trace.of_kind("overtravel-exceeded")[0].data["made"] is True
    assert run("G21 G90 G38.2 Z5 F60", rigid).trace.of_kind("touch")


def test_a_program_reads_its_inputs_as_the_control_sees_them() -> None:
    text = "G21 G90 #101 = #181\nG38.2 Z5 F60\n#102 = #181\nG0 Z60\n#103 = #181"
    assert [event.data["value"] for event in run(text).trace.of_kind("set")] == [0, 1, 0]
    machine = VirtualMachine(WORLD, (0.0, 0.0, -20.0), 1)
    machine.move((0.0, 0.0, -31.0), "jog", 600.0, 0, False)
    assert machine.signals.is_made(WORLD.inputs[0])


@given(st.floats(0.01, 0.4), st.floats(1, 6))
def test_backlash_errs_by_itself_in_a_width_from_opposite_touches(play: float, radius: float) -> None:
    axis = replace(AXIS, backlash=play)
    world = replace(
        WORLD,
        axes=(axis, axis, axis),
        pre_travel=0.0,
        latency=0.0,
        tools={1: WorldTool(1, "stylus", 50.0, 50.0, 30.0, radius)},
    )
    found = []
    for start in (-60.0, 60.0):
        machine = VirtualMachine(world, (start, 0.0, -40.0), 1)
        touched = machine.touch((0.0, 0.0, -40.0), 60.0, 0)
        assert touched.latched is not None
        found.append(touched.latched[0])
    assert found[1] - found[0] == pytest.approx(60.0 + 2 * radius - play, abs=1e-5)


def test_an_axis_ends_at_its_hard_stop_and_tells_how_fast() -> None:
    axis = replace(AXIS, stop_greatest=150.0)
    machine = VirtualMachine(replace(WORLD, axes=(axis, AXIS, AXIS)), (0.0, 100.0, 0.0), 1)
    machine.axes.error = (0.4, 0.0, 0.0)
    with pytest.raises(Crashed):
        machine.move((190.0, 100.0, 0.0), "jog", 3000.0, 0, True)
    (event,) = machine.trace.of_kind("end-stop")
    assert machine.position[0] == pytest.approx(149.6) and event.data["speed"] == pytest.approx(3000)


TEXT = "G21 G90 G53 G0 X50 Y20\nM3 S2000\nG1 X-40 Y-30 F1500\nG4 P0.5\nG2 X0 Y0 I10 J10\nG38.2 Z5 F200\nG0 Z40\nM30"
WHOLE = run(TEXT)


@given(st.floats(0.001, 0.999))
def test_stopped_at_any_moment_it_stands_where_the_whole_run_was(part: float) -> None:
    moment = WHOLE.trace.seconds * part
    control = Control(PROFILE, WORLD, Call(at=(0.0, 0.0, 0.0), from_tool=1))
    running = ProgramRun(read_text(TEXT), control)
    kept = running.kept()
    while control.machine.t < moment and not running.over:
        kept = running.kept()
        running.step()
    running.again(kept, moment)
    assert control.machine.t == pytest.approx(moment, abs=1e-9)
    segment = next(s for s in WHOLE.trace.segments if s.t0 <= moment <= s.t1)
    assert math.dist(control.machine.position, segment.at(moment)) < 1e-6
    assert control.machine.deadline == math.inf


def test_a_cut_dwell_says_so() -> None:
    machine = VirtualMachine(WORLD, (0.0, 0.0, 0.0), 0)
    machine.deadline = 1.0
    with pytest.raises(CutShort):
        machine.dwell(3.0, 0)
    assert machine.t == 1.0


WIRINGS, LEVELS = ("normally open", "normally closed"), ("high", "low")


@pytest.mark.parametrize("role", ["setter", "grip closed", "air"])
@pytest.mark.parametrize("wiring", WIRINGS)
@pytest.mark.parametrize("level", LEVELS)
def test_the_safe_wiring_notices_a_broken_lead_and_no_other_does(role: str, wiring: str, level: str) -> None:
    states = input_states(InputStatesInput(role=role, wiring=wiring, level=level))  # type: ignore[arg-type]
    safe = (states.safe_wiring, states.safe_level) == (wiring, level)
    assert states.broken_noticed == safe
    assert states.reversed == (states.idle == "made") and (states.idle == states.made) is False
    assert states.lead_broken == ("made" if level == "high" else "idle")
    if safe:
        assert (states.lead_broken == "made") == INPUT_ROLES[role].touch


@pytest.mark.parametrize("stated", WIRINGS)
@pytest.mark.parametrize("real", WIRINGS)
@pytest.mark.parametrize("level", LEVELS)
def test_what_a_test_shows_mends_the_wiring_and_the_level(stated: str, real: str, level: str) -> None:
    """Whatever is stated, after the fix of a test the control sees the contact as it is, and the Setup states its
    wiring if it had stated a consistent one before."""
    word = {True: "made", False: "idle"}
    reported = [word[seen(real, level, made)] for made in (False, True, False)]  # type: ignore[arg-type]
    judged = input_test(InputTestInput(idle=reported[0], made=reported[1], idle_again=reported[2]))  # type: ignore[arg-type]
    wiring, fixed = as_tested(stated, level, judged.outcome)  # type: ignore[arg-type]
    assert not seen(real, fixed, False) and seen(real, fixed, True)  # type: ignore[arg-type]
    if not seen(stated, level, False):  # type: ignore[arg-type]
        assert wiring == real


def test_the_halfway_touch_of_the_bare_machine_is_as_before() -> None:
    bare = replace(WORLD, bodies=(), inputs=Inputs())
    done = run_program(
        read_text("G21 G90 G38.2 Z50 F60\n#1 = #5063"), PROFILE, bare, Call(at=(0.0, 0.0, 0.0), from_tool=1)
    )
    assert done.trace.of_kind("set")[0].data["value"] == pytest.approx(60.0)


@pytest.mark.parametrize(
    ("fault", "reported"),
    [
        ("none", {"failure-continues"}),  # it touches, stores nothing and says nothing
        ("touch-input-dead", {"overtravel-exceeded"}),
        ("touch-input-stuck", {"already-made"}),
        ("touch-input-inverted", {"already-made"}),
    ],
)
def test_a_touch_under_each_fault_of_its_input(fault: str, reported: set[str]) -> None:
    setup = read_setup(demo("heron"))
    text = "G21 G91\nG38.2 Z-60 F60\nG0 Z5\nG90\nM30"
    made = make_case(read_text(text), setup.profile, "measure", setup, 2, 9, fault)
    assert {f.check for f in review(made) if f.severity == "stop" and f.check != "setup-conflict"} == reported
    dunlin = read_setup(demo("dunlin"))  # its exchanges touch nothing
    assert not [
        result for result in judge_faults(exchange_case(dunlin, dunlin.profile, 2, 3)[1]) if "touch" in result.fault
    ]
