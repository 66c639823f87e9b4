"""The practice machine: its errors stay in their ranges, it refuses what a machine refuses, and crashes honestly."""

import json
import math
import statistics
from collections.abc import Callable
from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest
from orthotrope.practising.truth import draw, true_setup, truth_rows
from orthotrope.proof.exchanges import exchange_text
from orthotrope.setup import Setup, read_setup

from practice.machine import POWER_DROP
from practice.playback import CREEP, JOG_WATCH
from practice.state import Refused
from practice.store import Store

At = Callable[..., Any]


def test_hidden_errors_stay_in_their_ranges_and_a_seed_gives_them_again(heron: Setup) -> None:
    for seed in range(200):
        truth = draw(heron, seed)
        assert math.hypot(truth.rack_dx, truth.rack_dy) <= 1.5 and 0.05 <= abs(truth.rack_turn_deg) <= 0.4
        assert abs(truth.pitch_error) <= 0.15 and 0.2 <= abs(truth.setter_error) <= 0.8
        assert (
            math.hypot(truth.stylus_dx, truth.stylus_dy) <= 0.04
            and truth.stylus_less > 0
            and truth.touch_sigma <= 0.002
        )
        assert 3 <= truth.short_by <= 8 and truth.short_axis in "XY" and truth.reversed_input in (1, 2)
        assert all(0.02 <= play <= 0.15 for play in truth.backlash.values())
        assert truth == draw(heron, seed)
        spread = [value for pair in truth.pocket_scatter.values() for value in pair]
        assert max(map(abs, spread)) < 0.1
    assert len({draw(heron, seed).reversed_input for seed in range(20)}) == 2


def test_the_truth_stands_beside_the_setup(heron: Setup) -> None:
    truth = draw(heron, 7)
    rows = {row["name"]: row for row in truth_rows(heron, truth)}
    assert rows["Rack pitch"]["true"] - rows["Rack pitch"]["nominal"] == pytest.approx(truth.pitch_error)
    assert rows["X hard stop, to"]["true"] == pytest.approx(820 - truth.short_by)
    real = true_setup(heron, truth)
    assert real.inputs[1].wiring == "normally open" and real.inputs[0] == heron.inputs[0]


def test_homing_scatters_as_its_truth_says_and_leaves_the_axes_at_their_soft_limits(at: At) -> None:
    hand = at(homed=False)
    machine = hand.machine
    assert not machine.homed
    hand.do("dial", axis="X")
    shown = []
    for _ in range(60):
        hand.do("home")
        assert machine.homed and machine.position() == pytest.approx((1.0, 1239.0, -0.5))
        shown.append(machine.dial("X"))
    sigma = machine.truth.home_sigma["X"]
    assert 0.6 * sigma < statistics.stdev(shown) < 1.5 * sigma


def test_backlash_is_seen_on_a_dial(at: At) -> None:
    hand = at()
    hand.do("jog", axis="Y", by=-100.0, feed=3000.0)
    hand.do("jog", axis="Y", by=10.0, feed=3000.0)
    hand.do("dial", axis="Y")
    hand.do("jog", axis="Y", by=20.0, feed=3000.0)
    hand.do("jog", axis="Y", by=-20.0, feed=3000.0)
    assert hand.machine.dial("Y") == pytest.approx(hand.machine.truth.backlash["Y"], abs=6e-4)


def test_it_refuses_what_a_machine_refuses(at: At) -> None:
    hand = at()
    machine = hand.machine
    with pytest.raises(Refused, match=r"X 2001 is beyond the soft limit, 1 to 819 mm"):
        hand.do("jog", axis="X", by=2000.0, feed=500.0)
    hand.do("make", input=4, made=False)
    with pytest.raises(Refused, match="The door is open"):
        hand.do("home")
    hand.do("make", input=4, made=True)
    with pytest.raises(Refused, match=r"can't be read, nothing is run. .*line 1"):
        hand.do("run", text="G1 X[1")
    hand.do("air", enough=False)
    with pytest.raises(Refused, match="The air is low"):
        hand.do("run", text="M30")
    hand.do("air", enough=True)
    hand.do("power", on=False)
    for command in ("home", "reset"):
        with pytest.raises(Refused, match="no power"):
            hand.do(command)
    hand.do("power", on=True)
    assert machine.position() == (0.0, 0.0, 0.0) and not machine.homed
    hand.do("run", text="G53 G0 X10")
    assert "isn't homed" in machine.alarm
    with pytest.raises(Refused, match="Reset it first"):
        hand.do("home")


def test_at_the_end_of_its_travel_it_creeps_or_crashes(at: At) -> None:
    hand = at()
    machine = hand.machine
    hand.do("jog", axis="X", by=2000.0, feed=300.0, creep=True)
    assert machine.alarm == "X stands at its hard stop." and machine.homed and machine.execution == "STOPPED"
    assert machine.position()[0] == pytest.approx(820 - machine.truth.short_by, abs=0.15)
    hand.do("reset")
    hand.do("jog", axis="X", by=-60.0, feed=3000.0)  # it gets away from there
    hand.do("jog", axis="X", by=62.0, feed=9000.0)  # the soft limit lies beyond the stop: it runs in
    assert "home is lost" in machine.alarm and not machine.homed
    hand.do("reset")
    hand.do("home")
    assert machine.homed
    hand.do("key in", limits={"X": [1.0, 813.0]})
    with pytest.raises(Refused, match="beyond the soft limit"):
        hand.do("jog", axis="X", by=814.0, feed=9000.0)


def test_the_nominal_exchange_meets_something_and_the_true_one_does_not(at: At, heron: Setup) -> None:
    hand = at()
    machine = hand.machine
    hand.do("run", text=exchange_text(heron, heron.profile, 0, 2), from_tool=0, to_tool=2)
    assert machine.alarm.startswith("Contact: the spindle nose has met the nut of T2")
    hand.do("reset")
    hand.do("run", text="G53 G0 Z-1\nM30")  # it gets away from there
    assert machine.alarm == "" and machine.position()[2] == -1.0 and machine.record == (0, True)
    hand.do("settle", number=0)
    assert machine.record == (0, False)
    exact = at()
    real = true_setup(heron, exact.machine.truth).as_json()
    for tool in real["tools"]:  # as it would be after measuring: the rack where it is
        tool["pocket"] = tool["pocket"]
    text = exchange_text(read_setup(real), heron.profile, 0, 2)
    exact.do("run", text=text, from_tool=0, to_tool=2)
    # The nut may have slipped: the exchange measures; the setter's input is wired the other way round here.
    assert exact.machine.execution == "PROGRAM_STOPPED" and exact.machine.tool() == 2, exact.machine.alarm
    assert "not measured" in exact.machine.message and exact.machine.control.record == (2.0, True)


def test_a_held_jog_stops_when_its_hand_is_gone(at: At, monkeypatch: pytest.MonkeyPatch) -> None:
    hand = at()
    machine = hand.machine
    machine.rate = 1.0
    now = [1000.0]
    monkeypatch.setattr("practice.playback.time.monotonic", lambda: now[0])

    def wait(seconds: float, alive: bool) -> None:
        for _ in range(round(seconds / 0.05)):
            now[0] += 0.05
            if alive:
                hand.machine.playback.keep_jog(hand)
            machine.playback.look()

    machine.jogging.jog("X", 1.0, 3000.0, held_by=hand)
    wait(1.0, True)
    assert machine.busy and machine.position()[0] == pytest.approx(1 + 50 * (1 - 50 / 650 / 2), abs=0.5)
    before = machine.position()[0]
    wait(JOG_WATCH + 0.5, False)
    assert not machine.busy
    coast = 50.0**2 / (2 * 650)
    assert before + 50 * JOG_WATCH - 3 < machine.position()[0] < before + 50 * (JOG_WATCH + 0.1) + coast
    machine.jogging.jog("Y", -1.0, 3000.0, held_by=hand)
    wait(0.5, True)
    machine.playback.release_jog(object())  # another hand lets go of nothing
    assert machine.busy
    machine.playback.release_jog(hand)
    wait(0.5, False)
    assert not machine.busy and machine.position()[1] > 1200


def test_hold_goes_on_where_it_was_and_stop_gives_up(at: At, monkeypatch: pytest.MonkeyPatch) -> None:
    hand = at()
    machine = hand.machine
    machine.rate = 1.0
    now = [500.0]
    monkeypatch.setattr("practice.playback.time.monotonic", lambda: now[0])

    def wait(seconds: float) -> None:
        for _ in range(round(seconds / 0.02)):
            now[0] += 0.02
            machine.playback.look()

    machine.programs.run("G21 G90 G53 G1 X401 F6000\nG53 G1 X1\nM30", 0, 0)
    wait(1.0)
    machine.programs.hold()
    wait(1.0)
    held = machine.position()[0]
    assert 90 < held < 125 and machine.execution == "FEED_HOLD"
    wait(1.0)
    assert machine.position()[0] == held
    machine.programs.go_on()
    wait(0.6)
    assert held < machine.position()[0] < 200
    machine.playback.stop()
    there = machine.position()[0]
    wait(0.5)
    assert machine.position()[0] == there and machine.execution == "INTERRUPTED" and not machine.busy


@pytest.mark.parametrize("seconds", [2.0, 6.0, 8.2, 9.5, 12.0])
def test_power_lost_in_an_exchange_leaves_things_as_they_were_then(at: At, heron: Setup, seconds: float) -> None:
    hand = at()
    machine = hand.machine
    real = read_setup(true_setup(heron, machine.truth).as_json())
    machine.rate = 1e-9  # its time is given by hand
    machine.programs.run(exchange_text(real, heron.profile, 0, 2), 0, 2)
    machine.playback.pass_time(seconds)
    place, tool = machine.position(), machine.machine.trace.held(machine.now)
    doubtful = machine.control.record[1]
    machine.power(False)
    assert not machine.homed and machine.alarm == "The power is off." and machine.spindle() == 0
    assert machine.machine.position[:2] == pytest.approx(place[:2], abs=1e-6)
    assert place[2] - POWER_DROP - 1e-6 <= machine.machine.position[2] <= place[2] + 1e-6
    assert machine.machine.trace.held(machine.now) == tool or doubtful
    machine.power(True)
    machine.rate = float("inf")
    if (
        machine.machine.carrier.changer
        and 0 < machine.machine.carrier.changer.engaged < machine.machine.carrier.changer.rack.engaged
    ):
        hand.do("home")  # with a nut half on, homing pulls at the pocket: the way out comes before it
        assert "neither tight nor free" in machine.alarm


def test_a_contact_bounces_and_a_filter_hides_it(at: At) -> None:
    hand = at()
    machine = hand.machine
    hand.do("make", input=1, made=True)
    edges = list(machine.edges)
    machine.edges.clear()
    assert len(edges) > 1 and edges[-1][2] is True and edges[0][2] is True
    assert all(a[1] < b[1] and a[2] != b[2] for a, b in pairwise(edges))
    hand.do("make", input=4, made=False)
    assert [(n, made) for n, _, made in machine.edges] == [(4, False)]
    hand.do("lead", input=1, state="broken")
    assert machine.inputs()[1] is False
    hand.do("lead", input=1, state="to ground")
    assert machine.inputs()[1] is True


TWO_TOUCHES = """G21 G90 G53 G0 Z-60
G53 G0 X410 Y540
G38.2 Z30 F200
G91 G0 Z2
G90 G38.2 Z30 F60
#150 = #5063
G53 G0 Z-1
M30"""


def test_a_touch_by_program_scatters_by_a_micrometre_or_two(at: At, heron: Setup) -> None:
    found = []
    hand = at()
    machine = hand.machine
    hand.do("key in", levels={"2": "low"})
    hand.do("tool", tool=heron.tool(1).model_dump(mode="json"))
    for _ in range(12):
        hand.do("run", text=TWO_TOUCHES, from_tool=1, to_tool=1)
        assert machine.alarm == "", machine.alarm
        found.append(machine.control.parameters.values[150])
    assert 0.0003 < statistics.stdev(found) < 0.003


def test_outputs_follow_the_words_of_a_program(at: At) -> None:
    hand = at()
    hand.do("run", text="M7\nG4 P0.1\nM30")
    assert hand.machine.outputs == {1: True}
    hand.do("run", text="M9\nM30")
    assert hand.machine.outputs == {1: False}


def test_an_endless_program_is_ended_and_reported(at: At) -> None:
    hand = at()
    hand.do("run", text="N1 #100 = 1\nGOTO 1")
    for _ in range(200):
        hand.look()
    assert "no end" in hand.machine.alarm


@pytest.mark.parametrize(
    "torn", ["", "{", '{"seed": 3}', '{"document": {}, "seed": 3}', '{"document": null, "seed": "x"}', "\x00" * 90]
)
def test_a_torn_file_is_put_aside_and_the_others_start(
    torn: str, tmp_path: Path, heron: Setup, capsys: pytest.CaptureFixture[str]
) -> None:
    Store(tmp_path, lambda _: None).build("heron", heron, 7)
    (tmp_path / "kite.json").write_text(torn)
    again = Store(tmp_path, lambda _: None)
    assert list(again.machines) == ["heron"] and (tmp_path / "kite.unreadable").read_text() == torn
    assert "kite can't be read" in capsys.readouterr().err and not list(tmp_path.glob("*.part"))


def test_a_machine_kept_by_an_earlier_version_starts(tmp_path: Path) -> None:
    old = json.loads((Path(__file__).parents[2] / "core" / "tests" / "setups" / "version-1-early.json").read_text())
    (tmp_path / "heron.json").write_text(json.dumps({"document": old, "seed": 7}))
    assert Store(tmp_path, lambda _: None).machines["heron"].setup.as_json()["version"] == 3


def test_a_tool_slips_where_its_nut_is_taken_off_and_the_exchange_finds_what_it_is(at: At, heron: Setup) -> None:
    hand = at()
    machine = hand.machine
    (wired,) = [entry for entry in heron.inputs if entry.number == machine.truth.reversed_input]
    hand.do("key in", levels={str(wired.number): "low" if wired.level == "high" else "high"})
    real = true_setup(heron, machine.truth)
    lengths = {number: tool.length for number, tool in machine.world.tools.items()}
    hand.do("tool", tool=heron.tool(1).model_dump(mode="json"))
    hand.do("run", text=exchange_text(real, heron.profile, 0, 0), from_tool=1, to_tool=2)
    assert machine.alarm == "" and machine.control.record == (2.0, False), (machine.alarm, machine.message)
    now = {number: tool.length for number, tool in machine.world.tools.items()}
    assert {number for number in now if now[number] != lengths[number]} == {1} and abs(now[1] - lengths[1]) < 1.0
    assert machine.control.lengths[2] == pytest.approx(now[2], abs=0.1)
    assert hand.do("pages")["pages"]["active"] == {"tool": 2, "length": machine.control.lengths[2]}
    hand.do("run", text=exchange_text(real, heron.profile, 0, 0), from_tool=2, to_tool=1)
    off = machine.control.lengths[1] - now[1]  # how far the plane is from where it is: the same for all
    for one, other in ((1, 2), (2, 1), (1, 2), (2, 1)):  # it slips each time, and is measured as it is then
        hand.do("run", text=exchange_text(real, heron.profile, 0, 0), from_tool=one, to_tool=other)
        assert machine.control.lengths[other] - machine.world.tools[other].length == pytest.approx(off, abs=0.02)


def test_results_say_what_they_are_of(at: At) -> None:
    hand = at()
    plane = {"sequence": "calibrate", "tools": [9], "setter": "setter", "rests_on": {"/tools/9/length": 50.0}}
    hand.do("run", text="#125 = -110.5\nM30", of=plane)
    pages = hand.do("pages")["pages"]
    assert pages["ran"]["of"]["sequence"] == "calibrate" and 125 in pages["ran"]["wrote"] and pages["measured"] == {}
    hand.do("run", text="G21 G10 L1 P3 Z47.892\nM30", of={"sequence": "measure", "tools": [3], "setter": "setter"})
    pages = hand.do("pages")["pages"]
    assert (
        pages["parameters"][125] == -110.5 and pages["ran"]["wrote"] == []
    )  # it stands there still, and is not its own
    assert pages["lengths"][3] == 47.892 and pages["measured"][3]["of"]["tools"] == [3]
    hand.do("home")
    hand.do("run", text="G4 P1\nM30")
    pages = hand.do("pages")["pages"]
    assert pages["measured"][3]["homing"] == 1 and pages["ran"]["homing"] == 2 and pages["ran"]["of"] == {}


def test_after_a_contact_the_spindle_is_stopped_before_anything_else(at: At) -> None:
    hand = at()
    machine = hand.machine
    hand.do("run", text="G21 G90 M3 S1160\nG4 P3\nG53 G0 Z-300\nM30")
    assert machine.alarm and machine.machine.spindle.rate == 0  # an alarm stops it; it still runs down
    with pytest.raises(Refused, match="Reset it first"):
        hand.do("home")
    hand.do("reset")
    assert machine.spindle() == 0
    hand.do("home")
    assert machine.homed
    hand.do("run", text="M3 S1160\nG4 P3\nM30")
    with pytest.raises(Refused, match="The spindle turns at 1160 rev/min; reset the machine to stop it, then home"):
        hand.do("home")
    hand.do("reset")
    hand.do("home")
    assert machine.homed and machine.spindle() == 0


def test_away_from_a_hard_stop_needs_no_reset_and_further_into_it_is_refused(at: At) -> None:
    hand = at()
    machine = hand.machine
    hand.do("jog", axis="X", by=2000.0, feed=CREEP, creep=True)
    assert "stands at its hard stop" in machine.alarm
    for more in ({"axis": "X", "by": 1.0}, {"axis": "Y", "by": -5.0}):
        with pytest.raises(Refused, match="Reset it first"):
            hand.do("jog", feed=100.0, **more)
    before = machine.position()[0]
    hand.do("jog", axis="X", by=-5.0, feed=100.0)
    assert not machine.alarm and machine.position()[0] == pytest.approx(before - 5.0)


def test_going_there_is_up_then_across_then_down_to_above_it(at: At) -> None:
    hand = at()
    machine = hand.machine
    hand.do("jog", axis="Z", by=-100.0, feed=3000.0)
    to, feed = {"X": 300.0, "Y": 400.0, "Z": -90.0}, 3000.0
    assert hand.do("go", to=to, feed=feed)["step"] == "up" and machine.position()[2] == pytest.approx(-0.5)
    assert hand.do("go", to=to, feed=feed)["step"] == "across" and machine.position()[:2] == pytest.approx((300, 400))
    assert hand.do("go", to=to, feed=feed)["step"] == "down" and machine.position()[2] == pytest.approx(-70.0)
    with pytest.raises(Refused, match="Jog the rest"):
        hand.do("go", to=to, feed=feed)
    with pytest.raises(Refused, match="X 2000 mm is beyond its soft limits"):
        hand.do("go", to={"X": 2000.0}, feed=feed)
    hand.do("run", text="M3 S1160\nG4 P3\nM30")
    with pytest.raises(Refused, match="The spindle turns"):
        hand.do("go", to=to, feed=feed)
