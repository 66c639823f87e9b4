"""Each check has three small programs: one it must find, one it must not, one at the edge."""

import json
import re
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from demo_setup import DOCUMENT, changed, demo
from orthotrope.program.reader import read_text
from orthotrope.proof.case import CHECKS, Case
from orthotrope.proof.digests import digests_of
from orthotrope.proof.exchanges import ExchangeRef, exchange_case, exchange_text, pairs, prove_exchanges
from orthotrope.proof.findings import Finding
from orthotrope.proof.review import make_case, review
from orthotrope.proof.routines import case_of, routine_case
from orthotrope.sequence.probing.qualifying import routine_named
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.control import find_profile
from orthotrope.setup.keys import placed
from orthotrope.units import shown_in

PROGRAMS = Path(__file__).parent / "programs"
HERON = read_setup(DOCUMENT)
EVERY = exchange_text(HERON, find_profile("parametric"), 2, 9)
ONE = exchange_text(HERON, find_profile("plain words"), 2, 9)
FETCH = exchange_text(HERON, find_profile("plain words"), 0, 9)
AWAY = exchange_text(HERON, find_profile("plain words"), 2, 0)
"""From T2 (pocket 2) to T9 (pocket 9), over the setter in pocket 7; all pairs, and in numbers."""


CURLEW = read_setup(demo("curlew"))
LEFT_EDGE, _ = routine_case(CURLEW, CURLEW.profile, "frame left edge")
FORKS = exchange_text(CURLEW, CURLEW.profile, 1, 2)
FORK = exchange_text(CURLEW, find_profile("plain words"), 1, 2)
WITHOUT_5 = read_setup({**DOCUMENT, "tools": [tool for tool in DOCUMENT["tools"] if tool["number"] != 5]})
UNSENSED = read_setup({**demo("curlew"), "inputs": [], "probes": [], "routines": []})
WAIT_OPEN = "WHILE [#181 NE 1 AND #120 LT 3] DO1\nG4 P0.1\n#120 = [#120 + 0.1]\nEND1\nIF [#181 NE 1] GOTO 932"


def findings(
    text: str, purpose: str = "exchange", setup: Setup | None = None, profile: str = "parametric", **options: Any
) -> list[Finding]:
    if setup and "routine" in options:
        return review(case_of(setup, find_profile(profile), routine_named(setup, options["routine"]), text))
    return review(make_case(read_text(text), find_profile(profile), purpose, setup, **options))  # type: ignore[arg-type]


def reported(text: str, **options: Any) -> set[str]:
    return {finding.check for finding in findings(text, **options)}


def put(text: str, old: str, new: str, count: int = -1) -> str:
    assert old in text, old
    return text.replace(old, new, count)


def on_heron(text: str, **options: Any) -> dict[str, Any]:
    return {"text": text, "setup": HERON, "from_tool": 2, "to_tool": 9, "profile": "plain words", **options}


def with_setup(text: str = ONE, emit: bool = False, **values: Any) -> dict[str, Any]:
    setup = read_setup(changed(DOCUMENT, **values))
    made = exchange_text(setup, find_profile("plain words"), 2, 9) if emit else text
    return on_heron(made, setup=setup)


def past_a_post(room: float) -> dict[str, Any]:
    """The empty nose goes past a post at a distance."""
    post = {
        "name": "a post",
        "kind": "cylinder",
        "x": 500.0,
        "y": 300.0,
        "diameter": 40.0,
        "bottom_z": -180.0,
        "top_z": -60.0,
    }
    y = 300 + 20 + DOCUMENT["machine"]["spindle"]["nose_diameter"] / 2 + room
    text = f"G21 G90 G17 G94\nG53 G0 Z-1\nG53 G0 X300 Y{y:g}\nG53 G0 Z-90\nG53 G0 X700\nG53 G0 Z-1\nM30"
    return {
        "text": text,
        "setup": read_setup({**DOCUMENT, "bodies": [post]}),
        "purpose": "job",
        "profile": "plain words",
    }


def on_curlew(text: str, **options: Any) -> dict[str, Any]:
    return {"text": text, "setup": CURLEW, "from_tool": 1, "to_tool": 2, "profile": "plain words", **options}


def on_edge(text: str) -> dict[str, Any]:
    return {"text": text, "setup": CURLEW, "routine": "frame left edge", "purpose": "probe"}


def bare(text: str, purpose: str = "job") -> dict[str, Any]:
    return {"text": text, "purpose": purpose}


G = "G21 G17 G90 G94\n"
HERE = G + "G53 G0 X0 Y0\nG92 X0 Y0\n"
GUARD = "IF [#2 LT 1] GOTO 9\nIF [#2 GT 20] GOTO 9\n"
EDGE = """G21 G17 G94
G91
G38.2 X20 F300
G1 X-2 F600
G38.2 X4 F60
G90
#7 = [#5221 + #5061]
G10 L2 P1 X[#7 + 3.0]
G91 G0 X-5
G90
N9 M30"""
SLOT = """G21 G91
G38.2 X20 F60
#5 = #5061
G0 X-9
G38.2 X-20 F60
#6 = #5061
G0 X5
G90
G10 L2 P1 X[#5221 + [#5 + #6] / 2]"""
TABLE: dict[str, tuple[dict[str, Any], dict[str, Any], dict[str, Any]]] = {
    # check: (must be found, must not, at the edge: must not)
    "touch-feed-missing": (
        bare("G21 G91 G38.2 Z-9\nG90", "probe"),
        bare("G21 G91 G38.2 Z-9 F60\nG90", "probe"),
        bare("G21 F60\nG91 G38.2 Z-9\nG90", "probe"),
    ),
    "missed-touch": (
        on_heron("G21 G91 G38.2 Z-5 F60\nG90", purpose="measure"),
        on_heron("G21 G91 G38.2 Z-60 F60\nG90", purpose="measure"),
        on_heron("G21 G91 G38.3 Z-5 F60\nG90\nIF [#170 EQ 0] GOTO 9\nN9 M30", purpose="measure", profile="parametric"),
    ),
    "touch-unguarded": (
        bare(EDGE.replace("G38.2 X4", "G38.3 X4"), "probe"),
        bare(EDGE, "probe"),
        bare(EDGE.replace("G38.2", "G38.3").replace("G90", "#8=#170\nIF [#8 EQ 0] GOTO 9\nG90", 1), "probe"),
    ),
    "stopped-not-latched": (
        bare("G21\nG91 G38.2 X9 F60\nG0 X-5\nG90 G10 L20 P1 X-8", "probe"),
        bare(EDGE, "probe"),
        bare("G21\nG91 G38.2 X9 F60\nG0 X-5\nG90 G0 X[#5061 - 5]\nG10 L20 P1 X-8", "probe"),
    ),
    "contact-kept": (
        bare("G21\nG91 G38.2 X9 F60\nG0 Y5\nG90", "probe"),
        bare("G21\nG91 G38.2 X9 F60\nG0 X-1\nG0 Y5\nG90", "probe"),
        bare("G21\nG91 G38.2 X9 F60\nG4 P1\nG0 X-1 Y5\nG90", "probe"),
    ),
    "single-touch": (
        bare(EDGE.replace("F60", "F300"), "probe"),
        bare(EDGE, "probe"),
        bare("G21\nG91 G38.2 X9 F900\nG0 X-9\nG90", "probe"),
    ),
    "lift-unequal": (
        bare("G21 G91\nG0 Z-9\nG38.2 X9 F60\nG0 X-4\nG0 Z6\nG90", "probe"),
        bare("G21 G91\nG0 Z-9\nG38.2 X9 F60\nG0 X-4\nG0 Z4\nZ5\nG90", "probe"),
        bare("G21 G91\nG0 Z-9\nG38.2 X9 F60\nG0 X-4\nG90\nG53 G0 Z-35", "probe"),
    ),
    "already-made": (
        on_heron("G21 G91 G38.2 Z-60 F60\nG38.2 Z-1 F60\nG90", purpose="measure"),
        on_heron("G21 G91 G38.2 Z-60 F60\nG0 Z2\nG38.2 Z-3 F60\nG90", purpose="measure"),
        on_heron("G21 G91 G38.2 Z-60 F60\nG0 Z2\nG90", purpose="measure"),
    ),
    "overtravel-exceeded": (
        on_heron("G21 G91 G38.2 Z-60 F3000\nG90", purpose="measure"),
        on_heron("G21 G91 G38.2 Z-60 F60\nG90", purpose="measure"),
        on_heron("G21 G91 G38.2 Z-60 F400\nG90", purpose="measure"),
    ),
    "wrong-offset-active": (
        bare(EDGE.replace("G17", "G17 G55"), "probe"),
        bare(EDGE, "probe"),
        bare(EDGE.replace("P1", "P2"), "probe"),  # worked out in machine coordinates
    ),
    "length-not-renewed": (
        bare("G21 G90\nT3 M6\nG43 H3\nG10 L1 P3 Z51\nG0 Z5"),
        bare("G21 G90\nT3 M6\nG43 H3\nG10 L1 P3 Z51\nG43 H3\nG0 Z5"),
        bare("G21 G90\nT3 M6\nG43 H3\nG10 L1 P4 Z51\nG0 Z5\nG49\nT4 M6\nG53 G0 Z0\nG43 H4 Z5"),
    ),
    "wrong-length-active": (
        bare("G21 G90\nT3 M6\nG38.2 Z-5 F100\nG43 H4\nM30", "measure"),
        bare("G21 G90\nT3 M6\nG38.2 Z-5 F100\nG43 H3\nM30", "measure"),
        bare("G21 G90\nT3 M6\nG43 H4\nG38.2 Z-5 F100\nG49\nM30", "measure"),
    ),
    "not-simulated": (
        bare("G21 G90\nT3 M6\nM3 S900\nG84 X1 Y1 R5 Z-3 F200\nG80"),
        bare("G21 G90\nT3 M6\nM3 S900\nG85 X1 Y1 R5 Z-3 F200\nG80"),
        bare("G21 G90\nT3 M6\nG41 D3\nG0 X5\nG40\n#1 = #5221"),
    ),
    "jump-nowhere": (
        bare("G21\nIF [#1 EQ 5] GOTO 7\nN8 M30"),
        bare("G21\nIF [#1 EQ 5] GOTO 7\nN7 M30"),
        bare("G21\nM98 P5\nM30\nO5\nGOTO [3 + 4]\nN7 M99"),
    ),
    "frame-mixed": (
        bare(EDGE.replace("#5221 + ", ""), "probe"),
        bare(EDGE, "probe"),
        bare(
            EDGE.replace("N9", "G0 X[#5061 - 5]\nG53 G0 X[#7 - 5]\nN9").replace("G10 L2 P1 X[#7 + 3.0]\n", ""), "probe"
        ),
    ),
    "offset-off": (
        bare(SLOT.replace("/ 2", "/ 2.1"), "probe"),
        bare(SLOT, "probe"),
        bare(SLOT.replace("/ 2", "/ 2 + 0.004"), "probe"),
    ),
    "unguarded-approach": (
        on_edge(put(LEFT_EDGE, "G91 G38.3 Z-17 F1500", "G91 G1 Z-17 F1500")),
        on_edge(LEFT_EDGE),
        on_edge(put(LEFT_EDGE, "G53 G0 X369.008 ", "G53 G1 X369.008 F4000 ")),  # straight back, however fast
    ),
    "probe-spun": (
        bare(EDGE.replace("N9", "S900 M3\nN9"), "probe"),
        bare(EDGE.replace("N9", "M0\nS900 M3\nN9"), "probe"),
        bare("G21 S900 M3\nG91 G38.2 Z-5 F60\nM5\nS900 M4\nG90\nM5", "measure"),
    ),
    "radius-missing": (
        bare(EDGE.replace(" + 3.0", ""), "probe"),
        bare(EDGE, "probe"),
        bare(SLOT, "probe"),
    ),
    "radius-wrong-side": (
        bare(EDGE.replace("+ 3.0", "- 3.0"), "probe"),
        bare(
            EDGE.replace("X20", "X-20").replace("X-2 ", "X2 ").replace("X4", "X-4").replace("+ 3.0", "- 3.0"), "probe"
        ),
        bare(EDGE.replace("+ 3.0", "- 300"), "probe"),  # no radius, and no matter of its side
    ),
    "unreadable": (bare("G21\nX[1"), bare("G21\nX[1]"), bare("G21\n(X[1 is read as a comment)")),
    "unreadable-run": (bare(HERE + "G2 X200 R3"), bare(HERE + "G2 X2 R3"), bare(HERE + "G2 X6 R3")),
    "unknown-word": (bare("G21 G77"), bare("G21 G64"), bare("G65 P5 V3 U2\nM30\nO5\nM99")),
    "unit-unstated": (bare("G0 X5"), bare("G21 G0 X5"), bare("G53 G0 Z0\nG21\nG0 X5")),
    "unit-switched": (
        bare("G21\nG0 X5\nG20\nG0 X1"),
        bare("G21\nG0 X5\nG21\nG0 X1"),
        bare("G21\nG0 X5\nG#174"),
    ),
    "unit-implausible": (
        on_heron(put(ONE, "Z-144.35", "Z-5.6831")),
        on_heron(ONE),
        on_heron(put(ONE, "Z-1 ", "Z9 ")),  # beyond the travel, and not by a unit
    ),
    "mode-leak": (bare("G21 G91\nX5\nM30"), bare("G21 G91\nX5\nG90\nM30"), bare("G20 G90\nX5\nG#174\nM30")),
    "feed-left": (
        bare(G + "G91 G38.2 Z-9 F60\nG90", "measure"),
        bare(G + "G91 G38.2 Z-9 F60\nG90 F900", "measure"),
        bare(G + "G91 G38.2 Z-9 F60\nG90", "probe"),
    ),
    "value-differs": (
        on_heron(put(ONE, "X596.4", "X596.6")),
        on_heron(ONE),
        on_heron(put(ONE, "X596.4", "X596.404")),
    ),
    "unbounded-loop": (
        bare("#1=1\nWHILE [#1 GT 0] DO1\n#1=[#1+1]\nEND1"),
        bare("#1=1\nWHILE [#1 LT 99] DO1\n#1=[#1+1]\nEND1"),
        bare("#1=0\nWHILE [#1 LT 10000] DO1\n#1=[#1+1]\nEND1"),
    ),
    "range-unguarded": (
        bare("G21\nG53 G0 X[#2 * 10]", "exchange"),
        bare(GUARD + "G21\nG53 G0 X[#2 * 10]\nN9 M30", "exchange"),
        bare(GUARD + "T#2 M6\nN9 M30", "exchange"),
    ),
    "same-tool-unguarded": (
        bare(GUARD + "G21 G53 G0 X[#2 * 10]\nN9 M30", "exchange"),
        bare(GUARD + "IF [#2 EQ #1] GOTO 9\nG21 G53 G0 X[#2 * 10]\nN9 M30", "exchange"),
        bare("G21 G53 G0 X10", "exchange"),
    ),
    "beyond-travel": (
        on_heron(put(ONE, "G53 G0 X410", "G53 G0 X819.1")),
        on_heron(ONE),
        on_heron(put(ONE, "G53 G0 X410", "G53 G0 X819")),
    ),
    "body-contact": (
        on_heron(put(ONE, "Z-116.2", "Z-124.3")),
        on_heron(ONE),
        on_heron(put(ONE, "Z-116.2", "Z-124.196")),  # where the setter is first met
    ),
    "low-lateral": (
        on_heron(put(ONE, "Z-116.2", "Z-116.3")),
        on_heron(ONE),
        on_heron(put(ONE, "Z-42.6", "Z-47.05")),
    ),
    "pocket-occupied": (
        on_heron(put(AWAY, "X186.9", "X245.4")),
        on_heron(AWAY),
        on_heron(put(AWAY, "X186.9", "X654.9")),
    ),
    "pocket-empty": (
        on_heron(put(FETCH, "X596.4", "X654.9"), from_tool=0),
        on_heron(FETCH, from_tool=0),
        on_heron(put(put(FETCH, "X596.4", "X654.9"), "M3 S1160", "M5"), from_tool=0),
    ),
    "moved-ungripped": (
        on_heron(put(ONE, "G4 P0.5                            (until the nut is off)", "M5")),
        on_heron(ONE),
        on_heron(put(ONE, "G4 P0.5 ", "G4 P0 ")),  # it is freed on the way up
    ),
    "spindle-turning": (
        on_heron(put(ONE, "M5\n", "M7\n", 3)),
        on_heron(ONE),
        on_heron(put(ONE, "G4 P0.2486                         (until it stands)", "G4 P0.199")),
    ),
    "spindle-still": (
        on_heron(put(ONE, "M3 S1160", "M4 S1160")),
        on_heron(ONE),
        on_heron(put(ONE, "G4 P0.2486                         (until it has its speed)", "G4 P0.1")),
    ),
    "nut-lift": (
        on_heron(put(ONE, "F1450", "F1310")),
        on_heron(ONE),
        on_heron(put(ONE, "F1450", "F1400")),
    ),
    "nut-pushed": (
        with_setup(emit=True, changer__coupling__give=9.5),
        with_setup(emit=True, changer__coupling__give=0.5, changer__coupling__put_down="rising"),
        with_setup(emit=True, changer__coupling__give=9.6),
    ),
    "ramp-short": (
        with_setup(emit=True, changer__heights__hover_gap=10.4),
        with_setup(emit=True, changer__heights__hover_gap=11.6),
        with_setup(emit=True, changer__heights__hover_gap=9.6 + (1450 / 60) ** 2 / 640 + 1e-4),
    ),
    "feed-over-axis": (
        with_setup(emit=True, machine__axes__Z__rapid=1449.0),
        with_setup(emit=True),
        with_setup(emit=True, machine__axes__Z__rapid=1450.0),
    ),
    "not-homed": (
        on_heron(ONE, fault="not-homed"),
        on_heron(ONE),
        on_heron("G21 G90\nG0 X5 Y5 Z40", fault="not-homed"),
    ),
    "not-returned": (
        on_heron(put(ONE, "G53 G0 X410 Y620", "G53 G0 X410 Y620.02")),
        on_heron(ONE),
        on_heron(put(ONE, "G53 G0 X410 Y620", "G53 G0 X410 Y620.009")),
    ),
    "low-return": (
        on_heron(put(ONE, "(back; Z stays up)", "\nG53 G0 Z-1.1")),
        on_heron(ONE),
        on_heron(put(ONE, "(back; Z stays up)", "\nG53 G0 Z0")),
    ),
    "record-untrue": (
        on_heron(put(EVERY, "#161 = 1  ", "#150 = 1  "), profile="parametric"),
        on_heron(EVERY, profile="parametric"),
        on_heron(put(EVERY, "#161 = 1  ", "#161 = 1 #160 = 77  "), profile="parametric"),
    ),
    "dropped-tool": (
        on_curlew(put(FORK, "(put T1 away)", "M11\nG4 P1")),
        on_curlew(FORK),
        on_curlew(put(FORK, "G53 G0 Z-300  ", "G53 G0 Z-299.81")),  # the grip lets go within its reach
    ),
    "not-oriented": (
        on_curlew(put(FORK, "M19", "M5 ")),
        on_curlew(FORK),
        on_curlew(put(FORK, "M19", "M19 R180.5")),
    ),
    "wait-expired": (
        on_curlew(FORKS, fault="sensor-dead", profile="parametric"),
        on_curlew(FORKS, profile="parametric"),
        on_curlew(put(FORKS, "#120 LT 3]", "#120 LT 0.4]"), profile="parametric"),
    ),
    "action-unconfirmed": (
        on_curlew(put(FORK, "G4 P0.4375                         (until it is open)", "(at once)")),
        on_curlew(FORK),
        on_curlew(put(FORK, "G4 P0.125\nG53 G1 Y580", "G53 G1 Y580")),  # air is shut off: nothing waits for that
    ),
    "dwell-for-sensor": (
        on_curlew(put(FORKS, WAIT_OPEN, "G4 P1"), profile="parametric"),
        on_curlew(FORKS, profile="parametric"),
        on_curlew(put(FORKS, WAIT_OPEN, "G4 P1"), profile="parametric", setup=UNSENSED),
    ),
    "driven-in": (
        on_heron(
            put(ONE, "G53 G1 Z-144.35 F1450              (couple: the nut", "G53 G1 Z-155 F1450 (couple: the nut")
        ),
        on_heron(ONE),
        on_curlew(put(FORK, "G53 G1 Z-300 F1500", "G53 G1 Z-300.19 F1500")),  # the grip gives that much
    ),
    "rapid-into": (
        on_curlew(put(FORK, "G53 G1 Y580 F2500", "G53 G0 Y580")),
        on_curlew(FORK),
        on_curlew(put(FORK, "G53 G1 Y655 F2500", "G53 G1 Y655 F2500.4")),
    ),
    "speed-over-cap": (
        on_heron(put(ONE, "S1160", "S1900")),
        on_heron(ONE),
        with_setup(changer__coupling__speed_cap=1160.0),
    ),
    "wrong-pocket": (
        on_heron(put(AWAY, "X186.9", "X362.4"), to_tool=0, setup=WITHOUT_5),
        on_heron(AWAY, to_tool=0),
        on_heron(put(AWAY, "X186.9", "X186.91"), to_tool=0),
    ),
    "state-left": (
        on_heron(put(ONE, "G53 G0 X410", "G92 X5\nG53 G0 X410")),
        on_heron(ONE),
        on_heron(put(ONE, "G53 G0 X410", "G92 X5\nG92.1\nG53 G0 X410")),
    ),
    "failure-continues": (
        on_curlew(put(FORKS, "N931", "N931\nM99"), profile="parametric", fault="sensor-dead"),
        on_curlew(FORKS, profile="parametric", fault="sensor-dead"),
        on_curlew(FORKS, profile="parametric"),
    ),
    "clearance": (past_a_post(0.9), past_a_post(1.1), past_a_post(1.0)),
    "setup-conflict": (
        with_setup(changer__rack__pitch=26.9),
        with_setup(),
        with_setup(changer__rack__pitch=27.0, changer__rack__count=10),
    ),
}
CHECK_NAME = {"unreadable-run": "unreadable"}


def test_every_check_has_its_three_programs() -> None:
    assert set(TABLE) == set(CHECKS)


@pytest.mark.parametrize("name", sorted(TABLE))
def test_found_not_found_and_at_the_edge(name: str) -> None:
    check = CHECK_NAME.get(name, name)
    must, clean, edge = TABLE[name]
    found = [finding for finding in findings(**must) if finding.check == check]
    assert found, findings(**must)
    assert found[0].severity == CHECKS[name].severity and found[0].message.endswith((".", "?"))
    assert check not in reported(**clean)
    assert check not in reported(**edge), [f for f in findings(**edge) if f.check == check]


@pytest.mark.parametrize("name", sorted(TABLE))
def test_no_message_of_an_inch_machine_has_millimetres(name: str) -> None:
    with shown_in("inch"):
        messages = [finding.message for finding in findings(**TABLE[name][0])]
    assert messages and not [message for message in messages if re.search(r"[0-9] mm\b", message)]
    for reported, beside in (
        ("Z has", "when the thread"),
        ("would have to go", "Lower the feed"),
    ):  # two feeds, each with its unit
        for message in messages:
            assert reported not in message or message.split(beside)[0].count("in/min") == 2, message


def test_the_reference_programs_that_are_due() -> None:
    due = {name for name in CHECKS}
    for case in json.loads((PROGRAMS / "expected.json").read_text()):
        got = findings((PROGRAMS / case["program"]).read_text(), case["purpose"])
        names = {finding.check for finding in got}
        assert set(case["must"]) & due <= names, case
        if case["never"] == "any stop or warn":
            assert not [finding for finding in got if finding.severity != "note"], got
        else:
            assert not names & set(case["never"])


@pytest.mark.parametrize("profile", ["parametric", "plain words"])
def test_what_orthotrope_writes_has_no_stop_and_no_warn(heron_with: Callable[..., Setup], profile: str) -> None:
    results = list(prove_exchanges(heron_with(machine__profile=profile)))
    assert len(results) == 72
    assert {finding.check for result in results for finding in result.findings} == {"feed-left"}
    assert all(result.worst == "note" for result in results)


def test_a_low_stored_top_is_found_where_the_way_leads_over_the_setter_and_its_fix_works() -> None:
    setup = read_setup(changed(DOCUMENT, changer__heights__stored_top_z=-140.0))
    crossing = {
        (r.sequence.from_tool, r.sequence.to_tool)
        for r in prove_exchanges(setup)
        if isinstance(r.sequence, ExchangeRef) and any(f.check == "body-contact" for f in r.findings)
    }
    left, right = {1, 2, 3, 4, 5, 6}, {8, 9}
    assert crossing == {(a, b) for a, b in pairs(setup) if {a, b} & left and {a, b} & right}
    found = next(f for r in prove_exchanges(setup) for f in r.findings if f.check == "body-contact")
    assert found.fix and found.fix.where == found.quantity == "/changer/heights/stored_top_z"
    fixed = read_setup(changed(DOCUMENT, changer__heights__stored_top_z=found.fix.value))
    assert all(r.worst == "note" for r in prove_exchanges(fixed))


def test_a_proof_in_parts_says_the_same_as_a_whole() -> None:
    setup = read_setup(changed(DOCUMENT, changer__heights__stored_top_z=-140.0))
    parts = [result for first in range(0, 72, 10) for result in prove_exchanges(setup, first, 10)]
    assert parts == list(prove_exchanges(setup))


def test_one_finding_per_cause_and_an_unreadable_text_is_not_run() -> None:
    assert [f.check for f in findings("G21 G0 X[5\nG0 X1", "job")] == ["unreadable"]
    noise = findings("\n".join("?" * 5 for _ in range(3000)), "job")
    assert len(noise) == 201 and "more lines" in noise[-1].message


def test_a_tool_longer_than_its_record_meets_the_setter(heron: Setup) -> None:
    over = "G21 G90 G53 G0 Z-54\nG53 G0 X479.4 Y1187.5\nM30"  # T2 clears the setter by a millimetre
    assert "body-contact" not in {f.check for f in findings(**on_heron(over))}
    assert "body-contact" in {f.check for f in findings(**on_heron(over, fault="tool-long"))}


@pytest.mark.parametrize(
    "values, says",
    [
        ({"changer__rack__datum__x": 500.0}, "beyond the travel of X"),
        ({"changer__heights__stored_top_z": -70.0}, "above the top of travel"),
        ({"changer__heights__park_z": -60.0}, "below carry height"),
        ({"changer__heights__touch_z": -190.0}, "below the travel of Z"),
        ({"changer__heights__hover_gap": 9.0}, "hovers inside the nut"),
        ({"changer__heights__pocket_depth": 50.0}, "does not fit into its pocket: it is 23.6"),
        ({"changer__coupling__speed": 1501.0}, "above its cap"),
        ({"tools__0__pocket": 7}, "where the setter stands"),
        ({"tools__0__pocket": 2}, "both in pocket 2"),
        ({"tools__0__diameter": 19.5}, "does not pass the hole"),
    ],
)
def test_contradictions_of_the_setup(values: dict[str, Any], says: str) -> None:
    got = [f for f in findings(**with_setup(**values)) if f.check == "setup-conflict"]
    assert [f for f in got if says in f.message], got


def test_the_digest_follows_what_the_proof_depends_on_and_nothing_else(heron_with: Callable[..., Setup]) -> None:
    base = digests_of(HERON)
    assert digests_of(heron_with(tools__0__name="other", machine__name="Other")) == base
    for change in ({"changer__rack__pitch": 58.6}, {"tools__3__length": 61.5}, {"machine__axes__Z__rapid": 4000.0}):
        assert digests_of(heron_with(**change)) != base


def test_a_place_is_reported_by_what_it_is_for() -> None:
    near = changed(
        demo("curlew"), changer__forks__lead_in=44.0, changer__forks__tine_reach=4.0, tools__0__diameter=30.0
    )
    for document in (near, changed(near, changer__heights__touch_z=-290.0)):
        for profile in ("parametric", "plain words"):
            setup = read_setup(document)
            text = exchange_text(setup, find_profile(profile), 1, 2)
            assert "value-differs" not in reported(text, setup=setup, from_tool=1, to_tool=2, profile=profile)
    lower = put(ONE, "G53 G1 Z-144.35 F1450", "G53 G1 Z-134 F1450\nG53 G1 Z-144.35 F1450")  # an approach by feed
    assert "value-differs" not in reported(**on_heron(lower))
    wrong = [f for f in findings(**on_curlew(put(FORK, "Y655 F2500", "Y655.8 F2500"))) if f.check == "value-differs"]
    assert wrong and "Pocket 1, Y" in wrong[0].message


def test_an_inch_profile_writes_no_other_values() -> None:
    inch = {**find_profile("parametric").model_dump(mode="json"), "name": "inch", "unit": "inch", "decimals": 3}
    for numbers in (
        {"unit": "inch"},
        {**inch, "arithmetic": False, "conditions": False, "record": "entry card", "wait": "none"},
    ):
        setup = read_setup({**changed(DOCUMENT, machine__profile="inch"), "profiles": [{**inch, **numbers}]})
        text = exchange_text(setup, setup.profile, 2, 9)
        found = review(make_case(read_text(text), setup.profile, "exchange", setup, 2, 9))
        assert "value-differs" not in {f.check for f in found}, found
        off = (
            [
                f
                for f in review(
                    make_case(read_text(put(text, "Z-5.683", "Z-5.6")), setup.profile, "exchange", setup, 2, 9)
                )
                if f.check == "value-differs"
            ]
            if "Z-5.683" in text
            else [None]
        )
        assert off


def test_a_post_in_the_way_is_no_low_stored_top_and_no_cure_is_made_up() -> None:
    post = {
        "kind": "cylinder",
        "name": "post",
        "x": 400.0,
        "y": 1187.5,
        "diameter": 20.0,
        "bottom_z": -180.0,
        "top_z": -20.0,
    }
    setup = read_setup({**DOCUMENT, "bodies": [*DOCUMENT["bodies"], post]})
    met = [f for r in prove_exchanges(setup, 40, 20) for f in r.findings if f.check == "body-contact"]
    assert met and all(f.quantity == f"/bodies/{len(DOCUMENT['bodies'])}" and f.fix is None for f in met)
    assert "stored top" not in met[0].message


MENDED: list[dict[str, float]] = [
    {"changer__heights__stored_top_z": -140.0},
    {"changer__coupling__feed": 1250.0},
    {"changer__coupling__give": 2.0},
    {"changer__heights__hover_gap": 9.0},
    {"changer__heights__park_z": -60.0},
]


@pytest.mark.parametrize("change", MENDED, ids=str)
def test_every_cure_that_is_offered_cures(change: dict[str, float]) -> None:
    setup = read_setup(changed(DOCUMENT, **change))
    told_before = [f for r in prove_exchanges(setup, 12, 3) for f in r.findings]
    offered = [f for f in told_before if f.fix]
    assert offered
    for finding in offered:
        assert finding.fix
        fixed = read_setup(placed(setup.as_json(), finding.fix.where, finding.fix.value))
        left = {
            (f.check, f.quantity) for r in prove_exchanges(fixed, 12, 3) for f in r.findings if f.severity != "note"
        }
        assert (finding.check, finding.quantity) not in left and left <= {(f.check, f.quantity) for f in told_before}


def test_written_texts_wait_until_the_spindle_stands() -> None:
    for name in ("heron", "curlew", "dunlin", "godwit", "knot", "plover"):
        setup = read_setup(demo(name))
        one, other = [tool.number for tool in setup.exchangeable()][:2]
        for profile in setup.every_profile():
            _, case = exchange_case(setup, profile, one, other)
            for way in ("forwards", "backwards"):
                turning = replace(case, call=replace(case.call, active=way), _runs={})
                assert not [f for f in review(turning) if f.check in ("spindle-turning", "spindle-still")], (
                    name,
                    profile.name,
                )
                moved = next(s for s in turning.main.trace.segments if s.kind != "dwell")
                assert turning.main.trace.turning(moved.t0) == 0, (name, profile.name)
    hasty = put(ONE, "G4 P4.5                            (until it stands)\n", "", 1)
    assert "10402" in next(f for f in review(make_called(hasty, "forwards")) if f.check == "spindle-turning").message


def make_called(text: str, active: str) -> Case:
    case = make_case(read_text(text), find_profile("plain words"), "exchange", HERON, 2, 9)
    return replace(case, call=replace(case.call, active=active))  # type: ignore[arg-type]


def test_the_plane_height_that_a_length_was_worked_out_with_is_the_setters() -> None:
    def text(plane: float) -> str:
        return (
            "G21 G90 G49\nG53 G0 Z-20\nG53 G0 X479.4 Y1187.5\nG91 G38.2 Z-50 F120\nG0 Z2\nG38.2 Z-4 F60\nG90\n"
            f"G10 L1 P2 Z[#5223 + #5063 + {plane}]\nG53 G0 Z-20\nM30"
        )

    for plane, wrong in ((124.2, False), (124.25, True), (124.2 + 0.003, False), (4.8898, True)):
        found = [
            f
            for f in findings(**on_heron(text(plane), purpose="measure", profile="parametric"))
            if f.check == "value-differs"
        ]
        assert bool(found) == wrong, (plane, found)
        assert not wrong or found[0].quantity == "/setters/0/plane_z"


def test_a_zero_set_as_a_parameter_is_judged_as_one_set_by_a_word() -> None:
    start = EDGE.split("#7")[0]
    for value, wrong in (
        ("#5221 + #5061 + 3", set()),
        ("#5061 + 3", {"frame-mixed"}),
        ("#5221 + #5061", {"radius-missing"}),
    ):
        found = reported(**bare(f"{start}#5221 = [{value}]\nG91 G0 X-5\nG90\nM30", "probe"))
        assert found == wrong, (value, found)


@pytest.mark.parametrize(("x", "is_reported"), [(625.65, True), (713.4, True), (596.6, False), (750.0, False)])
def test_coming_down_beside_the_pockets_is_reported(x: float, is_reported: bool) -> None:
    fetching = put(exchange_text(HERON, find_profile("plain words"), 0, 9), "X596.4", f"X{x}")
    said = [f.message for f in findings(**on_heron(fetching, from_tool=0, to_tool=9)) if f.check == "driven-in"]
    assert bool(said) == is_reported and all("there is no pocket" in message for message in said)


@pytest.mark.parametrize(
    ("check", "text", "purpose"),
    [
        ("probe-spun", "G21 G90\nS900 M3\nG4 P2\nG0 X5\nM5\nM30", "job"),  # nothing was touched
        ("unit-switched", "G0 X5\nG20\nG0 X1\nM30", "job"),  # the first length is the caller's affair
    ],
)
def test_what_is_none_of_its_affair_a_check_leaves_alone(check: str, text: str, purpose: str) -> None:
    assert check not in reported(**bare(text, purpose))
