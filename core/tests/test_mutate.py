"""The proof is attacked by edits of the written texts: a fixed sample; all of them by `make mutate`."""

import random

import pytest
from edits import Edit, edits
from harmless import why_harmless
from mutate import MOST_TOOLS, Subject, attacked, cases_of, demo, edits_of, pairs_of, subjects
from setups import SetupEdit

SAMPLE = [
    (Subject("knot", "exchanges"), 12),
    (Subject("curlew", "routines", "frame left edge"), 8),
    (Subject("curlew", "routines", "length of touch probe"), 8),
    (Subject("heron", "measuring"), 20),
    (Subject("heron", "setups"), 60),
    (Subject("sanderling", "setups"), 60),
    (Subject("knot", "variations"), 12),
    pytest.param(Subject("curlew", "exchanges"), 14, marks=pytest.mark.thorough),
    pytest.param(Subject("dunlin", "variations"), 10, marks=pytest.mark.thorough),
]


@pytest.mark.parametrize("subject, count", SAMPLE, ids=str)
def test_an_edit_is_reported_or_does_no_harm(subject: Subject, count: int) -> None:
    every = edits_of(subject)
    outcomes = [attacked(subject, edit) for edit in random.Random(7).sample(every, count)]
    assert any(outcome.outcome in ("found", "rightly quiet") for outcome in outcomes)
    assert not [outcome.edit for outcome in outcomes if not outcome.outcome]


@pytest.mark.parametrize(
    "where, after, why",
    [
        ("/changer/rack/pitch", 52.6, "found"),
        ("/inputs/1/wiring", "normally open", "found"),
        ("/setters/0/plane_z", -123.7, "what is measured follows it"),
        ("/changer/heights/recess", 0.6, "the same happens, with figures that are allowed"),
        ("/changer/heights/hover_gap", 14.0, "nothing real depends on it"),
        ("/machine/axes/X/least", 900.0, "the Setup can't be that"),
    ],
)
def test_a_setup_is_wrong_and_it_is_found_or_a_rule_says_why_not(where: str, after: float | str, why: str) -> None:
    assert attacked(Subject("heron", "setups"), SetupEdit(where, "", after)).outcome == why


GONE_TO_TWICE = "(arm home)\n#120 = 0                           (until it is home)\nWHILE [#189 NE 1 AND #120 LT 3] DO1\nG4 P0.1\n#120 = [#12"


@pytest.mark.parametrize(
    "machine, old, new",
    [
        ("knot", "GOTO 200\nN1003", "N1003"),  # the person is asked for one tool, and then for another
        ("godwit", f"{GONE_TO_TWICE}0", f"{GONE_TO_TWICE}1"),  # without an end only where the arm sticks
        ("plover", "IF [#1 GT 24] GOTO 910      (it has no pocket)", ""),  # the probe in the spindle has none
    ],
)
def test_what_only_a_person_a_device_or_a_tool_without_a_pocket_brings_out(machine: str, old: str, new: str) -> None:
    subject = Subject(machine, "exchanges")
    text = cases_of(subject)[0]
    at = text.rindex(old)
    assert attacked(subject, Edit(0, "", old, new, text[:at] + new + text[at + len(old) :])).outcome == "found"


def test_edits_change_one_place_and_none_is_made_twice() -> None:
    text = "G21 G90 (G1 X5)\nG1 X5 F60\nG4 P0.5\nM30"
    found = list(edits(text))
    assert len({edit.text for edit in found}) == len(found) and text not in {edit.text for edit in found}
    assert {"left out", "exchanged with the next", "G1 for G0", "half", "one more", "other sign"} <= {
        e.how for e in found
    }
    assert all("(G1 X5)" in edit.text for edit in found if edit.line != 1)


FORKS = Subject("curlew", "exchanges")


@pytest.mark.parametrize(
    "old, new, why",
    [
        ("(park)", "(up)", "it does the same, and takes no less time"),
        ("G53 G0 Z#109                       (empty)", "G53 G0 Z-200", "it goes another way between the same deeds"),
        ("G4 P0.4375", "G4 P0.9", "it does the same, and takes no less time"),
        ("#160 = #2", "#160 = #1", ""),
        ("M11  ", "M10  ", ""),
        ("G53 G0 X#171 Y#172", "G53 G0 X#172 Y#172", ""),
        ("#161 = 0  ", "#161 = 1  ", ""),
        ("G43 H#2", "G49", ""),
    ],
)
def test_harm_is_judged_by_what_a_text_does(old: str, new: str, why: str) -> None:
    text, cases = cases_of(FORKS)
    assert old in text
    assert why_harmless(cases[:3], text, text.replace(old, new)) == why


def test_a_subject_is_found_by_what_it_is_for() -> None:
    every = [str(subject) for subject in subjects(["heron", "knot"], None)]
    assert every[:2] == ["heron exchanges", "heron measuring"] and every[-2:] == ["knot setups", "knot variations"]
    assert [str(s) for s in subjects(["heron"], "routines")] == [name for name in every if " routines " in name]


@pytest.mark.parametrize("machine", ["heron", "plover"])
def test_the_pairs_that_are_attacked_fetch_and_put_away_each_tool(machine: str) -> None:
    pairs = pairs_of(demo(machine))
    tools = {tool for pair in pairs for tool in pair} - {0}
    assert {a for a, _ in pairs} == {b for _, b in pairs} == tools | {0}
    assert all(a != b for a, b in pairs) and len(pairs) <= MOST_TOOLS + 2
