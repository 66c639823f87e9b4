"""What the stages Machine and Signals work out: soft limits, crossing, space, capture, stored positions, cards,
profiles."""

import json
import math
from typing import Any

import pytest
from demo_setup import DOCUMENT, changed
from hypothesis import given
from hypothesis import strategies as st
from orthotrope.calc.capture import SeriesReading, axis_of, offer, series_result, targets
from orthotrope.calc.crossing import AxisCrossingInput, axis_crossing
from orthotrope.calc.derived import derive
from orthotrope.calc.derived_machine import machine_workings
from orthotrope.calc.slips import ReadBackInput, read_back_value
from orthotrope.calc.space import usable_space
from orthotrope.errors import InputError
from orthotrope.machine.executor import run_program
from orthotrope.machine.run import Call
from orthotrope.program.readback import read_back
from orthotrope.program.reader import read_text
from orthotrope.program.writer import NotWritable, as_written, write
from orthotrope.proof.conflicts import conflicts, margin_advice, signal_advice
from orthotrope.proof.digests import digests_of
from orthotrope.proof.exchanges import exchange_text
from orthotrope.proof.positions import check_way, entry_card, shown_by_control
from orthotrope.proof.readiness import touches, untested
from orthotrope.proof.worlds import nominal_world
from orthotrope.sequence.sample import sample
from orthotrope.sequence.steps import Remark, Say
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.control import ControlProfile, read_profile, shipped_profiles
from orthotrope.setup.keys import keyed, unkeyed

HERON = read_setup(DOCUMENT)


def altered(**values: Any) -> Setup:
    return read_setup(changed(DOCUMENT, **values))


def faults(document: dict[str, Any]) -> dict[str, str]:
    with pytest.raises(InputError) as bad:
        read_setup(document)
    return {fault.where: fault.what for fault in bad.value.faults}


@given(st.floats(-20, 20), st.floats(700, 900), st.floats(0, 30))
def test_soft_limits_follow_the_measured_travel_and_the_margin(least: float, greatest: float, margin: float) -> None:
    setup = altered(machine__axes__X__measured={"least": least, "greatest": greatest}, machine__axes__X__margin=margin)
    x = setup.machine.axes.X
    assert (x.soft_least, x.soft_greatest) == (least + margin, greatest - margin) and x.home_at == x.soft_least
    axis = nominal_world(setup).axes[0]
    assert (axis.least, axis.greatest, axis.home) == (x.soft_least, x.soft_greatest, x.soft_least)
    working = machine_workings(setup)["X_soft_greatest"]
    assert working.value == x.soft_greatest and working.terms[0].where == "/machine/axes/X/measured/greatest"


def test_a_proof_does_not_depend_on_stored_positions_but_on_the_measured_travel() -> None:
    assert digests_of(altered(positions=[])) == digests_of(HERON)
    noted = {"home_scatter": 0.02, "backlash": 0.05, "kept": {"rapid": 5000.0, "acceleration": 300.0}}
    for field, value in noted.items():
        assert digests_of(altered(**{f"machine__axes__X__{field}": value})) == digests_of(HERON)
    shorter = altered(machine__axes__X__measured={"least": 0.0, "greatest": 815.0})
    assert digests_of(shorter) != digests_of(HERON)


@given(st.floats(1, 2000), st.floats(100, 40_000), st.floats(50, 6000))
def test_the_curve_encloses_the_travel_and_more_acceleration_is_never_slower(
    way: float, rapid: float, acceleration: float
) -> None:
    across = axis_crossing(AxisCrossingInput(travel=way, rapid=rapid, acceleration=acceleration))
    area = sum(
        (b.seconds - a.seconds) * (a.speed + b.speed) / 120
        for a, b in zip(across.curve, across.curve[1:], strict=False)
    )
    assert area == pytest.approx(way, rel=1e-9)
    assert across.top_speed <= rapid * (1 + 1e-12) and across.full_speed == (across.top_speed >= rapid * (1 - 1e-12))
    quicker = axis_crossing(AxisCrossingInput(travel=way, rapid=rapid, acceleration=acceleration * 1.5))
    assert quicker.seconds <= across.seconds * (1 + 1e-12)


def test_usable_space_is_the_travel_less_the_changers_footprint() -> None:
    bare = usable_space(altered(changer=None), None)
    assert bare.left == bare.within_limits == pytest.approx(818 * 1238) and bare.data_sheet == 820 * 1240
    with_rack = usable_space(HERON, derive(HERON))
    assert with_rack.left < bare.left
    x0, y0, x1, y1 = with_rack.rectangle
    for kept in with_rack.kept_clear:
        assert all(not (x0 + 1e-6 < x < x1 - 1e-6 and y0 + 1e-6 < y < y1 - 1e-6) for x, y in kept.outline)
    assert (x1 - x0) * (y1 - y0) <= with_rack.left * 1.001
    turned = altered(changer__rack__bearing_deg=90.0, changer__rack__datum__x=400.0, changer__rack__datum__y=300.0)
    inside = usable_space(turned, derive(turned))  # a rounded rectangle wholly within the limits: its area is known
    grown, length, width = 40 + 8.0, 58.5 * 9 + 66, 54.0
    whole = length * width + 2 * grown * (length + width) + math.pi * grown**2
    assert inside.within_limits - inside.left == pytest.approx(whole, rel=2e-3)
    square = {"form": "square", "size_x": 300.0, "size_y": 420.0, "turn_deg": 0.0}
    there = {"name": "setter", "input": 2, "plane_z": -172.0, "overtravel": 0.1, "x": 410.0, "y": 540.0}
    mid = altered(setters=[{"kind": "on the table", **there, "bottom_z": -226.0, "shape": square}])
    assert usable_space(mid, derive(mid)).left < with_rack.left  # a setter on the table counts as well


def test_a_position_becomes_a_quantity_rounded_to_the_axis_resolution() -> None:
    taken = offer(HERON, "/changer/rack/datum/x", (128.8813, 10.0, -5.0), 0)
    assert (taken.axis, taken.value, taken.raw, taken.now) == ("X", 128.88, 128.8813, 128.4) and taken.edit == 128.88
    measured = offer(HERON, "/machine/axes/X/measured/greatest", (814.2613, 0.0, 0.0), 0)
    assert measured.edit_at == "/machine/axes/X/measured" and measured.edit == {"least": 0.0, "greatest": 814.26}
    height = offer(HERON, "/bodies/0/top_z", (0.0, 0.0, -100.002), 1)
    assert height.value == -158.3 and "length of T1, 58.3 mm" in height.says
    with pytest.raises(InputError, match="does not report which tool"):
        offer(HERON, "/bodies/0/top_z", (0.0, 0.0, -100.0), None)
    with pytest.raises(InputError, match="can't be taken from the machine's position"):
        offer(HERON, "/changer/coupling/lead", (0.0, 0.0, 0.0), 0)
    assert axis_of("/positions/1/moves/0/Z") == "Z" and axis_of("/tools/0/length") is None
    assert targets(HERON, "/changer/rack/datum/y") == {"X": 128.4, "Y": 1187.5}
    assert targets(HERON, "/positions/0/moves/0/Z") == {"Z": -1.0, "X": 410.0, "Y": 95.0}
    assert targets(HERON, "/changer/heights/touch_z") == {"Z": -143.7} and targets(HERON, "/machine/name") == {}


@given(st.lists(st.floats(-0.2, 0.2), min_size=3, max_size=12))
def test_series_say_scatter_and_backlash(values: list[float]) -> None:
    scatter = series_result("/machine/axes/X/home_scatter", [SeriesReading(value, 1) for value in values])
    mean = sum(values) / len(values)
    assert scatter.value == pytest.approx(
        2 * math.sqrt(sum((v - mean) ** 2 for v in values) / (len(values) - 1)), abs=2e-6
    )
    both = [SeriesReading(value, 1) for value in values] + [SeriesReading(value + 0.08, -1) for value in values]
    assert series_result("/machine/axes/Y/backlash", both).value == pytest.approx(0.08, abs=2e-6)
    with pytest.raises(InputError, match="readings from both sides"):
        series_result("/machine/axes/Y/backlash", both[: len(values)])
    with pytest.raises(InputError, match="wants 3 readings or more; there are 2"):
        series_result("/machine/axes/X/home_scatter", both[:2])


def test_keys_stay_when_a_list_changes() -> None:
    document = HERON.as_json()
    assert (
        keyed(document, "/tools/6/length") == "/tools/8/length"
        and unkeyed(document, "/tools/8/length") == "/tools/6/length"
    )
    fewer = {**document, "tools": document["tools"][3:]}
    assert unkeyed(fewer, "/tools/8/length") == "/tools/3/length" and unkeyed(fewer, "/tools/1/length") == ""
    assert keyed(document, "/machine/axes/X/measured/least") == "/machine/axes/X/measured/least"
    for where in ("/positions/1/moves/0/Z", "/inputs/2/level", "/setters/0/plane_z", "/bodies/0/x"):
        assert unkeyed(document, keyed(document, where)) == where
    with pytest.raises(InputError, match="may have been taken out"):
        keyed(document, "/tools/77/length")
    for nowhere in ("/tools/0/soft_least", "/changer/rack/measured", "/machine/axes/X/measured/middle"):
        assert unkeyed(document, nowhere) == ""
        with pytest.raises(InputError):
            keyed(document, nowhere)


def test_the_way_to_a_position_is_run_from_everywhere() -> None:
    found = check_way(HERON, "parking")
    assert found.findings == () and found.starts > 40 and found.seconds > 5
    assert found.text.index("X410 Y1020") < found.text.index("G53 G0 X20") < found.text.index("G53 G0 Y20")
    low = altered(positions__0__moves=[{"X": 410.0, "Y": 540.0}])  # straight across the jig
    reported = [finding for finding in check_way(low, "loading place").findings if finding.check == "body-contact"]
    assert (
        reported
        and reported[0].message.startswith("From X ")
        and "clamping jig" in " ".join(f.message for f in reported)
    )
    beyond = altered(positions__0__moves=[{"X": 825.0}])
    assert check_way(beyond, "loading place").findings[0].check == "beyond-travel"


def test_positions_that_others_lead_through_are_kept_and_circles_refused() -> None:
    document = HERON.as_json()
    gone = {**document, "positions": [p for p in document["positions"] if p["name"] != "end of program"]}
    assert 'There is no stored position "end of program"' in faults(gone)["/positions/1/by_way_of"]
    around = json.loads(json.dumps(document))
    around["positions"][1]["by_way_of"] = "parking"
    assert "leads back" in faults(around)["/positions/1/by_way_of"]
    around["positions"][1] = {**around["positions"][1], "by_way_of": None, "moves": [{"Z": 1.0}, {"Z": 2.0, "X": 3.0}]}
    assert "moves twice" in faults(around)["/positions/1/moves/1/Z"]
    around["positions"][1]["moves"] = [{}]
    assert "at least one axis" in faults(around)["/positions/1/moves/0"]


def test_the_entry_card_has_the_controls_unit_and_order() -> None:
    card = entry_card(HERON)
    assert [(e.group, e.name, e.shown) for e in card[:2]] == [
        ("Soft limits", "X from", "1.000"),
        ("Soft limits", "X to", "819.000"),
    ]
    assert [(e.name, e.shown) for e in card if e.group == "loading place"] == [
        ("Z", "-1.000"),
        ("X", "410.000"),
        ("Y", "95.000"),
    ]
    for most, unit, shown in (
        (2, "mm", (1.23, 2)),
        (5, "mm", (1.235, 3)),
        (3, "inch", (0.049, 3)),
        (5, "inch", (0.0486, 4)),
    ):
        profile = HERON.profile.model_copy(update={"unit": unit, "decimals": most})
        setup = HERON.model_copy(
            update={"profiles": [profile], "machine": HERON.machine.model_copy(update={"profile": profile.name})}
        )
        assert shown_by_control(setup, 1.2346) == shown
    inch = inch_heron()
    assert next(e.shown for e in entry_card(inch) if e.group == "loading place") == "-0.0394" and shown_by_control(
        inch, 25.4
    ) == (
        1,
        4,
    )


@given(st.floats(-2000, 2000), st.integers(1, 4))
def test_what_rounding_does_agrees_and_a_slip_never_does(meant: float, decimals: int) -> None:
    whole = round(meant, decimals)
    assert read_back_value(ReadBackInput(meant=meant, shown=whole, decimals=decimals)).agrees
    if abs(whole) > 1:
        for wrong in (-whole, whole * 10, whole / 25.4):
            reported = read_back_value(ReadBackInput(meant=whole, shown=wrong, decimals=decimals))
            assert not reported.agrees and reported.slip and reported.difference == wrong - whole


def profile(name: str = "parametric", **values: Any) -> ControlProfile:
    known = next(iter(p for p in shipped_profiles().values() if p.name == name)).model_dump(mode="json")
    return read_profile({**known, "name": "mine", **values})


def inch_heron() -> Any:
    mine = profile(unit="inch", decimals=6, line_numbers=5, dwell_letter="X", pause="M1", end="M2", trailing_zeros=True)
    return read_setup(
        {
            **HERON.as_json(),
            "profiles": [mine.model_dump(mode="json")],
            "machine": {**HERON.as_json()["machine"], "profile": "mine"},
        }
    )


@pytest.mark.parametrize(
    "changes",
    [
        {},
        {"unit": "inch", "decimals": 5},
        {"touch_stops": None},
        {"touch_stops": None, "touch_goes_on": None},
        {"offset_word": "G10 L20"},
        {"offset_word": "entry card", "length_word": "entry card"},
        {"latched": "machine"},
        {"wait": "none"},
        {"line_numbers": 10, "percent_signs": False},
        {"message": "none", "pause": "M60", "dwell_letter": "X"},
        {"decimals": 2, "trailing_zeros": True, "dwell_seconds": 0.001},
    ],
)
@pytest.mark.parametrize("name", ["parametric", "plain words"])
def test_a_sample_in_any_profile_reads_back_as_it_was_meant(name: str, changes: dict[str, Any]) -> None:
    if name == "plain words" and changes.get("wait"):
        return
    mine = profile(name, **changes)
    try:
        text = write(sample(mine), mine)
    except NotWritable as failed:
        pytest.fail(str(failed))
    assert read_back(read_text(text), mine).steps == said(mine)


def said(mine: ControlProfile) -> Any:
    """The steps as the text can tell them: without a word for messages they are remarks."""
    steps = as_written(sample(mine), mine).steps
    return steps if mine.message == "remark" else tuple(Remark(s.text) if isinstance(s, Say) else s for s in steps)


def test_a_profile_says_what_does_not_fit_together() -> None:
    with pytest.raises(InputError) as bad:
        profile(arithmetic=False, touch_stops=31.0, pause="M77")
    assert {fault.where for fault in bad.value.faults} == {"/conditions", "/record", "/touch_stops", "/pause"}
    with pytest.raises(InputError, match="shipped profile's"):
        known = next(iter(shipped_profiles().values())).model_dump(mode="json")
        read_setup({**HERON.as_json(), "profiles": [known]})
    with pytest.raises(InputError, match='must be one of "parametric", "plain words"; got "mine"'):
        read_setup({**HERON.as_json(), "machine": {**HERON.as_json()["machine"], "profile": "mine"}})


def test_an_exchange_in_inches_moves_as_the_one_in_millimetres() -> None:
    """The same exchange through a control of inches, with numbered lines: every place within what its decimals can
    hold."""
    inch, world = inch_heron(), nominal_world(HERON)
    runs = []
    for setup, unit in ((HERON, 21), (inch, 20)):
        text = exchange_text(setup, setup.profile, 2, 9)
        assert ("G20" in text) == (unit == 20)
        call = Call((410.0, 620.0, -60.5), unit=unit, from_tool=2, to_tool=9)  # type: ignore[arg-type]
        runs.append(run_program(read_text(text), setup.profile, world, call).trace)
    assert runs[0].ended == runs[1].ended == "end" and len(runs[0].segments) == len(runs[1].segments)
    for one, other in zip(runs[0].segments, runs[1].segments, strict=True):
        assert math.dist(one.end, other.end) < 25.4 * 1e-5


def test_signals_that_contradict_each_other_are_reported_with_their_cure() -> None:
    twice = altered(inputs__1__terminal="I4")
    (reported,) = [c for c in conflicts(twice, derive(twice)) if c.where.startswith("/inputs")]
    assert "both on terminal I4" in reported.message and reported.severity == "stop"
    reversed_ = altered(inputs__0__level="high")
    (fix,) = [advice.fix for advice in signal_advice(reversed_) if advice.fix]
    assert (fix.where, fix.value) == ("/inputs/0/level", "low")
    same = altered(inputs__1__role="touch plate")
    assert any("both have the role touch plate" in advice.message for advice in signal_advice(same))
    grip = altered(outputs__0__role="grip")
    assert any("no input shows grip open or grip closed" in advice.message for advice in signal_advice(grip))
    assert any("tool present" in advice.message for advice in signal_advice(HERON))
    assert not any(
        "tool present" in advice.message for advice in signal_advice(altered(inputs__3__role="tool present"))
    )
    assert faults({**HERON.as_json(), "inputs": []}).keys() == {
        "/bodies/0/makes",
        "/setters/0/input",
        "/probes/0/input",
    }


def test_an_axis_that_runs_on_at_its_soft_limit_is_reported() -> None:
    assert len(list(margin_advice(HERON))) == 3
    assert [a.where for a in margin_advice(altered(machine__axes__X__margin=18.0))] == [
        "/machine/axes/Y/margin",
        "/machine/axes/Z/margin",
    ]


def test_a_text_that_touches_is_not_ready_before_its_inputs_are_tested() -> None:
    assert touches("G21 G90\nG38.2 Z-5 F50", HERON) and touches("N5 G38.3 X[#1 + 2] F50", HERON)
    assert not touches("G21 G0 X1\n(G38.2)", HERON)
    assert "inputs touch plate and setter are not tested" in untested(HERON, {3}) and untested(HERON, {1, 2}) == ""
