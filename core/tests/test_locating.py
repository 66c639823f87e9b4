"""Where the cause of what an imported text does wrong is said to be."""

import re
from typing import Any

import pytest
from mutate import demo
from orthotrope.proof.exchanges import ExchangeRef
from orthotrope.proof.locating import differences
from orthotrope.proof.measuring import MeasuringRef
from orthotrope.proof.routines import RoutineRef
from orthotrope.proof.sequences.registry import SequenceRef, kind_of
from orthotrope.proof.whole import plain_refs, prove_part
from orthotrope.setup import Setup, read_setup

EXCHANGE, LENGTH = ExchangeRef(from_tool=5, to_tool=2), MeasuringRef(tools=(5,))
TOP = RoutineRef(name="frame top on the plate")


def said(setup: Setup, ref: SequenceRef, text: str) -> list[dict[str, Any]]:
    """What is said of a text in place of a sequence's and not of that, faults as well."""
    known, found = (
        {(entry["check"], entry.get("fault")): entry for entry in _all(setup, ref, source)}
        for source in (kind_of(ref).written(setup, ref), text)
    )
    return [entry for key, entry in found.items() if key not in known]


def _all(setup: Setup, ref: SequenceRef, text: str) -> list[dict[str, Any]]:
    (result,) = prove_part(setup.as_json(), plain_refs([ref]), text)
    faults = [{**fault, "message": fault["says"]} for fault in result["faults"] if fault["verdict"] != "safe"]
    return [entry for entry in [*result["findings"], *faults] if entry.get("severity") != "note"]


@pytest.mark.parametrize(
    ("ref", "old", "new", "quantity"),
    [
        (EXCHANGE, r"THEN #101 = 5", "THEN #101 = -5", None),
        (EXCHANGE, r"THEN #126 = 69.12", "THEN #126 = -69.12", "/tools/1/length"),
        (EXCHANGE, r"G43 H#2 ", "G43 H#3 ", None),
        (LENGTH, r"IF \[#170 NE 1\]", "IF [#171 NE 1]", None),
        (LENGTH, r"IF \[#121 LT #123\].*\n", "", None),
        (LENGTH, r"(search\)\n)", r"\1M3 S900\n", None),
        (LENGTH, r"G38.3 Z-19 ", "G38.3 Z-49 ", "/setters/0/overtravel"),
        (TOP, r"\+ 100.1\]", "- 100.1]", None),
    ],
)
def test_the_line_is_where_it_does_otherwise_than_the_written_text(
    ref: SequenceRef, old: str, new: str, quantity: str | None
) -> None:
    setup = demo("heron")
    text = kind_of(ref).written(setup, ref)
    place = re.search(old, text)
    assert place
    edited = text[: place.start()] + place.expand(new) + text[place.end() :]
    line = text[: place.start()].count("\n") + 1
    found = said(setup, ref, edited)
    assert found and all(abs(entry["line"] - line) <= 3 for entry in found), found
    assert quantity is None or quantity in {entry["quantity"] for entry in found}
    assert all(entry["quantity"] != "/changer/heights/touch_z" for entry in found)  # it comes to harm there


def test_of_two_differences_the_one_that_changes_what_is_done_is_named() -> None:
    setup = demo("heron")
    text = kind_of(LENGTH).written(setup, LENGTH)
    head, _, tail = text.replace("G91 G38.3 Z-19 F300", "G91 G38.3 F300 Z-19").rpartition("IF [#170 NE 1]")
    both = f"{head}IF [#171 NE 1]{tail}"
    (first, second) = differences(both, text)
    assert first.line < second.line
    assert {entry["line"] for entry in said(setup, LENGTH, both)} == {second.line}


def test_what_the_written_text_does_as_well_is_not_put_down_to_a_difference() -> None:
    document = demo("heron").as_json()
    document["inputs"][1]["level"] = "low" if document["inputs"][1].get("level") == "high" else "high"
    setup = read_setup(document)
    text = kind_of(LENGTH).written(setup, LENGTH)
    found = _all(setup, LENGTH, text.replace("M5\n", "M5\nG4 P0.001\n", 1))
    assert found and not any("look there first" in entry["message"] for entry in found)


def test_a_text_of_another_kind_is_compared_with_nothing() -> None:
    setup = demo("heron")
    written = kind_of(LENGTH).written(setup, LENGTH)
    for other in ("", "G21\nG91\nG38.2 Z-9 F50\nM30", "G1 X1\n" * 6000):
        assert not differences(other, written)
    assert not differences(
        re.sub(r"\((?!MSG).*?\)", "", written).lower(), written
    )  # remarks and case are no difference


def test_a_refusal_names_the_test_that_led_there_and_what_that_reads() -> None:
    setup = demo("heron")
    text = "G21 G90\n#30 = 7\n#31 = [#30 - 2]\nIF [#31 EQ 5] GOTO 9\nM99\nN9 (MSG, no)\nM0\nM30"
    (stop,) = [entry for entry in said(setup, LENGTH, text) if "does not finish" in entry["message"]]
    assert stop["line"] == 4 and "#31, set last in line 3" in stop["message"]
    text = "G21 G90\nIF [#182 EQ 0] GOTO 9\nM99\nN9 (MSG, no)\nM0\nM30"
    (stop,) = [entry for entry in said(setup, LENGTH, text) if "does not finish" in entry["message"]]
    assert stop["line"] == 2 and stop["quantity"] == "/inputs/1/wiring"
