"""What an exchange leaves at its ends, the failing ones too, and what is done to tools on the way: edits of the written texts."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import pytest
from demo_setup import DOCUMENT, changed, demo
from orthotrope.machine.inputs import Inputs
from orthotrope.machine.run import Call
from orthotrope.program.reader import read_text
from orthotrope.proof.callers import called_from_elsewhere
from orthotrope.proof.case import Case, findings_of
from orthotrope.proof.exchanges import ExchangeProof, exchange_case
from orthotrope.proof.faults.devices import devices_of
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.findings import Finding
from orthotrope.proof.verdicts import judge_faults
from orthotrope.setup import Setup, read_setup

SETUPS = {name: read_setup(demo(name)) for name in ("heron", "curlew", "plover", "godwit", "dunlin")}


def case_of(name: str, one: int, other: int, edit: Callable[[str], str] = str, setup: Setup | None = None) -> Case:
    """An exchange through its edited text."""
    setup = setup or SETUPS[name]
    text, case = exchange_case(setup, setup.profile, one, other)
    edited = edit(text)
    return replace(case, program=read_text(edited), _runs={}) if edited != text else case


def put(old: str, new: str, count: int = 1) -> Callable[[str], str]:
    def edit(text: str) -> str:
        assert old in text, old
        return text.replace(old, new, count)

    return edit


def found(case: Case, check: str) -> list[Finding]:
    return [finding for finding in findings_of(case, "run") if finding.check == check]


@pytest.mark.parametrize(
    "name, pair, edit, says",
    [
        ("heron", (2, 9), put("M5\nG4 P0.2486                         (until it stands)\n#160 = #2", "#160 = #2"), "turns at 1160"),
        ("heron", (2, 0), put("G53 G0 Z#108                       (hover)\nM48\n", "G53 G0 Z#108\n"), "override is locked"),
        ("heron", (2, 9), put("N1001\n#161 = 0", "N1001\n#161 = 1"), "marked as doubtful"),
        ("heron", (2, 9), put("N200 ", "N200\nG92 X7\n(MSG, back) "), "zero is shifted"),
        ("curlew", (1, 0), put("M10                                (close the grip)\nG4 P0.4375                         (until it is closed, on nothing)", "M11"), "grip is open"),
        ("curlew", (1, 2), put("M9                                 (no more air)\nG4 P0.125\n", ""), "air is on"),
    ],
)  # fmt: skip
def test_what_is_left_otherwise_is_reported(name: str, pair: tuple[int, int], edit: Any, says: str) -> None:
    assert not found(case_of(name, *pair), "state-left")
    reported = found(case_of(name, *pair, edit), "state-left")
    assert reported and any(says in finding.message for finding in reported), reported
    assert all(finding.severity == "warn" and finding.line for finding in reported)


@pytest.mark.parametrize("unit, machine", [(20, "heron"), (21, "plover")])
def test_an_unit_that_is_not_the_callers_is_reported(unit: Any, machine: str) -> None:
    setup = SETUPS[machine]
    one = setup.exchangeable()[0].number
    made = case_of(machine, 0, one, lambda text: text.replace("G#174 G#175", "G90"))
    own = replace(made, call=replace(made.call, unit=20 if machine == "plover" else 21), _runs={})
    assert not found(own, "state-left")
    other = found(replace(made, call=replace(made.call, unit=unit), _runs={}), "state-left")
    assert len(other) == 1 and "G#174" in other[0].message


def test_a_shift_that_the_caller_had_is_his_own() -> None:
    made = case_of("curlew", 1, 2)
    shifted = replace(made, call=replace(made.call, active="shift"), _runs={})
    assert not found(shifted, "state-left")
    cancelled = case_of("curlew", 1, 2, put("N200 ", "N200\nG92.1\n(MSG, back) "))
    assert found(replace(cancelled, call=replace(cancelled.call, active="shift"), _runs={}), "state-left")


@pytest.mark.parametrize("name", ["curlew", "plover", "dunlin", "godwit"])
def test_a_failing_branch_that_goes_back_to_the_job_is_unsafe(name: str) -> None:
    setup = SETUPS[name]
    one, other = (tool.number for tool in setup.exchangeable()[:2])

    def goes_back(text: str) -> str:
        lines = text.split("\n")
        for index, line in enumerate(lines):
            if line.startswith("(MSG, The") and "correct the record)" in line:
                end = next(n for n in range(index, len(lines)) if "M30" in lines[n])
                lines[index : end + 1] = ["M99"]
                return goes_back("\n".join(lines))
        return "\n".join(lines)

    bad = case_of(name, one, other, goes_back)
    verdicts = {result.fault: result for result in judge_faults(bad)}
    assert verdicts["sensor-dead"].verdict == "unsafe"
    good = {result.fault: result.verdict for result in judge_faults(case_of(name, one, other))}
    assert good["sensor-dead"] == "safe"


def test_a_wait_without_an_end_is_unsafe() -> None:
    endless = case_of("curlew", 1, 2, put("WHILE [#181 NE 1 AND #120 LT 3] DO1", "WHILE [#181 NE 1] DO1"))
    reported = {result.fault: result for result in judge_faults(endless)}["sensor-dead"]
    assert reported.verdict == "unsafe" and reported.finding and reported.finding.check == "unbounded-loop"
    assert "has jumped back" in reported.says or "does not come to an end" in reported.says


@pytest.mark.parametrize("name", ["curlew", "plover", "godwit", "dunlin"])
def test_each_device_by_itself_and_each_input_reversed(name: str) -> None:
    setup = SETUPS[name]
    one, other = (tool.number for tool in setup.exchangeable()[:2])
    case = case_of(name, one, other)
    verdicts = {result.fault: result for result in judge_faults(case)}
    for fault in ("device-sticks", "device-slow", "input-reversed"):
        assert verdicts[fault].verdict != "unsafe", verdicts[fault]
    assert {"grip"} <= set(devices_of(case.world))
    seconds = [
        FAULTS["device-slow"].apply_to(case, number).main.trace.seconds
        for number in range(1, len(devices_of(case.world)) + 1)
    ]
    assert max(seconds) > case.main.trace.seconds + 0.3


def test_a_text_that_does_not_ask_first_trusts_a_reversed_input() -> None:
    trusting = case_of(
        "curlew", 1, 2, lambda text: "\n".join(line for line in text.split("\n") if "idle until then" not in line)
    )
    reported = {result.fault: result for result in judge_faults(trusting)}["input-reversed"]
    assert reported.verdict == "unsafe" and "reversed" in reported.says and reported.sensor


def test_what_sticks_without_a_signal_is_undetectable_and_says_what_would_tell() -> None:
    deaf = read_setup({**demo("curlew"), "inputs": [], "probes": [], "routines": []})
    reported = {result.fault: result for result in judge_faults(case_of("curlew", 1, 2, setup=deaf))}["device-sticks"]
    assert reported.verdict == "undetectable" and "An input that shows" in reported.says


@pytest.mark.parametrize("deep, driven", [(9.0, False), (9.9, False), (10.2, True), (30.0, True)])
def test_a_nut_gives_so_far_and_is_driven_in_beyond(deep: float, driven: bool) -> None:
    couple = DOCUMENT["changer"]["heights"]["touch_z"] - DOCUMENT["changer"]["heights"]["recess"]
    made = case_of("heron", 2, 0, put("G53 G1 Z#107", f"G53 G1 Z{couple - deep:g}"))
    assert bool(found(made, "driven-in")) == driven
    none = case_of(
        "heron",
        0,
        2,
        put("G53 G1 Z#107 F1450                 (couple: the nut runs on)", f"G53 G1 Z{couple - deep:g} F1450"),
    )
    assert bool(found(none, "driven-in")) == driven


def test_the_last_stretch_has_its_stored_feed_and_no_other() -> None:
    for edit, where in (
        (put("(slowly into the fork)", "()"), None),
        (put("F2500 (slowly", "F2600 (slowly"), "into"),
        (put("G53 G1 Y[#104 + [#101 - 1] * #106] F2500", "G53 G0 Y[#104 + [#101 - 1] * #106]"), "into"),
        (put("G53 G1 Z#107 F1500", "G53 G1 Z#107 F3000"), "onto"),
        (put("G53 G1 Y[#104 + [#102 - 1] * #106 - 75] F2500", "G53 G0 Y[#104 + [#102 - 1] * #106 - 75]"), "out of"),
    ):
        reported = found(case_of("curlew", 1, 2, edit), "rapid-into")
        assert [str(where) in finding.message for finding in reported] == ([True] if where else []), (where, reported)
    overridden = case_of("curlew", 1, 2)
    for override in (0.1, 1.5):
        assert not found(replace(overridden, call=replace(overridden.call, override=override), _runs={}), "rapid-into")


def test_a_coupling_above_its_cap_is_reported_wherever_it_turns_so() -> None:
    for old in ("M4 S1160", "M3 S1160"):
        assert found(case_of("heron", 2, 9, put(old, old.replace("1160", "1600"))), "speed-over-cap")
    assert not found(case_of("heron", 2, 9, put("M3 S1160", "M3 S1499")), "speed-over-cap")


def test_an_arm_writes_down_what_is_where_and_one_that_does_not_is_reported() -> None:
    assert not found(case_of("godwit", 1, 2), "wrong-pocket")
    reported = found(case_of("godwit", 1, 2, put("#[500 + #102] = #1", "#[501 + #102] = #1")), "wrong-pocket")
    assert reported and "the table that the control keeps" in reported[0].message
    assert found(case_of("godwit", 2, 0, put("#[500 + #102] = #1", "(not kept)")), "wrong-pocket")
    keeping = read_setup(changed(demo("godwit"), changer__arm__tools="keep their pockets"))
    assert not found(case_of("godwit", 1, 2, setup=keeping), "wrong-pocket")


def test_forks_do_not_begin_while_the_spindle_stands_among_them() -> None:
    setup = SETUPS["curlew"]
    pocket = setup.tool(5).pocket
    assert pocket
    made = case_of("curlew", 5, 1)
    assert made.derived
    x, y = next((p.x, p.y) for p in made.derived.pockets if p.pocket == pocket)
    low = replace(made, call=Call((x, y, -300.0), from_tool=5, to_tool=1), _runs={})
    assert low.main.trace.holding[-1][1] == 5 and not [s for s in low.main.trace.segments if s.kind != "dwell"]
    beside = replace(made, call=Call((x, y - 120, -300.0), from_tool=5, to_tool=1), _runs={})
    assert beside.main.trace.holding[-1][1] == 1
    assert not list(called_from_elsewhere(made))
    trusting = case_of(
        "curlew", 5, 1, lambda text: "\n".join(line for line in text.split("\n") if "among the forks: not" not in line)
    )
    assert "moved-ungripped" in {finding.check for finding in called_from_elsewhere(trusting)}


def test_every_way_through_the_one_text_is_looked_at() -> None:
    text, _ = exchange_case(SETUPS["curlew"], SETUPS["curlew"].profile, 0, 1)
    blind = text.replace("G4 P0.4375                         (until it is closed, on nothing)\n", "")
    assert blind != text  # on the way that leaves the spindle empty
    reported = {(finding.check, finding.severity) for finding in ExchangeProof(SETUPS["curlew"], blind).shared}
    assert ("action-unconfirmed", "warn") in reported
    assert not [f for f in ExchangeProof(SETUPS["curlew"]).shared if f.severity != "note"]


def test_a_dwell_is_not_negative() -> None:
    made = case_of("curlew", 1, 2, put("G4 P0.125", "G4 P-0.125"))
    assert made.main.fault and "can't be negative" in str(made.main.fault)
    assert found(made, "unreadable")


@pytest.mark.parametrize("name", ["curlew", "plover", "godwit", "dunlin"])
def test_what_is_to_tell_is_idle_before_and_each_refusal_leaves_all_as_it_was(name: str) -> None:
    setup = SETUPS[name]
    text, case = exchange_case(setup, setup.profile, 0, setup.exchangeable()[0].number)
    lines = text.split("\n")
    asked = [line for line in lines if "idle until then" in line]
    assert asked
    labels = {f"N{line.split('GOTO ')[1].split()[0]}" for line in asked}
    for label in labels:
        at = next(index for index, line in enumerate(lines) if line.split(" ")[0] == label)
        end = next(index for index in range(at, len(lines)) if "M30" in lines[index])
        said = "\n".join(lines[at : end + 1])
        assert "made too early" in said and "G#174 G#175" in said and said.index("M0") < said.index("G#174")
    stuck = replace(case.world, inputs=Inputs(replace(e, stuck=e.role == "grip open") for e in case.world.inputs))
    held = replace(
        case, call=Call(case.call.at, from_tool=setup.exchangeable()[0].number, to_tool=0), world=stuck, _runs={}
    )
    assert held.main.trace.holding[-1][1] == held.call.from_tool and held.main.trace.ended == "end"
    assert not [event for event in held.main.trace.of_kind("switched") if event.data["word"] == "M11"]


def test_where_it_was_called_is_no_slip_of_units_and_no_low_return() -> None:
    godwit = case_of("godwit", 6, 1)
    for y in (500.0, 499.0):
        called = replace(godwit, call=replace(godwit.call, at=(0.0, y, -520.0)), _runs={})
        assert not found(called, "unit-implausible")
    knot = read_setup(demo("knot"))
    one, other = (tool.number for tool in knot.exchangeable()[:2])
    high = case_of("knot", one, other, setup=knot)
    called = replace(high, call=replace(high.call, at=(0.0, 0.0, 0.0)), _runs={})
    assert not found(called, "low-return")
    low = case_of("knot", one, other, lambda text: text.replace("G53 G0 Z-3  ", "G53 G0 Z-30 "), setup=knot)
    assert found(low, "low-return")


def test_a_touch_at_a_setter_has_its_own_feeds() -> None:
    for old, new, reported in (
        ("F60                  (measure, touch 1)", "F90 (measure, touch 1)", "Measuring feed"),
        ("F300                (search)", "F450 (search)", "Search feed"),
        ("F300                (search)", "F200 (search)", ""),
    ):
        said = found(case_of("heron", 2, 9, put(old, new)), "value-differs")
        assert [finding.message.split(" of ")[0] for finding in said] == ([reported] if reported else [])
        assert all((finding.quantity or "").startswith("/setters/0/") for finding in said)


def test_a_disc_that_sticks_says_that_it_stands_in_place_which_no_signal_contradicts() -> None:
    reported = {result.fault: result for result in judge_faults(case_of("plover", 13, 5))}["device-sticks"]
    assert reported.verdict == "undetectable" and reported.says.startswith("The disc sticks: ")
    number = devices_of(case_of("plover", 13, 5).world).index("turn") + 1
    assert reported.sensor == number
    same = {result.fault: result for result in judge_faults(case_of("curlew", 1, 2))}["device-sticks"]
    assert same.verdict == "safe"  # each of its devices has an input that tells, and the program waits for it


def test_a_way_over_the_changer_that_comes_down_on_its_way_is_low_where_it_leaves_it() -> None:
    setup = read_setup(demo("heron"))
    _, case = exchange_case(setup, setup.profile, 0, 2)
    for z, low in ((-120.0, True), (-110.0, False)):
        text = f"G21 G90 G17 G94\nG53 G0 Z-1\nG53 G0 X128.4 Y1187.5\nG53 G0 X596.4 Z{z:g}\nG53 G0 Z-1\nM30"
        reported = found(replace(case, program=read_text(text), _runs={}), "low-lateral")
        assert bool(reported) == low
        assert all(f"at Z −{-z:g} with the empty spindle" in finding.message for finding in reported)
