"""Machines to begin with: numbers that go together, for every kind and style."""

import json

import pytest
from orthotrope.errors import InputError
from orthotrope.proof.exchanges import exchange_text, prove_exchanges
from orthotrope.proof.starting import MACHINE_KINDS, started
from orthotrope.setup import read_setup
from orthotrope.setup.changer import CHANGERS


@pytest.mark.parametrize("style", [*CHANGERS])
@pytest.mark.parametrize("kind, unit", [("router", "mm"), ("machining centre", "inch")])
def test_the_first_proof_of_every_style_has_no_stop_and_nothing_unsafe(kind: str, unit: str, style: str) -> None:
    setup = started("Tern", kind, unit, MACHINE_KINDS[kind].travel, style)
    assert read_setup(json.dumps(setup.as_json())) == setup and setup.profile.unit == unit
    results = list(prove_exchanges(setup, faults=True))
    assert len(results) == 12
    assert not {f.message for result in results for f in result.findings if f.severity != "note"}
    assert not {fault.says for result in results for fault in result.faults if fault.verdict == "unsafe"}
    assert {entry.role for entry in setup.inputs} == set(CHANGERS[style].sensors)


@pytest.mark.parametrize("style", ["thread-on", "drop-in", "side-entry", "moving disc", "disc with arm"])
def test_travel_that_is_too_short_is_reported_with_its_reason(style: str) -> None:
    with pytest.raises(InputError, match=f"does not fit {style} with the usual numbers: .*longer travel"):
        started("Tern", "router", "mm", (600.0, 900.0, 60.0), style)


def test_a_thread_on_tool_is_asked_for_where_an_input_tells_of_it() -> None:
    setup = started("Tern", "router", "mm", (600.0, 900.0, 250.0), "thread-on")
    number = next(entry.number for entry in setup.inputs if entry.role == "tool present")
    text = exchange_text(setup, setup.profile, 1, 2)
    asked = [line for line in text.splitlines() if f"#{setup.profile.parameters.input_first + number} " in line]
    assert [line.split()[2] for line in asked] == ["EQ", "NE"]  # off after it was put down, there after it was fetched
    assert "The tool is still in the spindle" in text and "There is no tool in the spindle" in text
