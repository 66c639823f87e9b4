"""Every style of changer: what is written is safe under every fault or says what would notice it; what is left out is
found."""

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import pytest
from demo_setup import changed, demo
from orthotrope.calc.capture import offer, targets
from orthotrope.calc.derived import derive
from orthotrope.calc.disc import turn_steps
from orthotrope.calc.storage import storing
from orthotrope.errors import InputError
from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun, run_program
from orthotrope.machine.run import Call
from orthotrope.program.reader import read_text
from orthotrope.program.writer import write
from orthotrope.proof.case import Case
from orthotrope.proof.conflicts import conflicts
from orthotrope.proof.digests import digests_of
from orthotrope.proof.exchanges import exchange_case, exchange_text, pairs, prove_exchanges
from orthotrope.proof.judging import FaultResult
from orthotrope.proof.review import called_at, review
from orthotrope.proof.savings import savings
from orthotrope.proof.verdicts import judge_faults
from orthotrope.proof.worlds import nominal_world
from orthotrope.sequence.approach import approach
from orthotrope.sequence.exchanges import plan_ready
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.control import find_profile
from orthotrope.setup.disc import DiscChanger

SOUND = ("dunlin", "curlew", "plover", "godwit", "knot")
SETUPS = {name: read_setup(demo(name)) for name in SOUND}


def case(setup: Setup, from_tool: int = 1, to_tool: int = 2, fix: Callable[[str], str] = lambda text: text) -> Case:
    text, made = exchange_case(setup, setup.profile, from_tool, to_tool)
    fixed = fix(text)
    return made if fixed == text else replace(made, program=read_text(fixed), _runs={})


def verdicts(made: Case) -> dict[str, FaultResult]:
    return {result.fault: result for result in judge_faults(made)}


@pytest.mark.parametrize("name", SOUND)
def test_what_is_written_is_never_unsafe(name: str) -> None:
    setup = SETUPS[name]
    assert not list(conflicts(setup, derive(setup)))
    results = list(prove_exchanges(setup, 0, 14, faults=True))
    assert {finding.check for result in results for finding in result.findings} == set()
    bad = [(r.sequence, fault) for r in results for fault in r.faults if fault.verdict == "unsafe"]
    assert not bad and {fault.fault for r in results for fault in r.faults} >= {
        "none",
        "wrong-tool",
        "stopped",
        "tool-long",
    }
    for result in results:
        assert all("would" in fault.says for fault in result.faults if fault.verdict != "safe")


@pytest.mark.parametrize("name", SOUND)
def test_a_proof_depends_on_the_changer(name: str) -> None:
    document = demo(name)
    number = "z" if name == "knot" else "heights__park_z"
    other = read_setup(changed(document, **{f"changer__{number}": -4.0}))
    assert digests_of(SETUPS[name]) != digests_of(other)
    assert digests_of(SETUPS[name]) == digests_of(read_setup(changed(document, machine__description="another")))


@pytest.mark.parametrize("name", SOUND)
def test_one_exchange_with_numbers_does_what_the_one_program_of_all_pairs_does(name: str) -> None:
    setup, plain = SETUPS[name], find_profile("plain words")
    for one, other in (pairs(setup)[0], pairs(setup)[len(setup.tools)], (1, 2)):
        _, made = exchange_case(setup, plain, one, other)
        stops = {f.check for f in review(made) if f.severity == "stop"}
        # words that these machines' own controls have are unknown to the plain one
        assert stops == ({"unknown-word"} if name in ("plover", "godwit") else set())
        assert made.main.trace.holding[-1][1] == other
        assert case(setup, one, other).main.trace.held(1e9) == other


LEFT_OUT: list[tuple[str, str, str, str]] = [
    # machine, what stands in its text, what is put there, the one check that must tell
    (
        "dunlin",
        "M11                                (open the grip)",
        "(not opened)",
        "wait-expired",
    ),
    ("dunlin", "G53 G0 Z#109                       (empty)", "(not up)", "low-lateral"),
    ("dunlin", "M5\n", "M3 S5000\n", "spindle-turning"),
    ("curlew", "M19", "M19 R12", "not-oriented"),
    ("curlew", " F2500 (slowly into the fork)", " F2500 (slowly)\nG53 G0 Z#108", "moved-ungripped"),
    ("curlew", "G53 G1 Y[#104 + [#102 - 1] * #106 - 75] F2500", "G53 G0 X[#103 - 60]\n", "body-contact"),
    ("plover", "M44 P#102                   (the pocket of the requested tool)", "(not turned)", "record-untrue"),
    ("plover", "G53 G0 Z#108                (hover: clear of the knob)", "(not up)", "moved-ungripped"),
    ("plover", "M41                         (disc out)", "(not out)", "wait-expired"),
    ("plover", "M42                         (disc home)", "M42\nG53 G0 X10", "body-contact"),
    ("godwit", "M41                                (pot down)", "(no pot)", "wait-expired"),
    ("godwit", "M50                                (arm half round)", "(no turn)", "record-untrue"),
    ("godwit", "M11                                (open the grip)", "(not opened)", "wait-expired"),
    ("plover", "M44 P#102                   (the pocket of the requested tool)", "M44 P25", "pocket-empty"),
    ("knot", "#160 = #2 ", "#160 = 0 ", "record-untrue"),
]


@pytest.mark.parametrize("name, old, new, check", LEFT_OUT)
def test_what_is_left_out_is_found(name: str, old: str, new: str, check: str) -> None:
    def without(text: str) -> str:
        assert old in text, old
        return text.replace(old, new)

    reported = {finding.check for finding in review(case(SETUPS[name], fix=without)) if finding.severity == "stop"}
    assert reported == {check}, reported


@pytest.mark.parametrize(
    "fault, role",
    [
        ("grip-stays-shut", "grip open"),
        ("grip-stays-open", "grip closed"),
        ("pocket-empty", "grip closed"),
        ("air-low", "air"),
    ],
)
@pytest.mark.parametrize("name", ["dunlin", "curlew", "plover", "godwit"])
def test_without_its_sensor_a_fault_cant_be_noticed_and_says_which_would(name: str, fault: str, role: str) -> None:
    bare = read_setup({**demo(name), "inputs": [], "setters": [], "probes": [], "routines": []})
    reported = verdicts(case(bare))[fault]
    assert reported.verdict == "undetectable" and f"role {role}" in reported.says, reported
    if name == "dunlin" and fault == "air-low":
        return  # it has no input for the air; the grip's tells
    assert verdicts(case(SETUPS[name]))[fault].verdict == "safe"


def test_one_dead_sensor_is_enough_to_stop_and_never_to_go_on() -> None:
    for name in ("curlew", "plover", "godwit"):
        reported = verdicts(case(SETUPS[name]))["sensor-dead"]
        assert reported.verdict == "safe" and "any one of" in reported.says and "stops by itself" in reported.says


def test_what_goes_wrong_without_a_fault_is_no_faults_doing() -> None:
    found = verdicts(case(read_setup(demo("sanderling"))))
    assert found["none"].verdict == "unsafe" == found["tool-long"].verdict == found["stopped"].verdict
    assert found["tool-long"].says == found["none"].says and "T1 in pocket 1" in found["none"].says


def test_tools_of_an_arm_change_their_pockets_and_the_table_follows() -> None:
    setup = SETUPS["godwit"]
    program, world = read_text(exchange_text(setup, setup.profile, 0, 0)), nominal_world(setup)
    first = setup.profile.parameters.pockets_first
    there, table = dict(world.magazine.stored), {}  # type: ignore[union-attr]
    in_spindle = 0
    for wanted in (3, 1, 6, 0, 2, 4, 5, 0, 1):
        magazine = replace(world.magazine, stored=there, recorded={16: -1, **{p: t for p, t in there.items()}})  # type: ignore[type-var]
        call = Call(called_at(setup), from_tool=in_spindle, to_tool=wanted)
        run = ProgramRun(program, Control(setup.profile, replace(world, magazine=magazine), call))
        trace = run.go().trace
        assert trace.ended == "end" and run.machine.carrier.changer is not None
        there = dict(run.machine.carrier.changer.stored)
        values = run.parameters.values
        table = {p: int(values.get(first + p, 0)) for p in range(1, 17)}
        assert {p: t for p, t in table.items() if t > 0} == there and table[16] == -1, wanted
        assert trace.holding[-1][1] == wanted == values[setup.profile.parameters.record]
        in_spindle = wanted
    assert there != nominal_world(setup).magazine.stored  # type: ignore[union-attr]


def test_an_arm_whose_tools_keep_their_pockets_swaps_twice() -> None:
    keeping = read_setup(changed(demo("godwit"), changer__arm__tools="keep their pockets"))
    found = verdicts(case(keeping))
    assert not [result for result in found.values() if result.verdict == "unsafe"]
    twice, once = case(keeping).main.trace, case(SETUPS["godwit"]).main.trace
    assert len([e for e in twice.of_kind("device") if e.data["device"] == "arm turn"]) == 2
    assert (
        len([e for e in once.of_kind("device") if e.data["device"] == "arm turn"]) == 1 and twice.seconds > once.seconds
    )


def test_a_disc_turns_by_its_way_and_that_takes_its_time() -> None:
    changer = SETUPS["plover"].changer
    assert isinstance(changer, DiscChanger)
    assert [turn_steps(changer.disc, 1, to) for to in (1, 2, 13, 14, 24)] == [0, 1, 12, 11, 1]
    forwards = changer.disc.model_copy(update={"way": "forwards"})
    assert [turn_steps(forwards, 1, to) for to in (2, 24)] == [1, 23] and turn_steps(forwards, 24, 1) == 1
    near, far = (case(SETUPS["plover"], 1, to).main.trace for to in (2, 13))
    assert far.seconds - near.seconds == pytest.approx(11 * changer.disc.seconds_per_step, abs=0.1)


def test_a_disc_is_numbered_in_its_sense() -> None:
    """Pocket 2 stands to the left of the way to the exchange place, or to the right of it."""
    for sense, side in (("ccw", 1), ("cw", -1)):
        magazine = nominal_world(read_setup(changed(demo("plover"), changer__disc__sense=sense))).magazine
        disc = magazine.disc  # type: ignore[union-attr]
        x, y = disc.place(2, 1, (0.0, 0.0))
        assert math.copysign(1, disc.way[0] * y - disc.way[1] * x) == side
        assert math.hypot(x, y) == pytest.approx(disc.radius)


def test_a_tool_by_hand_hangs_below_its_holder() -> None:
    setup = read_setup(changed(demo("knot"), tools__0__holder=[{"diameter": 32.0, "length": 18.0}]))
    world = nominal_world(setup)
    tool = world.tools[setup.tools[0].number]
    assert world.magazine and tool.holder
    parts = {part.name: part for part in world.magazine.changing(tool.number, {}).stack(tool)}
    own = parts[f"T{tool.number}"]
    assert (own.low, own.high) == pytest.approx((-tool.length, tool.stick_out - tool.length))


def test_what_would_save_most_is_tried_and_not_guessed() -> None:
    slow = savings(SETUPS["dunlin"], 1, 2)
    assert [saving.seconds for saving in slow] == sorted((saving.seconds for saving in slow), reverse=True)
    assert slow[0].where == "/machine/spindle/seconds_to_speed" and slow[0].seconds > 0.5
    # It stands already: an input that tells so at once is believed only when the spindle has had its time.
    assert not any("spindle still" in saving.says and saving.seconds > 0.5 for saving in slow)
    disc = {saving.where: saving.seconds for saving in savings(SETUPS["plover"], 1, 12)}
    assert disc["/changer/disc/seconds_per_step"] > disc["/machine/axes/Z/rapid"] > 0
    assert [s.says for s in savings(SETUPS["knot"], 1, 2) if s.seconds > 2.5] == []


def test_pockets_in_rows_are_where_the_rule_puts_them() -> None:
    setup = SETUPS["dunlin"]
    derived = derive(setup)
    assert derived is not None and [(p.x, p.y) for p in derived.pockets[4:6]] == [(995.0, 120.0), (995.0, 205.0)]
    for tool in (1, 4, 6):
        trace = case(setup, 0, tool).main.trace
        pocket = derived.pocket(setup.tool(tool).pocket or 0)
        lowest = min(trace.segments, key=lambda segment: segment.end[2]).end
        assert lowest == pytest.approx((pocket.x, pocket.y, derived.ladder.couple_z), abs=1e-3)


def test_forks_that_open_another_way_are_left_along_their_own_mouth() -> None:
    document = changed(demo("curlew"), changer__forks__mouths=[{"pocket": 8, "mouth_deg": 0.0}])
    setup = read_setup(document)
    trace = case(setup, 0, 7).main.trace
    out = next(s for s in trace.segments if s.kind == "feed" and s.start[:2] != s.end[:2])
    assert out.end[0] - out.start[0] == pytest.approx(75.0) and out.end[1] == pytest.approx(out.start[1])


def test_what_forks_cover_turns_with_their_rack() -> None:
    turned = changed(demo("curlew"), changer__rack__bearing_deg=90.0, changer__forks__mouth_deg=0.0)
    (x, y), (across, along) = (_covered(document) for document in (demo("curlew"), turned))
    assert (across, along) == pytest.approx((-y, x)) and y > 10.0


def _covered(document: dict[str, Any]) -> tuple[float, float]:
    """The middle of what the forks cover, from the first pocket, mm."""
    magazine = nominal_world(read_setup(document)).magazine
    assert magazine and magazine.footprint
    x, y = magazine.places[1]
    return magazine.footprint[0] - x, magazine.footprint[1] - y


def test_a_tool_by_hand_is_asked_for_by_number_and_name() -> None:
    setup = SETUPS["knot"]
    trace = case(setup, 1, 3).main.trace
    assert any("Put in T3, drill 6.8: 6.8 mm across" in event.data["text"] for event in trace.of_kind("message"))
    call = Call(called_at(setup), from_tool=1, to_tool=3, doubtful=True)
    refused = run_program(
        read_text(exchange_text(setup, setup.profile, 0, 0)), setup.profile, nominal_world(setup), call
    )
    assert not refused.trace.segments and refused.trace.holding[-1][1] == 1


@pytest.mark.parametrize("name", ["dunlin", "curlew"])
def test_a_pocket_of_a_grip_is_approached_over_its_last_stretch_with_the_grip_open(name: str) -> None:
    setup = SETUPS[name]
    derived, call = derive(setup), Call(called_at(setup))
    assert derived is not None
    place = derived.pocket(2)
    world = nominal_world(setup)
    for number, sequence in enumerate(approach(setup, 2)):
        at = call if number < 2 else Call((place.x, place.y, derived.ladder.hover_z))
        trace = run_program(read_text(write(sequence, setup.profile)), setup.profile, world, at).trace
        assert trace.ended == "end" and not trace.of_kind("body-contact", "spindle-turning"), trace.events[-1]
        pauses = len(trace.of_kind("pause"))
        lowest = min(segment.end[2] for segment in trace.segments)
    assert lowest == pytest.approx(derived.ladder.couple_z) and pauses == setup.changer.grip.slow_distance / 0.5 + 1  # type: ignore[union-attr]
    with pytest.raises(InputError, match="goes to no pocket"):
        approach(SETUPS["plover"], 2)


def test_the_places_of_the_other_styles_are_taken_from_the_machine() -> None:
    taken = offer(SETUPS["plover"], "/changer/exchange/x", (61.2344, 203.0, -100.0), 0)
    assert (taken.axis, taken.edit_at) == ("X", "/changer/exchange/x") and taken.value == pytest.approx(
        61.2344, abs=0.003
    )
    assert targets(SETUPS["plover"], "/changer/exchange/y") == {"X": pytest.approx(60.96), "Y": pytest.approx(203.2)}
    assert offer(SETUPS["knot"], "/changer/z", (1.0, 2.0, -4.0), 0).value == -4.0
    assert targets(SETUPS["knot"], "/changer/x") == {"X": 210.0, "Y": 40.0}


@pytest.mark.parametrize("tools", ["change pockets", "keep their pockets"])
def test_the_next_tool_is_readied_while_the_job_cuts_and_found_in_front_by_the_exchange(tools: str) -> None:
    setup = read_setup(changed(demo("godwit"), changer__arm__tools=tools))
    world, text = nominal_world(setup), write(plan_ready(setup), setup.profile)
    call = Call(called_at(setup), from_tool=1, to_tool=6)
    ready = ProgramRun(read_text(text + "\nM30"), Control(setup.profile, world, call))
    trace = ready.go().trace
    assert not trace.segments and [e.data["state"] for e in trace.of_kind("device")] == ["12"]
    if tools == "change pockets":  # tools that keep theirs go first to the one of the tool in the spindle
        before = replace(world, magazine=replace(world.magazine, front=12))  # type: ignore[type-var]
        spans = [
            case(setup, 1, 6).main.trace.seconds,
            replace(case(setup, 1, 6), world=before, _runs={}).main.trace.seconds,
        ]
        assert spans[0] - spans[1] > 1.0
    for doubtful, to_tool in ((True, 6), (False, 77)):
        refused = run_program(read_text(text), setup.profile, world, replace(call, doubtful=doubtful, to_tool=to_tool))
        assert not refused.trace.of_kind("device")
    with pytest.raises(InputError, match="Only a disc with an arm"):
        plan_ready(SETUPS["plover"])


def test_a_shank_that_meets_the_end_of_the_bore_is_reported_for_a_nut_and_not_for_a_holder() -> None:
    long = read_setup(changed(demo("heron"), tools__1__shank_above=53.5))
    reported = [conflict for conflict in conflicts(long, derive(long)) if "bore" in conflict.message]
    assert len(reported) == 1 and "3.5 mm before" in reported[0].message and reported[0].where == "/tools/1/shank_above"
    assert "clamp it 3.5 mm lower" in next(entry.says for entry in storing(long) if entry.tool == 2)
    held = read_setup(changed(demo("dunlin"), tools__1__shank_above=53.5))
    assert not list(conflicts(held, derive(held)))


def post(x: float, y: float, top: float) -> dict[str, Any]:
    return {"kind": "cylinder", "name": "the post", "x": x, "y": y, "diameter": 20.0, "bottom_z": -600.0, "top_z": top}


@pytest.mark.parametrize(
    ("name", "x", "y", "top", "mover", "word"),
    [
        ("godwit", 315.0, 455.0, -45.0, "a hand of the arm", "M43"),  # on its way in, at the height of the gauge line
        ("godwit", 150.0, 537.0, -45.0, "a hand of the arm", "M43"),  # beside where it stands at home
        ("godwit", 315.0, 455.0, -160.0, "a hand of the arm", "M50"),  # half round, further down
        ("godwit", 400.0, 250.0 + 26.0, -200.0, "T1", "M46"),  # under the spindle: the tool in the hand goes down on it
        ("godwit", 110.0, 250.0, -45.0, "the arm", "M43"),  # where its pivot is
        ("godwit", 370.0, 510.0, -45.0, "", ""),  # 367 mm from the pivot: 35 further than a hand comes
        ("plover", -358.0, 533.0, -60.0, "the disc", "M41"),  # beside it at home and swung out, in its way between
        ("plover", -358.0, 555.0, -60.0, "", ""),
        ("plover", -358.0, 533.0, -590.0, "", ""),
    ],
)
def test_disc_and_arm_meet_what_stands_in_their_way(
    name: str, x: float, y: float, top: float, mover: str, word: str
) -> None:
    made = case(read_setup(changed(demo(name), bodies=[post(x, y, top)])), 1, 2)
    met = made.main.trace.of_kind("body-contact")
    assert bool(met) == bool(mover), met
    if met:
        lines = exchange_text(made.setup, made.profile, 1, 2).splitlines()  # type: ignore[arg-type]
        assert met[0].data["mover"].startswith(mover) and met[0].data["body"] == "the post", met
        assert (
            met[0].data["at"][2] <= top and met[0].t <= made.main.trace.seconds + 3 and word in lines[met[0].line - 1]
        ), lines[met[0].line - 1]
        finding = next(finding for finding in review(made) if finding.check == "body-contact")
        assert finding.quantity == "/bodies/0"
