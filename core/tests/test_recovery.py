"""The recovery sheet: every block is in it, what it says is what a run has there, and the way out fits where the
spindle is."""

import pytest
from demo_setup import changed, demo
from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun
from orthotrope.proof.exchanges import exchange_case
from orthotrope.proof.recovery import RecordWords, record_words, recovery
from orthotrope.setup import read_setup


@pytest.mark.parametrize("name", ["heron", "dunlin", "curlew", "plover", "godwit", "knot"])
def test_every_block_that_is_run_is_in_the_sheet_with_what_it_leaves(name: str) -> None:
    setup = read_setup(demo(name))
    rows = recovery(setup, 1, 2)
    _, case = exchange_case(setup, setup.profile, 1, 2)
    run = ProgramRun(case.program, Control(case.profile, case.world, case.call))
    while run.step():
        block = run.run.trace.blocks[-1]
        mine = [row for row in rows if block.line in row.lines]
        assert mine and any(block.holds == way.holds for row in mine for way in row.found), block
    assert rows[0].found[0].holds == 1 and rows[-1].found[-1].holds == 2
    assert all(row.doubtful or (len(row.found) == 1 and row.found[0].holds == row.record) for row in rows)
    assert any(row.doubtful for row in rows) and not rows[-1].doubtful


@pytest.mark.parametrize(
    "name, says",
    [
        ("heron", "turn the spindle backwards by hand"),
        ("curlew", "jog out along its mouth, not up"),
        ("plover", "do not move Z. Swing the disc home first"),
        ("godwit", "The arm is in"),
        ("dunlin", "straight up above the knob"),
    ],
)
def test_the_way_out_fits_the_style(name: str, says: str) -> None:
    rows = recovery(read_setup(demo(name)), 1, 2)
    assert any(says in step for row in rows for step in row.out)
    assert rows[-1].out == () or name == "plover"  # back where it was called, clear of the changer


def test_an_arms_hands_are_reported_and_the_record_is_keyed_in_as_the_control_has_it() -> None:
    setup = read_setup(demo("godwit"))
    says = " ".join(row.says for row in recovery(setup, 1, 2))
    assert "the arm has T1 at the spindle and T2 at the pot" in says and "the arm has T2 at the spindle" in says
    assert record_words(setup) == RecordWords(("#160 = {tool}", "#161 = 0"), "#[500 + {pocket}] = {tool}")
    assert record_words(read_setup(demo("curlew"))).of_pocket == ""
    plain = read_setup(changed(demo("heron"), machine__profile="plain words"))
    assert record_words(plain).of_tool == ("On the entry card: in the spindle is {tool}",)
    assert not any(row.doubtful for row in recovery(plain, 1, 2))
