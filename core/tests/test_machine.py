"""The virtual machine: laws of time, contact, the thread, the order of execution."""

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from orthotrope.calc.derived import derive
from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun, run_program
from orthotrope.machine.motion import trapezoid
from orthotrope.machine.passing import Closest
from orthotrope.machine.run import Call, Run
from orthotrope.machine.shapes import TOUCH, BoxBody, CylinderBody, StackPart, Well, first_contact
from orthotrope.machine.world import World, WorldAxis, bare_world
from orthotrope.program.reader import read_text
from orthotrope.proof.exchanges import exchange_case, pairs
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup
from orthotrope.setup.control import find_profile

PROFILE = find_profile("parametric")
ORIGIN = (0.0, 0.0, 0.0)


def run(text: str, world: World | None = None, **call: Any) -> Run:
    program = read_text(text)
    assert not program.faults, program.faults
    return run_program(program, PROFILE, world or bare_world(), Call(**{"at": ORIGIN, **call}))


def end(text: str, **call: Any) -> tuple[float, float, float]:
    done = run(text, **call)
    assert done.fault is None, done.fault
    return done.trace.blocks[-1].position


@given(st.floats(0.01, 2000), st.floats(0.5, 500), st.floats(10, 5000), st.floats(0, 1))
def test_a_trapezoid_goes_all_the_way_and_never_faster(
    way: float, speed: float, acceleration: float, part: float
) -> None:
    law = trapezoid(way, speed, acceleration)
    t = part * law.seconds
    assert law.gone(law.seconds) == way and law.speed <= speed * (1 + 1e-12)
    assert law.gone(law.when(part * way)) == pytest.approx(part * way, rel=1e-6, abs=1e-6)
    step = 1e-5 * law.seconds
    slope = (law.gone(t + step) - law.gone(t - step)) / (2 * step)
    if step < t < law.seconds - step:
        assert slope == pytest.approx(law.speed_at(t), abs=2e-3 * speed + 1e-6)
    assert law.gone(t) + law.gone(law.seconds - t) == pytest.approx(way, rel=1e-9)


def test_the_slowest_axis_rules() -> None:
    axes = (
        WorldAxis("X", None, None, 6000, 400, 0),
        WorldAxis("Y", None, None, 600, 50, 0),
        WorldAxis("Z", None, None, 6000, 400, 0),
    )
    world = replace(bare_world(), axes=axes)
    law = run("G53 G0 X300 Y100", world).trace.segments[0].law
    assert law is not None
    assert law.speed * 100 / math.hypot(300, 100) == pytest.approx(10)  # Y at its rapid
    assert law.acceleration * 100 / math.hypot(300, 100) == pytest.approx(50)


coordinate = st.floats(-60, 60)
point = st.tuples(coordinate, coordinate, st.floats(-30, 60))
solid = st.one_of(
    st.builds(
        CylinderBody, st.just("post"), coordinate, coordinate, st.floats(1, 20), st.just(-20.0), st.floats(-10, 20)
    ),
    st.builds(
        lambda x, y, hx, hy, turn, top: BoxBody("box", x, y, hx, hy, math.cos(turn), math.sin(turn), -20.0, top),
        coordinate,
        coordinate,
        st.floats(1, 30),
        st.floats(1, 30),
        st.floats(0, 3),
        st.floats(-10, 20),
    ),
)


def overlaps(body: CylinderBody | BoxBody, part: StackPart, place: np.ndarray) -> bool:
    if place[2] + part.low >= body.top or place[2] + part.high <= body.bottom:
        return False
    dx, dy = place[0] - body.x, place[1] - body.y
    if isinstance(body, CylinderBody):
        return math.hypot(dx, dy) < body.radius + part.radius
    x, y = dx * body.cos + dy * body.sin, dy * body.cos - dx * body.sin
    return math.hypot(max(0, abs(x) - body.half_x), max(0, abs(y) - body.half_y)) < part.radius


@settings(max_examples=300)
@given(solid, point, point, st.floats(1, 15))
def test_first_contact_is_where_sampling_finds_it(
    body: CylinderBody | BoxBody, start: tuple[float, float, float], finish: tuple[float, float, float], radius: float
) -> None:
    part = StackPart("tool", radius, -10.0, 5.0)
    sampled = StackPart("tool", radius - 2 * TOUCH, -10.0 + 2 * TOUCH, 5.0 - 2 * TOUCH)  # less than TOUCH is no contact
    found = first_contact((part,), [body], start, finish, -10.0, radius)
    a, b = np.array(start), np.array(finish)
    touching = [share for share in np.linspace(0, 1, 801) if overlaps(body, sampled, a + share * (b - a))]
    length = float(np.linalg.norm(b - a))
    if found is None:
        assert len(touching) * length / 800 < 0.6 + length / 400  # a graze between two samples at most
    elif touching:
        assert found.part <= touching[0] + 1e-9
        assert touching[0] - found.part < 1 / 800 + 1e-6 or length * (touching[0] - found.part) < 0.5


def gaps(body: CylinderBody | BoxBody, part: StackPart, place: np.ndarray) -> tuple[float, float]:
    dx, dy = place[0] - body.x, place[1] - body.y
    if isinstance(body, CylinderBody):
        aside = math.hypot(dx, dy) - body.radius
    else:
        x, y = dx * body.cos + dy * body.sin, dy * body.cos - dx * body.sin
        aside = math.hypot(max(0, abs(x) - body.half_x), max(0, abs(y) - body.half_y))
    height = max(place[2] + part.low - body.top, body.bottom - place[2] - part.high)
    return max(0.0, aside - part.radius), max(0.0, height)


@settings(max_examples=150)
@given(solid, point, point, st.floats(1, 15), st.sampled_from([15.0, 500.0]))
def test_the_closest_passing_is_where_sampling_finds_it(
    body: CylinderBody | BoxBody,
    start: tuple[float, float, float],
    finish: tuple[float, float, float],
    radius: float,
    within: float,
) -> None:
    part = StackPart("tool", radius, -10.0, 5.0)
    closest = Closest(within)
    closest.note((part,), [body], start, finish, lambda gone: 2 * gone, 7)
    a, b = np.array(start), np.array(finish)
    sampled = min(max(gaps(body, part, a + share * (b - a))) for share in np.linspace(0, 1, 801))
    if not closest.sorted():  # nor was it nearer between two samples
        assert sampled > within - 0.004 * float(np.linalg.norm(b - a)) - 1e-6
        return
    (found,) = closest.sorted()
    assert found.gap < within
    at = gaps(body, part, a + found.at_seconds / 2 * (b - a))
    assert (found.sideways, found.height) == pytest.approx(at, abs=1e-6) and found.gap == max(
        found.sideways, found.height
    )
    # between two samples lies what is a little closer; of what is equally close beside, that which is close in both
    assert -0.004 * float(np.linalg.norm(b - a)) - 1e-6 < found.gap - sampled < 1e-2
    between = math.dist(found.position[:2], found.body_position[:2])
    assert between == pytest.approx(found.sideways, abs=1e-6)
    assert abs(found.position[2] - found.body_position[2]) == pytest.approx(found.height, abs=1e-6)


def test_a_well_lets_in_what_fits_and_only_that() -> None:
    box = BoxBody("rack", 0, 0, 50, 20, 1, 0, -40, 0, (Well(10, 0, 8),))

    def meets(radius: float, x: float) -> bool:
        part = StackPart("tool", radius, -30, 0)
        return first_contact((part,), [box], (x, 0, 40), (x, 0, 5), -30, radius) is not None

    assert not meets(7.9, 10) and not meets(7.0, 10.9)
    assert meets(8.1, 10) and meets(7.0, 11.1) and meets(3.0, 30)


# The order of execution


def test_a_relative_move_in_turned_coordinates_goes_on_from_where_it_stands() -> None:
    offset, (cos, sin) = bare_world().work_offsets[1], (math.cos(math.radians(30)), math.sin(math.radians(30)))
    x, y, _ = end("G21 G54 G90 G68 X2 Y3 R30\nG0 X10 Y5\nG91 G0 X1")
    assert (x - offset[0], y - offset[1]) == pytest.approx((2 + 9 * cos - 2 * sin, 3 + 9 * sin + 2 * cos))


def test_offsets_lengths_and_machine_coordinates() -> None:
    offset = bare_world().work_offsets
    assert end("G21 G54 G0 X10 Y-5 Z3") == pytest.approx([a + b for a, b in zip(offset[1], (10, -5, 3), strict=True)])
    assert end("G21 G55 G0 X10")[0] == pytest.approx(offset[2][0] + 10)
    assert end("G21 G43 H7 G0 Z0")[2] == pytest.approx(offset[1][2] + 47)
    assert end("G21 G43 H7 G0 Z0 \n G49 G53 G0 Z-3")[2] == pytest.approx(-3)
    assert end("G20 G53 G0 X1")[0] == pytest.approx(25.4)
    assert end("G21 G0 X5\nG91 X2\nX2")[0] == pytest.approx(offset[1][0] + 9)
    assert end("G21 G53 G0 X50\nG92 X0\nG0 X7")[0] == pytest.approx(57)
    assert end("G21 G10 L2 P1 X100\nG0 X7")[0] == pytest.approx(107)
    assert end("G21 G53 G0 X30\nG10 L20 P1 X0\nG0 X7")[0] == pytest.approx(37)
    assert end("G21 G10 L1 P7 Z80\nG43 H7 G0 Z0")[2] == pytest.approx(offset[1][2] + 80)
    assert end("G21 G91 G28 Z5", at=(9.0, 8.0, 7.0)) == pytest.approx((9, 8, 0))


def test_settings_of_a_block_are_made_after_all_is_evaluated() -> None:
    assert end("#1 = 5\n#1 = 6 #2 = #1\nG53 G0 X#1 Y#2 #1 = 9") == pytest.approx((6, 5, 0))


def test_loops_conditions_and_calls() -> None:
    assert end("#1=0\nWHILE [#1 LT 5] DO1\n#1=[#1+1]\nEND1\nG53 G0 X#1")[0] == 5
    assert end("#1=3\nIF [#1 EQ 3] GOTO 20\nG53 G0 X1\nN20 G53 G0 Y2") == pytest.approx((0, 2, 0))
    assert end("#1=0\nIF [#1 EQ 0] THEN #1 = 7\nG53 G0 X#1")[0] == 7
    assert end("#3=0\nM98 P10 L4\nG53 G0 X#3\nM30\nO10\n#3=[#3+1]\nM99")[0] == 4
    assert end("#24=1\nG65 P10 X8 A2\nG53 G0 Y#24\nM30\nO10\nG53 G0 X[#24 + #1]\nM99") == pytest.approx((10, 1, 0))


@pytest.mark.parametrize(
    "text, says",
    [
        ("G0 X0 Y0\nG2 X100 R5 F100", "can't reach its end"),
        ("G2 X10 I3 J1 F100", "radius is"),
        ("GOTO 55", "no block N55"),
        ("M98 P7", "no program O7"),
        ("G1 X5 F0", "feed is zero"),
        ("G53 G0 X[1/0]", "Division"),
        ("G43 H500", "no length offset"),
        ("T700 M6", "no tool T700"),
        ("G81 X5 F100", "wants R and Z"),
        ("G53 G0 X#<nothing>", "before it is set"),
        ("G10 L7 P1 X0", "not known"),
    ],
)
def test_what_rs274_calls_an_error_in_running(text: str, says: str) -> None:
    fault = run(f"G21\n{text}").fault
    assert fault is not None and says in fault.what and fault.line >= 2


def test_an_arc_is_one_move_along_its_circle() -> None:
    done = run("G21 G54 G0 X10 Y0\nG3 X0 Y10 R10 F600")
    segment = done.trace.segments[-1]
    ox, oy, _ = bare_world().work_offsets[1]
    assert segment.law is not None and segment.law.way == pytest.approx(math.pi * 5)
    for t in np.linspace(segment.t0, segment.t1, 9):
        x, y, _ = segment.at(float(t))
        assert math.hypot(x - ox, y - oy) == pytest.approx(10)
    whole = run("G21 G54 G0 X10 Y0\nG2 I-10 F600").trace.segments[-1]
    assert whole.arc is not None and whole.arc.sweep == pytest.approx(-math.tau)
    helix = end("G21 G54 G0 X10 Y0 Z0\nG2 X-10 Y0 Z-4 I-10 F600")
    assert helix == pytest.approx((ox - 10, oy, bare_world().work_offsets[1][2] - 4))


def test_a_touch_is_latched_halfway_and_ends_beyond_it_by_its_deceleration() -> None:
    done = run("G21 G91\nG38.2 X20 F600\nG53 G0 Y[#5061 + 0] Z[#170]")
    latched = done.trace.of_kind("touch")[0].data["latched"]
    assert latched[0] == pytest.approx(10)
    stopped = done.trace.segments[0].end[0]
    assert stopped - 10 == pytest.approx(10**2 / (2 * 500))
    assert done.trace.blocks[-1].position[1:] == pytest.approx((10 - bare_world().work_offsets[1][0], 1))


def test_a_cycle_goes_over_down_and_up() -> None:
    done = run("G21 G54 G0 X0 Y0 Z20\nG99 G81 X5 Y5 R2 Z-8 F300\nX9\nG80\nG0 Z20")
    oz = bare_world().work_offsets[1][2]
    assert [round(s.end[2] - oz, 6) for s in done.trace.segments[1:]] == [20, 2, -8, 2, 2, -8, 2, 20]


# The thread


def lift_of(setup: Setup) -> tuple[float, float]:
    """The nut's greatest movement by the run of a pick-up, and by the formula."""
    _, case = exchange_case(setup, setup.profile, 0, 3)
    derived = derive(setup)
    assert derived is not None
    return case.main.trace.of_kind("gripped")[0].data["lift"], derived.workings["greatest_lift"].value or 0.0


@pytest.mark.parametrize("feed", [700.0, 1200.0, 1390.0, 1450.0, 1475.0, 1500.0, 1800.0, 2600.0])
@pytest.mark.parametrize("acceleration", [320.0, 1500.0])
def test_the_run_lifts_the_nut_as_the_formula_says(
    heron_with: Callable[..., Setup], feed: float, acceleration: float
) -> None:
    ran, formula = lift_of(heron_with(changer__coupling__feed=feed, machine__axes__Z__acceleration=acceleration))
    assert ran == pytest.approx(formula, abs=1e-6)


def test_at_the_ideal_feed_the_end_ramp_lifts_v2_over_8a(heron: Setup) -> None:
    v = 1450 / 60
    assert lift_of(heron)[0] == pytest.approx(v * v / (8 * 320), abs=1e-6)


def test_every_pair_leaves_each_tool_in_its_pocket_or_in_the_spindle(heron: Setup) -> None:
    homes = {tool.number: tool.pocket for tool in heron.stored()}
    for profile in ("parametric", "plain words"):
        for one, other in pairs(heron):
            _, case = exchange_case(heron, find_profile(profile), one, other)
            trace = case.main.trace
            assert trace.ended == "end" and trace.held(trace.seconds) == other
            assert [e.data["pocket"] for e in trace.of_kind("freed")] == ([homes[one]] if one else [])
            assert [e.data["pocket"] for e in trace.of_kind("gripped")] == ([homes[other]] if other else [])
            lowest = min(segment.end[2] for segment in trace.segments)
            assert lowest == pytest.approx(case.world.magazine.couple_z)  # type: ignore[union-attr]


def test_a_turned_rack_is_visited_where_it_stands(heron_with: Callable[..., Setup]) -> None:
    setup = heron_with(changer__rack__bearing_deg=90.0, changer__rack__datum__x=700.0, changer__rack__datum__y=300.0)
    _, case = exchange_case(setup, setup.profile, 2, 9)
    assert not case.main.trace.of_kind("body-contact")
    place = case.main.trace.of_kind("gripped")[0].position
    assert (round(place[0], 3), round(place[1], 3)) == (700.0, round(300 + 8 * 58.5, 3))


def test_a_run_leaves_nothing_behind_in_program_or_world(heron: Setup) -> None:
    _, case = exchange_case(heron, heron.profile, 4, 1)
    before, kept = nominal_world(heron), case.main.trace
    for other in (
        Call(case.call.at, from_tool=4, to_tool=9),
        Call(case.call.at, unit=20, from_tool=1, to_tool=4),
        case.call,
    ):
        again = run_program(case.program, case.profile, case.world, other).trace
    assert again == kept and case.world == before
    assert len(kept.segments) > 10 and kept.stored[-1][1] != kept.stored[0][1]


def test_an_arc_crosses_the_play_keeps_its_heading_and_meets_a_hard_stop() -> None:
    still = WorldAxis("X", None, None, 6000, 400, 0)
    world = replace(
        bare_world(), axes=(replace(still, backlash=0.2), replace(still, name="Y", stop_greatest=30.0), still)
    )
    half = "G21 G17 G90\nG53 G1 X0 Y0 F900\n"

    def after(text: str) -> ProgramRun:
        run = ProgramRun(read_text(half + text), Control(PROFILE, world, Call((-10.0, 0.0, 0.0))))
        run.go()
        return run

    east = after("G91 G3 X20 Y0 I10 J0").machine  # a half circle below, to X+
    assert east.axes.heading[0] == 1 and east.axes.true_position[0] == pytest.approx(20 - 0.1)
    back = after("G91 G3 X20 Y0 I10 J0\nG3 X-20 Y0 I-10 J0").machine
    assert back.axes.heading[0] == -1 and back.axes.true_position[0] == pytest.approx(0.1)
    stopped = after("G91 G2 X80 Y0 I40 J0").run.trace  # a half circle above: Y would reach 40
    event = stopped.of_kind("end-stop")[0]
    assert event.data["axis"] == "Y" and event.position[1] == pytest.approx(30.0, abs=0.02)
    assert stopped.ended == "stopped" and stopped.segments[-1].end[0] == pytest.approx(
        40 - math.sqrt(40**2 - 30**2), abs=0.05
    )


def test_an_arc_under_play_meets_what_a_straight_move_would() -> None:
    still = WorldAxis("X", None, None, 6000, 400, 0)
    post = CylinderBody("post", 30.0, 0.0, 5.0, -50.0, 50.0)
    spindle = replace(bare_world().spindle, parts=(StackPart("nose", 5.0, 0.0, 10.0),))
    world = replace(bare_world(), axes=(replace(still, backlash=1.0), still, still), bodies=(post,), spindle=spindle)
    straight = run("G21 G90\nG53 G0 X1\nG53 G1 X60 F900", world).trace
    bent = run("G21 G90 G17\nG53 G0 X1\nG91 G2 X59 Y0 R4000 F900", world).trace
    places = [trace.of_kind("body-contact")[0].position[0] for trace in (straight, bent)]
    assert places[0] == pytest.approx(20.5) and places[1] == pytest.approx(20.5, abs=0.05)


def test_what_is_known_of_a_world_does_not_answer_for_one_that_is_made_of_it(heron: Setup) -> None:
    """Worlds share what their machines look up: another body, a longer tool, another magazine or a closer look is another answer."""
    _, case = exchange_case(heron, heron.profile, 2, 9)

    def ran(world: World) -> tuple[Any, ...]:
        run = run_program(case.program, case.profile, world, case.call)
        return [(e.kind, e.data) for e in run.trace.events], run.passed, run.trace.seconds

    def alone(world: World) -> tuple[Any, ...]:
        return ran(replace(world, known={}))

    magazine = case.world.magazine
    assert magazine is not None
    place = magazine.places[5]
    pole = CylinderBody("a pole", place[0], place[1] - 60.0, 20.0, -180.0, -20.0)
    longer = {number: replace(tool, length=tool.length + 9.0) for number, tool in case.world.tools.items()}
    worlds = [
        case.world,
        replace(case.world, bodies=(*case.world.bodies, pole), passing=200.0),
        replace(case.world, tools=longer),
        replace(case.world, magazine=replace(magazine, stored={p: t for p, t in magazine.stored.items() if t != 9})),
        replace(case.world, passing=15.0),
        replace(case.world, passing=200.0),
    ]
    first = [alone(world) for world in worlds]
    assert len({repr(one) for one in first}) == len(worlds)
    for _ in range(2):
        assert [ran(world) for world in worlds] == first and [ran(world) for world in reversed(worlds)] == first[::-1]
