"""Suggested fixes: those that are offered work, and what is right is left as it is."""

import re

import pytest
from demo_setup import demo
from orthotrope.program.reader import read_text
from orthotrope.proof.case import Case
from orthotrope.proof.exchanges import exchange_text
from orthotrope.proof.review import make_case, review
from orthotrope.proof.routines import case_of, routine_case
from orthotrope.proof.text_fixes.trying import TEXT_FIXES, text_fixes
from orthotrope.sequence.probing.qualifying import routine_named
from orthotrope.setup import read_setup
from orthotrope.setup.control import find_profile

CURLEW = read_setup(demo("curlew"))
EDGE, _ = routine_case(CURLEW, CURLEW.profile, "frame left edge")
PLAIN = find_profile("plain words")
OUTSIDE = "G91\nG38.2 X20 F300\nG1 X-2 F600\nG38.2 X4 F60\nG90\nG10 L2 P1 X[#5221 + #5061 {}]\nG91 G0 X-5\nG90\nM30"


def on_edge(text: str) -> Case:
    return case_of(CURLEW, CURLEW.profile, routine_named(CURLEW, "frame left edge"), text)


def bare(text: str) -> Case:
    return make_case(read_text(text), find_profile("parametric"), "probe")


@pytest.mark.parametrize(
    "old, new, check, line",
    [
        (r"F60", "", "value-differs", "G91 G38.3 X2.5  F60                 (measure the edge)"),
        (r"F60", "F90", "value-differs", "G91 G38.3 X2.5 F60                 (measure the edge)"),
        (r"F500", "F900", "value-differs", "G91 G38.3 X12 F500                 (search the edge)"),
        (r"G21 G17", "G17", "unit-unstated", "G21"),
        (r"G#174 G#175.*", "G91", "mode-leak", "G90"),
        (r"\+ 2\.984", "- 2.984", "offset-off", "#131 = [#139 + 2.984]              (x)"),
    ],
)
def test_an_edit_of_the_written_text_is_taken_back(old: str, new: str, check: str, line: str) -> None:
    edited = re.sub(old, new, EDGE, count=1)
    case = on_edge(edited)
    findings = review(case)
    fix = next(entry for entry in text_fixes(case, edited, findings) if entry.check == check)
    assert [re.sub(r" +", " ", entry) for entry in fix.change.lines] == [re.sub(r" +", " ", line)]
    assert fix.message in {finding.message for finding in findings}
    again = review(on_edge("\n".join(fix.change.made(edited.split("\n")))))
    assert not [finding for finding in again if finding.severity != "note"]


@pytest.mark.parametrize(
    "text, check, line",
    [
        ("G21\n" + OUTSIDE.format("- 3.0"), "radius-wrong-side", "G10 L2 P1 X[#5221 + #5061 + 3.0]"),
        (OUTSIDE.format("+ 3.0"), "unit-unstated", "G21"),
        ("G21\nG91 G38.2 X9 F60\nG0 X-5\nG90 G18", "mode-leak", "G17"),
        ("G21\nG91 G38.2 X9 F60\nG0 X-5", "mode-leak", "G90"),
        ("G21\nG91 G38.2 X9 F60\nG0 X-5\nG90 G55", "mode-leak", "G54"),
        ("G21 G91\nG0 Z-9\nG38.2 X9 F60\nG0 X-4\nG0 Z6 (up)\nG90", "lift-unequal", "G0 Z9 (up)"),
        ("G21 G91\nG38.3 X9 F60\nG0 X-4\nG90\nG10 L2 P1 X[#5221 + #5061 + 3]", "touch-unguarded", "G38.2 X9 F60"),
        ("G21 G91\nG38.2 X9 F60\nG0 Y4\nG90", "contact-kept", "G0 X-2"),
        ("G20 G91\nG38.2 Y-.5 F3\nG0 X1\nG90", "contact-kept", "G0 Y0.0787"),
    ],
)
def test_a_program_of_ones_own_is_mended_where_it_is_plain(text: str, check: str, line: str) -> None:
    case = bare(text)
    (fix,) = [entry for entry in text_fixes(case, text, review(case)) if entry.check == check]
    assert fix.change.lines == (line,)
    assert check not in {finding.check for finding in review(bare("\n".join(fix.change.made(text.split("\n")))))}


def test_a_dwell_that_was_left_out_is_put_back_where_no_input_tells() -> None:
    text = exchange_text(CURLEW, PLAIN, 2, 3)
    without = re.sub(r"(M11 .*\n)G4 .*\n", r"\1", text, count=1)
    assert without != text
    case = make_case(read_text(without), PLAIN, "exchange", CURLEW, 2, 3)
    findings = review(case)
    (fix,) = [entry for entry in text_fixes(case, without, findings) if entry.check == "action-unconfirmed"]
    again = fix.change.made(without.split("\n"))
    assert [re.sub(r" *\(.*", "", line) for line in again] == [re.sub(r" *\(.*", "", line) for line in text.split("\n")]


def test_a_sign_is_turned_where_the_radius_stands_and_not_where_the_place_does() -> None:
    two = EDGE.replace("+ 2.984]", "- 2.5]").replace("F60", "F90")
    case = on_edge(two)
    fixes = {entry.check: entry.change.lines[0] for entry in text_fixes(case, two, review(case))}
    assert fixes["radius-wrong-side"].startswith("#131 = [#139 + 2.5]") and "F60" in fixes["value-differs"]


def test_what_is_right_is_left_and_what_would_not_cure_is_not_offered() -> None:
    assert text_fixes(on_edge(EDGE), EDGE, review(on_edge(EDGE))) == []
    far = EDGE.replace("+ 380]", "+ 381.7]")
    case = on_edge(far)
    findings = review(case)
    assert {finding.check for finding in findings} == {"offset-off"} and text_fixes(case, far, findings) == []
    assert set(TEXT_FIXES) >= {"unit-unstated", "mode-leak", "value-differs", "radius-wrong-side", "lift-unequal"}


def test_the_measuring_feed_of_the_probe_is_put_in() -> None:
    text = "G21 G90 G94\nG91 G38.2 X20\nG0 X-3\nG90\nG10 L2 P1 X[#5221 + #5061 - 380]\nG53 G0 Z0\nM30"
    case = on_edge(text)
    offered = {entry.check: entry.change.lines for entry in text_fixes(case, text, review(case))}
    assert offered.get("touch-feed-missing") == ("G91 G38.2 X20 F60",)


def test_an_offer_takes_one_line_and_one_finding_is_offered_once() -> None:
    edited = EDGE.replace("F60", "F90").replace("G21 G17", "G17")
    case = on_edge(edited)
    offered = text_fixes(case, edited, review(case))
    assert len({entry.change for entry in offered}) == len(offered) >= 2
    lines = edited.split("\n")
    for entry in offered:
        made = entry.change.made(lines)
        assert abs(len(made) - len(lines)) == 1 - entry.change.goes and (entry.before == "") == (entry.change.goes == 0)
