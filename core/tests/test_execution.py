"""Modes, offsets, cycles, stops, parameters: RS-274 as it is run, on the bare machine."""

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from orthotrope.machine.executor import run_program
from orthotrope.machine.motion import Arc
from orthotrope.machine.report import Scene, trace_as_json
from orthotrope.machine.run import Call, Run
from orthotrope.machine.stops import CutShort
from orthotrope.machine.virtual import VirtualMachine
from orthotrope.machine.world import World, bare_world
from orthotrope.program.reader import read_text
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup
from orthotrope.setup.control import find_profile

PROFILE = find_profile("parametric")
OFFSET = bare_world().work_offsets


def run(text: str, world: World | None = None, **call: Any) -> Run:
    program = read_text(text)
    assert program.readable, program.faults
    return run_program(program, PROFILE, world or bare_world(), Call(**call))


def place(text: str, **call: Any) -> tuple[float, ...]:
    done = run(text, **call)
    assert done.fault is None, done.fault
    return done.trace.blocks[-1].position


def part(text: str, axis: int = 0, offset: int = 1) -> float:
    return place(text)[axis] - OFFSET[offset][axis]


@pytest.mark.parametrize(
    "code, number", [(54, 1), (55, 2), (56, 3), (57, 4), (58, 5), (59, 6), (59.1, 7), (59.2, 8), (59.3, 9)]
)
def test_each_work_offset_has_its_own_zero_and_its_parameters(code: float, number: int) -> None:
    assert place(f"G21 G{code:g} G0 X1 Y2 Z3") == pytest.approx(
        [o + v for o, v in zip(OFFSET[number], (1, 2, 3), strict=True)]
    )
    assert place(f"G21 G53 G0 X#{5221 + 20 * (number - 1)}")[0] == pytest.approx(OFFSET[number][0])
    assert place(f"G21 G{code:g}\nG53 G0 X#5220")[0] == number


def test_an_offset_written_as_a_parameter_is_in_force() -> None:
    assert place("G21 #5221 = 40\nG0 X2")[0] == pytest.approx(42)


@given(st.floats(-300, 300), st.floats(-300, 300))
def test_a_program_in_inches_goes_where_the_same_in_millimetres_goes(x: float, y: float) -> None:
    text = "G{unit} G0 X{x:.6f} Y{y:.6f}\nG91 X{x:.6f}\nG90 G53 G0 Z#5223"
    metric = place(text.format(unit=21, x=x, y=y))
    inch = place(text.format(unit=20, x=x / 25.4, y=y / 25.4))
    assert inch == pytest.approx(metric, abs=1e-4)


def test_lengths_in_parameters_are_in_the_active_unit() -> None:
    assert place("G20 G53 G0 X#171", at=(50.8, 0.0, 0.0), unit=20)[0] == pytest.approx(50.8)
    assert place("G21\nG53 G0 X#171", at=(50.8, 0.0, 0.0), unit=20)[0] == pytest.approx(50.8)
    assert place("G53 G0 X#174 Y#175", unit=20, distance=91) == pytest.approx((20 * 25.4, 91 * 25.4, 0))


def test_feeds_per_minute_per_inch_and_inverse() -> None:
    def feed(text: str) -> float:
        return run(text).trace.segments[-1].feed

    assert feed("G21 G91 G1 X50 F300") == 300
    assert feed("G20 G91 G1 X2 F12") == pytest.approx(304.8)
    assert feed("G21 G91 G93 G1 X50 F2") == pytest.approx(100)  # half a minute for 50 mm
    assert run("G21 G91 G1 X5").trace.segments[-1].feed == 500  # the caller's


@pytest.mark.parametrize(
    "plane, word, ends",
    [(17, "X-10 Y0 I-10 J0", (-20, 0, 0)), (18, "X-10 Z0 I-10 K0", (-20, 0, 0)), (19, "Y-10 Z0 J-10 K0", (0, -20, 0))],
)
def test_arcs_in_each_plane(plane: int, word: str, ends: tuple[float, float, float]) -> None:
    start = {17: "X10 Y0", 18: "X10 Z0", 19: "Y10 Z0"}[plane]
    text = f"G21 G54 G0 X0 Y0 Z0\nG0 {start}\nG{plane} G3 {word} F900"
    done = run(text)
    assert done.fault is None
    begun, finish = done.trace.segments[-1].start, done.trace.segments[-1].end
    assert [b - a for a, b in zip(begun, finish, strict=True)] == pytest.approx(ends, abs=1e-9)
    assert done.trace.segments[-1].law.way == pytest.approx(math.pi * 10)  # type: ignore[union-attr]


@pytest.mark.parametrize(
    "radius, clockwise, longer", [(10, True, False), (-10, True, True), (10, False, False), (-10, False, True)]
)
def test_arcs_by_radius_take_the_shorter_or_the_longer_way(radius: float, clockwise: bool, longer: bool) -> None:
    done = run(f"G21 G54 G0 X0 Y0\nG{2 if clockwise else 3} X10 Y0 R{radius} F900")
    arc = done.trace.segments[-1].arc
    assert arc is not None and arc.radius == pytest.approx(10)
    assert (abs(arc.sweep) > math.pi) is longer and (arc.sweep < 0) is clockwise
    middle = done.trace.segments[-1].at((done.trace.segments[-1].t0 + done.trace.segments[-1].t1) / 2)
    assert (middle[1] - OFFSET[1][1] > 0) is clockwise


def test_a_rotation_turns_absolute_and_relative_moves_about_its_centre() -> None:
    x, y, _ = place("G21 G54 G0 X0 Y0\nG68 X5 Y0 R90\nG0 X15 Y0")
    assert (x - OFFSET[1][0], y - OFFSET[1][1]) == pytest.approx((5, 10))
    x, y, _ = place("G21 G54 G0 X0 Y0\nG68 X0 Y0 R90\nG91 G0 X10\nG69\nX1")
    assert (x - OFFSET[1][0], y - OFFSET[1][1]) == pytest.approx((1, 10))
    x, y, _ = place("G20 G54 G0 X0 Y0\nG68 X0.5 Y1.5 R180\nG0 X0.25 Y0.25")
    assert (x - OFFSET[1][0], y - OFFSET[1][1]) == pytest.approx((0.75 * 25.4, 2.75 * 25.4))


def test_the_shift_is_set_taken_back_and_reported_in_parameters() -> None:
    assert place("G21 G53 G0 X30\nG92 X5\nG92.1\nG0 X7")[0] == pytest.approx(OFFSET[1][0] + 7)
    assert place("G21 G53 G0 X30\nG92 X5\nG53 G0 Y#5211")[1] == pytest.approx(30 - 5 - OFFSET[1][0])


@pytest.mark.parametrize(
    "cycle, ends",
    [
        ("G81", [2, -8, 20]),
        ("G82 P0.5", [2, -8, 20]),
        ("G83 Q4", [2, -2, 2, -1.75, -6, 2, -5.75, -8, 20]),
        ("G85", [2, -8, 2, 20]),
        ("G89 P1", [2, -8, 2, 20]),
    ],
)
def test_the_cycles(cycle: str, ends: list[float]) -> None:
    done = run(f"G21 G54 G0 X5 Y5 Z20\nG98 {cycle} R2 Z-8 F300 X5 Y5")
    heights = [round(s.end[2] - OFFSET[1][2], 6) for s in done.trace.segments[1:] if s.kind != "dwell"]
    assert heights == ends
    waits = sum(s.t1 - s.t0 for s in done.trace.segments if s.kind == "dwell")
    assert waits == pytest.approx(float(cycle.split("P")[1]) if "P" in cycle else 0)


def test_repeats_in_relative_mode_step_on() -> None:
    done = run("G21 G54 G0 X0 Y0 Z10\nG91 G99 G81 X10 R-8 Z-5 L3 F300")
    holes = {round(s.end[0] - OFFSET[1][0]) for s in done.trace.segments if s.kind == "feed"}
    assert holes == {10, 20, 30}


def test_stops_messages_and_ends() -> None:
    done = run("(MSG, first)\nM0\nM1\nG21 G53 G0 X1\nM30\nG53 G0 X9")
    assert [e.kind for e in done.trace.events] == ["message", "pause"]
    assert done.trace.ended == "end" and done.trace.blocks[-1].position[0] == 1
    assert done.trace.events[0].data["text"] == "first"
    assert run("G21\nM99\nG53 G0 X5").trace.segments == []


def test_modes_are_reported_as_they_are_before_the_ends_reset() -> None:
    done = run("G20 G91 G18 G93 G41 G68 X0 Y0 R5 G55\nM2")
    assert done.modes == {
        "distance": 91,
        "plane": 18,
        "feed mode": 93,
        "cutter compensation": 41,
        "rotation": 68,
        "canned cycle": 80,
        "work offset": 55,
        "unit": 20,
    }
    assert done.modes_before["unit"] == 21


def test_the_spindle_ramps_in_its_own_time() -> None:
    done = run("G21 M3 S12000\nG4 P0.5\nG4 P1\nM4\nG4 P5\nM5\nS100")
    assert done.trace.turning(0.5) == pytest.approx(6000)
    assert done.trace.turning(1.2) == pytest.approx(12000)
    assert done.trace.turning(1.5 + 1.0) == pytest.approx(0, abs=1e-6)
    assert done.trace.turning(4) == pytest.approx(-12000)


def test_dwells_in_the_profiles_unit() -> None:
    assert run("G4 P1.5").trace.seconds == pytest.approx(1.5)
    milli = PROFILE.model_copy(update={"dwell_seconds": 0.001})
    assert run_program(read_text("G4 P1500"), milli, bare_world(), Call()).trace.seconds == pytest.approx(1.5)


@pytest.mark.parametrize(
    "text", ["M98 P1\nM30\nO1\nM98 P1\nM99", "N1 GOTO 1", "DO1\nEND1", "M98 P1 L20000\nM30\nO1\nM99"]
)
def test_what_has_no_end_is_stopped(text: str) -> None:
    assert run(text).endless is not None


@pytest.mark.parametrize(
    ("text", "is_reported"),
    [
        ("N1 G53 G0 X1\nG53 G0 X2\nGOTO 1", True),
        ("#100 = 0\nN1 #101 = #100\nG53 G0 X1\nG53 G0 X2\nGOTO 1", True),
        ("#100 = 0\nWHILE [#100 LT 200] DO1\nG53 G0 X1\nG53 G0 X2\n#100 = [#100 + 1]\nEND1", False),
        ("#100 = 0\nN1 G91 G0 X1\nIF [#100 GT 200] GOTO 2\n#100 = [#100 + 1]\nGOTO 1\nN2", False),
        ("M98 P5 L90\nM30\nO5\nG53 G0 X1\nG53 G0 X2\nM99", False),
        ("WHILE [1 EQ 1] DO1\nG4 P0.1\nEND1", True),
        ("M3 S900\nWHILE [1 EQ 1] DO1\nG4 P0.1\nEND1", True),
    ],
)
def test_the_same_again_and_again_has_no_end(text: str, is_reported: bool) -> None:
    done = run(text)
    said = done.endless.what if done.endless else ""
    assert ("nothing changes" in said) == is_reported
    assert not is_reported or len(done.trace.segments) < 200


def test_calls_keep_and_give_back_their_own_parameters() -> None:
    text = "#1 = 7 #100 = 1\nG65 P9 A3 B4\nG21 G53 G0 X#1 Y#100\nM30\nO9\n#100 = [#1 * #2]\n#1 = 99\nM99"
    assert place(text)[:2] == (7, 12)
    assert place("#1=0\nM98 P9 L0\nG21 G53 G0 X#1\nM30\nO9\n#1=5\nM99")[0] == 0


def test_a_trace_as_json_has_what_is_needed_to_play_it(heron: Setup) -> None:
    done = run("G21 G54 G0 X10 Y0\nG3 X0 Y10 R10 F600\n#5 = 3\nG4 P1")
    reported = trace_as_json(done.trace)
    assert reported["seconds"] == done.trace.seconds and len(reported["blocks"]) == 4
    assert reported["segments"][1]["arc"]["radius"] == pytest.approx(10)
    assert [s["kind"] for s in reported["segments"]] == ["rapid", "feed", "dwell"]
    for segment in reported["segments"]:
        assert segment["end_seconds"] >= segment["start_seconds"]
    assert reported["blocks"][2]["set"] == {"#5": 3.0} and reported["blocks"][1]["set"] == {}
    scene = Scene.of(nominal_world(heron))
    assert scene.magazine and [p.tool for p in scene.magazine.pockets] == [1, 2, 3, 4, 5, 6, 0, 8, 9, 0]
    assert [p.pocket for p in scene.magazine.pockets if p.reserved] == [7]


def test_faults_change_one_thing_of_the_world(heron: Setup) -> None:
    world = nominal_world(heron)
    assert FAULTS["none"].world(world, Call()) is world
    long, short = (FAULTS[fault].world(world, Call()).tools[2] for fault in ("tool-long", "tool-short"))
    assert (long.length, short.length) == pytest.approx((79.12, 59.12)) and long.recorded == short.recorded == 69.12
    assert not FAULTS["not-homed"].world(world, Call()).homed


def test_a_move_beyond_travel_is_refused_before_it_begins(heron: Setup) -> None:
    world = nominal_world(heron)
    done = run("G21 G53 G0 X800\nX900", world, at=(700.0, 500.0, -1.0))
    (event,) = done.trace.of_kind("beyond-travel")
    assert event.data["axis"] == "X" and event.data["limit"] == 819
    assert done.trace.blocks[-1].position[0] == 800 and done.trace.ended == "stopped"


def test_an_arc_meets_what_its_chords_meet(heron: Setup) -> None:
    world = nominal_world(heron)
    done = run("G21 G91 G2 X360 I180 F3000", world, at=(230.0, 300.0, -176.0))
    (event,) = done.trace.of_kind("body-contact")
    assert event.data["body"] == "clamping jig" and event.data["mover"] == "the spindle nose"
    x, y, _ = event.position
    assert math.hypot(x - 410, y - 300) == pytest.approx(180, abs=0.02)  # still on the arc
    assert math.hypot(max(0, 260 - x), max(0, 330 - y)) == pytest.approx(11, abs=0.02)  # the nose just touches
    over = run("G21 G91 G2 X80 I40 F3000", world, at=(100.0, 300.0, -1.0))
    assert not over.trace.events and over.trace.blocks[-1].position[0] == pytest.approx(180)


def test_a_program_that_makes_too_many_moves_is_reported_as_one_without_an_end() -> None:
    pecks = "G21 G90 G94 F900\n#1 = 0\nWHILE [#1 LT 9000] DO1\nG99 G83 X1 Y1 Z-19 R1 Q0.01\n#1 = [#1 + 1]\nEND1\nM30"
    done = run_program(read_text(pecks), PROFILE, bare_world(), Call(most_moves=5000))
    assert done.endless and done.endless.line == 4 and "more than 5,000 moves" in done.endless.what
    assert len(done.trace.segments) <= 5000 + 7 and done.trace.ended == "stopped"
    few = run_program(read_text("G21 G91\nX1\nX1\nX1\nM30"), PROFILE, bare_world(), Call(most_moves=0))
    assert few.endless is None and few.trace.ended == "end"  # what the text has once is never too many


def test_a_stop_within_an_arc_leaves_the_machine_on_it() -> None:
    machine = VirtualMachine(bare_world(), (0.0, 0.0, 0.0), 0)
    arc = Arc((0, 1, 2), (10.0, 0.0), 10.0, math.pi, math.pi, 0.0)
    machine.deadline = 1.5
    with pytest.raises(CutShort):
        machine.arc((20.0, 0.0, 0.0), arc, 600.0, 0, False)
    gone = machine.trace.segments[-1].law.gone(1.5)  # type: ignore[union-attr]
    x, y, _ = machine.position
    assert machine.t == 1.5 and 14.0 < gone < 15.0
    assert math.hypot(x - 10, y) == pytest.approx(10) and 10 * (math.pi - math.acos((x - 10) / 10)) == pytest.approx(
        gone
    )


@pytest.mark.parametrize(
    "text, what",
    [
        ("G41 D1\nG1 X5 F100\nG40", "cutter compensation (G41)"),
        ("G64\nG1 X5 F100", "blending (G64)"),
        ("#1 = #5021", "#5021, which is read as 0"),
        ("G68 X0 Y0 R30\nG18\nG2 X4 Z0 I2 K0 F100\nG17 G69", "an arc outside the XY plane"),
        ("M3 S500\nG86 X1 Y1 R-1 Z-3 F100\nG80", "G86"),
    ],
)
def test_what_is_not_simulated_is_reported_with_its_line(text: str, what: str) -> None:
    events = run(f"G21 G90\n{text}\nM30").trace.of_kind("not-simulated")
    assert len(events) == 1 and events[0].data["what"].startswith(what) and events[0].line > 1


def test_an_arc_turns_with_the_part() -> None:
    """A half circle from (2, 0) about the origin, with the part turned by 90 degrees, ends at (0, -2) of the machine's axes."""
    turned = run("G21 G90\nG0 X0 Y2\nG68 X0 Y0 R90\nG3 X-2 Y0 I-2 J0 F100\nG69\nM30")
    assert turned.fault is None
    plain = run("G21 G90\nG0 X0 Y2\nG3 X0 Y-2 I0 J-2 F100\nM30")
    assert turned.trace.blocks[-1].position == pytest.approx(plain.trace.blocks[-1].position)


def test_a_shift_is_put_aside_and_taken_up_again() -> None:
    ends = [
        run(f"G21 G90\nG0 X0 Y0\nG92 X10\n{word}\nG0 X0\nM30").trace.blocks[-1].position[0]
        for word in ("", "G92.2", "G92.2\nG92.3", "G92.1")
    ]
    assert ends[0] == pytest.approx(ends[2]) and ends[1] == pytest.approx(ends[3]) == pytest.approx(ends[0] + 10)


def test_a_cycle_is_repeated_as_often_as_it_says() -> None:
    done = run("G21 G90\nG0 X0 Y0\nG91\nG81 X1 R-1 Z-1 L150 F1000\nG80 G90\nM30")
    assert done.fault is None and sum(segment.kind == "feed" for segment in done.trace.segments) == 150


def test_inverse_time_wants_its_own_feed_in_each_move() -> None:
    assert "each move gives its own F" in str(run("G21 G90 G94 F100\nG1 X1\nG93\nG1 X2\nM30").fault)
