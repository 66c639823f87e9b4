"""Edits of the written texts that were passed once, each with its family: something is said of each."""

import re

import pytest
from mutate import Subject, cases_of, demo, outcome_of, written
from orthotrope.machine.run import Call
from orthotrope.program.reader import read_text
from orthotrope.proof.callers import all_pairs
from orthotrope.proof.case import Case
from orthotrope.proof.measuring import measuring_case
from orthotrope.proof.review import make_case, review
from orthotrope.proof.routines import prove_routine, routine_case
from orthotrope.setup import Setup, read_setup

HERON, CURLEW, PLOVER, DUNLIN = (Subject(name, "exchanges") for name in ("heron", "curlew", "plover", "dunlin"))
LENGTH, PLANE, WHOLE, RENEW = (Subject("heron", "measuring", name) for name in ("", "calibrate", "breakage", "renew"))
BORE = Subject("curlew", "routines", "lamp ring bore")
TOP = Subject("heron", "routines", "frame top on the plate")

PASSED = [
    # the length in force, at every end
    (LENGTH, r"G43 H5(?= .*\nG#174.*\n\(MSG, T5 is)", "G43 H2", "wrong-length-active"),
    (LENGTH, r"(N2005(?:.*\n)*?.*M0\n)G43 H5", r"\1G43 H2", "touches-differ"),
    (BORE, r"G43 H8(?= .*\nG#174.*\n\(MSG, lamp)", "G43 H2", "wrong-length-active"),
    # the spindle turns where it must not
    (LENGTH, r"M5\n", "", "spindle-turning"),
    (LENGTH, r"G4 P4.5.*\n", "", "spindle-turning"),
    # the call, the record and what is there
    (CURLEW, r"IF \[#160 NE #1\].*\n", "", "pocket-occupied"),
    (CURLEW, r"IF \[#160 NE #1\] GOTO 920", "#160 = #1", "record-untrue"),
    (PLOVER, r"IF \[#160 NE #1\] GOTO \d+", "#160 = #1", "record-untrue"),
    (LENGTH, r"IF \[#160 NE 5\] GOTO \d+", "#160 = 5", "record-untrue"),
    (LENGTH, r"IF \[#161 EQ 1\].*\n", "", "record-untrue"),
    (RENEW, r"IF \[#161 EQ 1\]", "IF [#161 EQ 2]", "record-untrue"),
    # what is not the sequence's to set
    (CURLEW, r"(a known state\)\n)", r"\1G10 L2 P1 Z-10\n", "state-left"),
    (LENGTH, r"(a known state\)\n)", r"\1#5221 = 12\n", "state-left"),
    (CURLEW, r"G40 ", "", "unreadable"),
    (LENGTH, r"(M30\nN2001)", r"G92 Z0\n\1", "state-left"),
    (RENEW, r"(M0\nM30)", r"G92 Z0\n\1", "state-left"),
    (PLANE, r"(G90\nG53 G0 Z-0.5 .*\nIF \[#124)", r"G92 Z0\n\1", "state-left"),
    (CURLEW, r"(IF \[#161 EQ 1\])", r"G20\n\1", "mode-leak"),  # the end of the same tool
    (DUNLIN, r"(IF \[#161 EQ 1\])", r"G91\n\1", "mode-leak"),
    (LENGTH, r"G91 G0 Z2 ", "G91 G0 Z0.1 ", "already-made"),
    # sizes, places and turns, either way
    (BORE, r"ABS\[#134 - 84\] GT", "[#134 - 84] GT", "part-size-off"),
    (BORE, r"ABS\[#134 - 84\] GT 1\]", "ABS[#134 - 84] GT 1.4]", "part-size-off"),
    # failing branches
    (LENGTH, r"(N2005(?:.*\n)*?)M30", r"\1M99", "touches-differ"),
    (BORE, r"(N2006.*\n.*\n)G53 G0 Z0.*\n", r"\1", "part-missing"),
    (LENGTH, r"M30\nN2004\n", "N2004\nM30\n", "touch-input-dead"),
    (LENGTH, r"M30\nN2003\n", "N2003\nM30\n", "touch-input-stays"),
    (RENEW, r"(N2001(?:.*\n)*?)M30", r"\1M99", "failure-continues"),
    (WHOLE, r"(N2006(?:.*\n)*?)M30", r"\1M99", "tool-long"),
    # touches that differ, or are not made
    (LENGTH, r"IF \[#121 LT #123\].*\n", "", "touches-differ"),
    (PLANE, r"IF \[#121 LT #123\].*\n", "", "touches-differ"),
    (LENGTH, r"G38.3 Z-3 F60", "G38.3 Z-30 F60", "touch-input-dead"),
    (TOP, r"G38.3 Z-1.98\d* F40", "G38.3 Z-2.5 F40", "touch-input-dead"),
    (PLANE, r"/ 2 - 73", "/ 2 - 72", "value-differs"),
    # a dwell that is shorter than what it waits for
    (CURLEW, r"G4 P0.4375", "G4 P0.1", "action-unconfirmed"),
]  # fmt: skip


@pytest.mark.parametrize(
    "subject, old, new, says", PASSED, ids=[f"{s} {says} {n}" for n, (s, _, _, says) in enumerate(PASSED)]
)
def test_an_edit_that_was_passed_is_found(subject: Subject, old: str, new: str, says: str) -> None:
    text, _ = cases_of(subject)
    edited = re.sub(old, new, text, count=1, flags=re.MULTILINE)
    assert edited != text
    said = {what for what, verdict in outcome_of(subject, edited) - written(subject) if verdict != "note"}
    assert says in said, said


def test_an_angle_that_is_told_at_once_must_still_be_told_when_the_spindle_has_had_its_time() -> None:
    """Wired the other way round, it let the arm enter a pocket with the spindle turning."""
    arm = Subject("godwit", "exchanges")
    assert not {what for what, verdict in written(arm) if verdict in ("stop", "unsafe")}
    text = re.sub(r"G4 P\[2.5 - #120\].*\n", "", cases_of(arm)[0])
    assert ("spindle-turning", "stop") in outcome_of(arm, text)


def test_all_pairs_stand_together_in_few_rows() -> None:
    factors = [
        [({"n": n}, f"{name}{n}") for n in range(count)] for name, count in (("a", 11), ("b", 4), ("c", 4), ("d", 2))
    ]
    rows = list(all_pairs(factors))
    met = {(one[1], other[1]) for row in rows for one in row for other in row if one is not other}
    wanted = {(a[1], b[1]) for f in factors for g in factors if f is not g for a in f for b in g}
    assert met == wanted and 44 <= len(rows) <= 50


def test_blocks_with_a_slash_are_run_both_ways() -> None:
    def said(text: str) -> list[str]:
        case = cases_of(Subject("heron", "measuring"))[1][0]
        whole = Case(read_text(text), case.profile, "job", case.world, Call(at=(400.0, 300.0, -60.0)), case.setup)
        return [finding.message for finding in review(whole, of_setup=False) if finding.check == "beyond-travel"]

    head = "G21 G17 G90 G94 G40 G49 G80\n#1 = 5000\n"
    assert said(head + "#1 = 10\nG53 G0 X#1\nM30\n") == []
    (message,) = said(head + "/#1 = 10\nG53 G0 X#1\nM30\n")
    assert message.startswith("With the blocks that have a slash left out: ")


def test_a_review_says_where_it_refused_at_once(heron: Setup) -> None:
    text, case = measuring_case(heron, heron.profile, "measure", (5,))
    empty = Case(read_text(text), case.profile, "measure", case.world, Call(at=case.call.at), heron)
    called = make_case(read_text(text), heron.profile, "measure", heron)
    assert called.call.from_tool == 5 and not [f for f in review(called, of_setup=False) if f.severity != "note"]
    (found,) = [finding for finding in review(empty, of_setup=False) if finding.severity != "note"]
    assert found.severity == "warn" and "It refuses at once" in found.message and "--from" in found.message


@pytest.mark.parametrize(
    ("axis", "faults"),
    [
        (1, {"part-off-right", "part-off-left", "part-off-beyond"}),
        (2, {"part-off-front", "part-off-back", "part-off-beyond"}),
        (3, {"part-low", "part-off-beyond"}),
    ],
)
def test_a_tolerance_that_is_checked_one_way_only_is_found_where_the_part_is_off_the_other_way(
    axis: int, faults: set[str]
) -> None:
    document = demo("curlew").as_json()
    (corner,) = (entry for entry in document["routines"] if entry["name"] == "frame corner")
    corner |= {"place_tolerance": 2.0, "beyond": 8.0}  # it is searched for further than is allowed
    setup = read_setup(document)
    text = routine_case(setup, setup.profile, "frame corner")[0]
    found = set[str]()
    for one_way in (f"[#13{axis}]", f"[-1 * #13{axis}]"):
        edited = text.replace(f"ABS[#13{axis}]", one_way)
        assert edited != text
        result = prove_routine(setup, "frame corner", imported=edited)
        unsafe = {fault.fault for fault in result.faults if fault.verdict == "unsafe"}
        assert "part-off-beyond" in unsafe
        found |= unsafe
    assert faults <= found, found
