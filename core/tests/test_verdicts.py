"""Exchanges under every fault: what is safe, what is unsafe by the program's own fault, what no signal could tell."""

import json
import re
import subprocess
import sys
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from demo_setup import DOCUMENT, ROOT, changed, demo
from orthotrope.machine.executor import run_program
from orthotrope.machine.run import Call
from orthotrope.program.reader import read_text
from orthotrope.proof.callers import called_otherwise
from orthotrope.proof.case import Case
from orthotrope.proof.exchanges import ExchangeProof, exchange_case, exchange_text, pairs, prove_chunk, prove_exchanges
from orthotrope.proof.fault_runs import Family, SharedRun
from orthotrope.proof.judging import FaultResult
from orthotrope.proof.verdicts import judge_faults
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup, read_setup

HERON = read_setup(DOCUMENT)
EVERY = exchange_text(HERON, HERON.profile, 0, 0)


def case(
    fix: Callable[[str], str] = lambda text: text, from_tool: int = 2, to_tool: int = 9, setup: Setup = HERON
) -> Case:
    _, made = exchange_case(setup, setup.profile, from_tool, to_tool)
    text = fix(exchange_text(setup, setup.profile, from_tool, to_tool))
    return Case(read_text(text), made.profile, "exchange", made.world, made.call, setup, made.derived)


def verdicts(made: Case) -> dict[str, FaultResult]:
    return {result.fault: result for result in judge_faults(made)}


def test_the_written_exchange_is_never_unsafe_and_says_what_cant_be_noticed() -> None:
    found = verdicts(case())
    assert {fault for fault, result in found.items() if result.verdict == "safe"} == {
        "none",
        "pocket-empty",  # the touch that measures the fetched tool tells, and the record is left doubtful
        "wrong-tool",
        "tool-long",
        "tool-short",
        "touch-input-dead",
        "touch-input-stuck",
        "touch-input-inverted",
        "touch-input-stays",
        "touches-differ",
        "unit-other",
        "not-homed",
        "override-low",
        "override-high",
        "input-reversed",
        "stopped",
    }
    assert not [result for result in found.values() if result.verdict == "unsafe"]
    assert "sensor at the pocket" in found["pocket-full"].says
    unmeasured = verdicts(case(setup=read_setup(changed(DOCUMENT, setters=[]))))
    assert {unmeasured[fault].verdict for fault in ("pocket-empty", "wrong-tool")} == {"undetectable"}
    assert "tool present" in unmeasured["pocket-empty"].says and "Measuring" in unmeasured["wrong-tool"].says


def test_only_what_applies_to_an_exchange_is_judged() -> None:
    fetching, away = verdicts(case(from_tool=0)), verdicts(case(to_tool=0))
    assert "pocket-full" not in fetching and "pocket-empty" in fetching
    assert "pocket-full" in away and "pocket-empty" not in away and "wrong-tool" not in away


@pytest.mark.parametrize(
    "fault, fix, says",
    [
        ("override-high", lambda t: t.replace("M49", "(M49)"), "pushed down"),
        ("override-low", lambda t: t.replace("M49", "(M49)"), "M4"),
        ("stopped", lambda t: t.replace("#161 = 1", "#162 = 1"), "mark the record as doubtful"),
        ("unit-other", lambda t: t.replace("G21 G17", "G17"), ""),
    ],
)
def test_a_program_that_leaves_something_out_is_unsafe(fault: str, fix: Callable[[str], str], says: str) -> None:
    assert verdicts(case())[fault].verdict == "safe"
    reported = {result.fault: result for result in judge_faults(case(fix))}[fault]
    if fault == "unit-other":  # in inches every place is beyond the travel: it stops before it moves
        assert reported.verdict == "safe" and "soft limit" in reported.says
        return
    assert reported.verdict == "unsafe" and says in reported.says and reported.finding is not None


@pytest.mark.parametrize(("fault", "asked"), [("pocket-empty", "a tool is there"), ("nut-stays-on", "the tool is off")])
def test_a_sensor_that_the_program_does_not_ask_makes_it_the_programs_fault(fault: str, asked: str) -> None:
    with_sensor = read_setup(changed(DOCUMENT, inputs__3__role="tool present", setters=[]))
    assert verdicts(case(setup=read_setup(changed(DOCUMENT, setters=[]))))[fault].verdict == "undetectable"
    assert verdicts(case(setup=with_sensor))[fault].verdict == "safe"
    untested = case(lambda t: re.sub(rf"IF .*{asked}.*\n", "", t), setup=with_sensor)
    assert verdicts(untested)[fault].verdict == "unsafe"


def test_a_stop_that_cant_be_started_again_from_is_reported() -> None:
    """A program that trusts its record and does not go up first meets what it stands in."""
    found = verdicts(case(lambda t: t.replace("IF [#161 EQ 1] GOTO 920", "(not asked)")))["stopped"]
    assert found.verdict == "unsafe" and "can't start again" in found.says and "doubtful" in found.says


@pytest.mark.parametrize(("ends", "verdict"), [("910", "safe"), ("900", "unsafe")])
def test_a_start_again_that_is_refused_with_a_true_record_is_safe_and_one_that_goes_back_to_the_job_is_not(
    ends: str, verdict: str
) -> None:
    guard = f"IF [#173 LT -100] GOTO {ends}\nIF [#1 EQ #2]"  # called too low
    assert verdicts(case(lambda t: t.replace("IF [#1 EQ #2]", guard, 1)))["stopped"].verdict == verdict


def test_stops_of_every_pair_are_safe_and_the_results_are_plain_values() -> None:
    results = list(prove_exchanges(HERON, 0, 20, faults=True))
    assert all(fault.verdict != "unsafe" for result in results for fault in result.faults)
    chunk = prove_chunk(DOCUMENT, pairs(HERON)[3:5])
    assert chunk == results[3:5]
    assert json.loads(json.dumps(chunk[0].as_json())) == chunk[0].as_json()


CLI = "from orthotrope.cli import main; raise SystemExit(main())"


def prove(*arguments: str) -> tuple[int, Any]:
    done = subprocess.run([sys.executable, "-c", CLI, "prove", *arguments], capture_output=True, text=True, timeout=100)
    return done.returncode, done.stdout if "--json" not in arguments else json.loads(done.stdout)


def test_prove_reports_every_case_and_an_imported_program_is_proven_as_a_written_one(tmp_path: Path) -> None:
    demo = str(ROOT / "demo" / "setups" / "heron.json")
    code, reported = prove(demo, "--json")
    assert code == 0 and reported["findings"] == []
    exchanges = {(case["from"], case["to"]) for case in reported["cases"] if case["sequence"] == "exchange"}
    measured = {case["tool"] for case in reported["cases"] if case["sequence"] == "measure"}
    assert exchanges == set(pairs(HERON)) and measured == {tool.number for tool in HERON.tools}
    assert {case["verdict"] for case in reported["cases"]} == {"safe", "undetectable"}
    mine = tmp_path / "mine.nc"
    mine.write_text(EVERY.replace("M49", "(no lock)"))
    code, reported = prove(demo, "--program", str(mine), "--json")
    bad = {case["fault"] for case in reported["cases"] if case["verdict"] == "unsafe"}
    assert code == 1 and bad == {"override-low", "override-high"}
    assert all(case["findings"][0]["severity"] == "stop" for case in reported["cases"] if case["verdict"] == "unsafe")
    code, text = prove(demo, "--only", "exchanges")
    assert code == 0 and "72 sequences" in text and "pocket-empty     56 safe, 8 undetectable" in text


def test_the_override_acts_only_where_it_is_not_locked() -> None:
    text = "G21 G90 G53 G1 X300 F6000\nM49\nG53 G1 X100\nM48\nG53 G1 X300\nM30"
    spans = []
    for override in (1.0, 0.5):
        call = Call((100.0, 500.0, -1.0), override=override)
        trace = run_program(read_text(text), HERON.profile, nominal_world(HERON), call).trace
        spans.append([segment.t1 - segment.t0 for segment in trace.segments])
    assert (
        spans[1][0] > 1.8 * spans[0][0]
        and spans[1][1] == pytest.approx(spans[0][1])
        and spans[1][2] > 1.8 * spans[0][2]
    )


def test_the_shares_of_time_are_the_whole_of_it() -> None:
    for result in prove_exchanges(HERON, 0, 12, faults=True):
        assert sum(result.spent.values()) == pytest.approx(result.seconds) and min(result.spent.values()) >= 0
    slow = read_setup(changed(DOCUMENT, machine__spindle__seconds_to_speed=9.0))
    one, other = (next(iter(prove_exchanges(setup, 0, 1, faults=True))) for setup in (HERON, slow))
    assert other.spent["waiting"] > one.spent["waiting"] and other.spent["sideways"] == pytest.approx(
        one.spent["sideways"]
    )


def test_a_program_that_trusts_what_its_caller_left_on_is_found() -> None:
    made = case()
    assert not list(called_otherwise(made))
    trusting = (
        EVERY.replace("G80 G49", "G80")
        .replace("G53 G0 Z#111", "G0 Z[#111 + 171.4]")
        .replace("G53 G0 X#171", "G0 X#171")
    )
    reported = [finding.message for finding in called_otherwise(replace(made, program=read_text(trusting), _runs={}))]
    for left_on in ("a tool's length", "the second work offset"):
        assert any(message.startswith(f"Called with {left_on} active") for message in reported), reported


def test_a_thread_on_rack_waits_for_its_spindle_where_an_input_tells_and_asks_for_no_air() -> None:
    assert "asked before anything moves" not in EVERY
    reported = read_setup(changed(DOCUMENT, inputs__3__role="spindle still"))
    found = verdicts(case(setup=reported))
    assert found["sensor-dead"].verdict == "safe" and "any one of 1 sensors" in found["sensor-dead"].says
    assert found["none"].verdict == "safe" and "sensor-dead" not in verdicts(case())
    assert case(setup=reported).main.trace.seconds < case().main.trace.seconds


ASKING = """#102=#2
#103=[#102 * 2]
IF [#102 GT 3] GOTO 20
G4 P0.1
N20 #104=#102
WHILE [#104 LT 4] DO1
#104=[#104 + 1]
G53 G0 Z-5
END1
#102=7
IF [#102 EQ 7] THEN #105=#2
M98 P9
G65 P8 A5 B#2
G53 G0 X[300 + #105]
#160=#2
M30
O8
IF [#2 EQ 3] GOTO 5
G53 G0 Y500
N5 M99
O9
IF [#2 EQ 5] GOTO 6
G53 G0 X200
N6 M99"""
"""Asks the requested tool in every way there is: copied, worked with, compared, counted up, as an argument."""


WIDE = [pytest.param(name, marks=pytest.mark.thorough) for name in ("dunlin", "plover", "godwit")]


@pytest.mark.parametrize("name", ["heron", "curlew", "knot", "sanderling", *WIDE])
def test_what_is_the_same_for_other_requested_tools_is_run_once_and_comes_to_the_same(
    name: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    setup = read_setup(demo(name))
    some = [(one, other) for one, other in pairs(setup) if one in (0, 2)][:18]
    texts = [None, ASKING]
    if setup.profile.arithmetic:
        whole = exchange_text(setup, setup.profile, 0, 0)
        texts += [
            changed for word in ("M5", "M10", "#102 = #2") if (changed := whole.replace(word, f"({word})")) != whole
        ]

    def proven() -> list[Any]:
        made = [ExchangeProof(setup, text) for text in texts]
        return [proof.of(one, other, True) for proof in made for one, other in some]

    shared = proven()
    monkeypatch.setattr(ExchangeProof, "_family", lambda self, one: Family(()))
    monkeypatch.setattr(SharedRun, "go_on", lambda *_: None)
    assert shared == proven()


WIDE = [pytest.param(name, marks=pytest.mark.thorough) for name in ("dunlin", "plover", "godwit")]


@pytest.mark.parametrize("name", ["heron", "curlew", "knot", "sanderling", *WIDE])
def test_runs_that_are_shared_come_to_what_whole_runs_come_to(name: str, monkeypatch: pytest.MonkeyPatch) -> None:
    setup = read_setup(demo(name))
    every = pairs(setup)
    made = [exchange_case(setup, setup.profile, *every[n])[1] for n in (0, len(every) // 3, -1)]
    for word in ("M49", "#161 = 1", "M5", "GOTO 930", "M10", "G4 P"):  # and texts in which something is left out
        fixed = [
            replace(case, program=read_text(text))
            for case in made[1:2]
            if (text := exchange_text(setup, setup.profile, 0, 0).replace(word, f"({word})"))
        ]
        made += [case for case in fixed if case.program.readable]
    shared = [list(judge_faults(replace(case, _runs={}))) for case in made]
    monkeypatch.setattr(SharedRun, "go_on", lambda *_: None)
    assert shared == [list(judge_faults(replace(case, _runs={}))) for case in made]


def test_another_tool_in_a_pocket_is_nothing_to_a_run_until_it_comes_to_that_pocket() -> None:
    """By what asks: a move asks the pockets that it comes near; a run that is gone on with asks the other pocket's."""
    made = exchange_case(setup := read_setup(demo("heron")), setup.profile, 2, 9)[1]
    first = {thing: stand.state.blocks_run for thing, stand in SharedRun(made).first.items()}
    home = {tool.number: tool.pocket for tool in setup.stored()}
    assert first["magazine"] < first[f"pocket {home[2]}"] < first[f"pocket {home[9]}"]
    assert f"pocket {home[5]}" not in first


def test_a_length_is_asked_by_a_touch_or_where_a_longer_tool_would_meet_something() -> None:
    """Heron's rack has tools that hang near the tops of others, and touches after it has fetched one; Curlew's exchanges ask nothing of it."""
    found = {
        name: [
            SharedRun(exchange_case(setup, setup.profile, *pair)[1]).first.keys() & {"length", "longer"}
            for pair in pairs(setup)[:20]
        ]
        for name in ("heron", "curlew")
        if (setup := read_setup(demo(name)))
    }
    assert set() in found["heron"] and {"longer"} in found["heron"] and {"length"} in found["heron"]
    assert not any(found["curlew"])
