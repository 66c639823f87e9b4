"""What callers ask for, what another call left, and which lines no case of a proof reaches."""

import re

import pytest
from demo_setup import demo
from orthotrope.proof.coverage import ranges, unreached
from orthotrope.proof.exchanges import ExchangeProof, exchange_text
from orthotrope.proof.measuring import measuring_case, prove_tool
from orthotrope.proof.routines import prove_routine, routine_case
from orthotrope.setup import Setup, read_setup

SETUPS = {name: read_setup(demo(name)) for name in ("heron", "plover", "curlew", "knot")}


def text_of(name: str) -> str:
    return exchange_text(SETUPS[name], SETUPS[name].profile, 0, 0)


def reported(setup: Setup, text: str, pair: tuple[int, int] | None = None) -> list[str]:
    """What is reported of a text in place of the written one, from its callers."""
    proof = ExchangeProof(setup, text)
    return [finding.message for finding in proof.of(*(pair or proof.ways()[0]), True).findings]


@pytest.mark.parametrize(
    "name, guard, says",
    [
        ("plover", r".*\(a whole number\)\n", "Called for tool 13.5"),
        ("plover", r".*#2 GT 24\].*\n", "Called for T26"),
        ("plover", r".*#2 LT 0\].*\n", "Called for T−1"),
        ("knot", r".*\(a whole number\)\n", "Called for tool 3.5"),
    ],
)
def test_what_is_asked_for_is_a_tool_of_the_changer(name: str, guard: str, says: str) -> None:
    text = text_of(name)
    assert re.search(guard, text) and not [message for message in reported(SETUPS[name], text) if "Called" in message]
    assert any(message.startswith(says) for message in reported(SETUPS[name], re.sub(guard, "", text)))


def test_a_counter_that_another_call_left_is_reported_where_it_ends_a_wait() -> None:
    setup, text = SETUPS["plover"], text_of("plover")
    first = next(line for line in text.split("\n") if re.search(r"#120 = 0 +\(until it stands", line))
    assert any("and on left at" in message for message in reported(setup, text.replace(first + "\n", "")))


def test_a_value_that_is_left_is_reported_of_the_tool_that_needs_it() -> None:
    kept = demo("heron")
    kept["tools"][2]["collar_scatter"] = 0.01  # T3 keeps its length: none is looked up for it
    setup = read_setup(kept)
    text = exchange_text(setup, setup.profile, 0, 0)
    line = next(line for line in text.split("\n") if line.startswith("#126 = 0"))
    proof = ExchangeProof(setup, text.replace(line + "\n", ""))
    pair = next(pair for pair in sorted(proof.round) if pair[1] == 3)
    assert any("left at" in finding.message for finding in proof.of(*pair, True).findings)


def test_touches_that_differ_and_inputs_that_stay_made_are_noticed_by_the_written_texts() -> None:
    setup = SETUPS["heron"]
    text, _ = measuring_case(setup, setup.profile, "measure", (5,))
    verdicts = {fault.fault: fault.verdict for fault in prove_tool(setup, 5).faults}
    assert verdicts["touches-differ"] == verdicts["touch-input-stays"] == "safe"
    blind = "\n".join(line for line in text.split("\n") if "(the touches differ)" not in line)
    found = {fault.fault: fault for fault in prove_tool(setup, 5, blind).faults}
    assert found["touches-differ"].verdict == "undetectable" and "compare" in found["touches-differ"].says
    once = demo("heron")
    once["setters"][0]["touches"] = 1
    assert "touches-differ" not in {fault.fault for fault in prove_tool(read_setup(once), 5).faults}


def test_lines_that_no_case_reaches_are_reported_and_those_of_a_written_text_are_reached() -> None:
    setup, text = SETUPS["curlew"], text_of("curlew")
    more = text.replace("M99\nN900", "M99\nN890\nG53 G0 Z-300\nM30\nN900")
    assert more != text
    for made, finds in ((text, False), (more, True)):
        proof = ExchangeProof(setup, made)
        results = [proof.of(one, other, True).as_json() for one, other in proof.ways()]
        notes = [finding for finding, _ in unreached(results)]
        assert [note.check for note in notes] == ["unreached"] * finds
        if finds:
            at = more.split("\n").index("G53 G0 Z-300") + 1
            assert notes[0].line == at and f"lines {at} to {at + 1}" in notes[0].message


def test_lines_are_named_together_where_nothing_but_remarks_lies_between() -> None:
    assert ranges([4]) == "line 4" and ranges([4, 5, 7]) == "lines 4 to 7"
    assert ranges([4, 5, 9, 20, 21]) == "lines 4 to 5, 9 and 20 to 21"


def test_a_caller_that_had_a_length_has_one_afterwards() -> None:
    setup = SETUPS["curlew"]
    text, _ = routine_case(setup, setup.profile, "frame left edge")
    call = "G43 H8                             (its length is in force)\n"
    assert text.count(call) > 2 and prove_routine(setup, "frame left edge").worst is None
    without = text.replace(call, "", 1)
    messages = [finding.message for finding in prove_routine(setup, "frame left edge", imported=without).findings]
    assert any("no length is in force, and the caller had one" in message for message in messages)


def test_qualifying_is_judged_by_what_it_finds_and_a_guarded_move_by_its_feed() -> None:
    setup, name = SETUPS["curlew"], "length of touch probe"
    text, _ = routine_case(setup, setup.profile, name)
    for old, new, check in (
        ("#133 = -#139", "#133 = #140", "offset-off"),
        ("(down, guarded)", "(down, fast)", ""),
        ("IF [#170 NE 1] GOTO 2006", "IF [#170 NE 2] GOTO 2006", "setup-conflict"),
        ("F1500", "F3000", "value-differs"),
    ):
        assert old in text, old
        checks = {finding.check for finding in prove_routine(setup, name, imported=text.replace(old, new)).findings}
        assert check in checks if check else not checks, (old, checks)
