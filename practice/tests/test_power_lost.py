"""Power lost at any block of an exchange: the recovery sheet has what is there, and leads back to a true record."""

from collections.abc import Callable
from typing import Any

import pytest
from orthotrope.machine.gripping import Gripping
from orthotrope.practising.truth import true_setup
from orthotrope.proof.exchanges import exchange_text
from orthotrope.proof.recovery import recovery
from orthotrope.setup import Setup, read_setup

from practice.machine import PracticeMachine
from practice.tests.conftest import ROOT, Hand

At = Callable[..., Any]


def demo(name: str) -> Setup:
    return read_setup((ROOT / "demo" / "setups" / f"{name}.json").read_bytes())


def loaded(at: At, setup: Setup) -> tuple[PracticeMachine, Setup]:
    """A machine, homed, with T1 in the spindle, and the Setup as it would have to be."""
    hand: Hand = at(setup=setup)
    hand.do("tool", tool=setup.tool(1).model_dump(mode="json"))
    real = true_setup(setup, hand.machine.truth).as_json()
    for entry, reported in zip(real["inputs"], setup.inputs, strict=True):
        if entry["wiring"] != reported.wiring:  # found by testing it: its level is inverted
            entry["level"] = "low" if entry["level"] == "high" else "high"
            hand.do("key in", levels={str(reported.number): entry["level"]})
    return hand.machine, read_setup(real)


def held_and_pockets(machine: PracticeMachine, before: dict[int, int]) -> tuple[int | None, dict[int, int]]:
    changer = machine.machine.carrier.changer
    assert changer is not None
    stored = changer.stored
    return changer.holds, {p: stored.get(p, 0) for p in {*before, *stored} if stored.get(p, 0) != before.get(p, 0)}


@pytest.mark.parametrize("name", ["heron", "dunlin", "curlew", "plover", "godwit"])
def test_power_lost_at_any_block_leads_back_to_a_true_record(at: At, name: str) -> None:
    setup = demo(name)
    machine, real = loaded(at, setup)
    text = exchange_text(real, setup.profile, 1, 2)
    rows = recovery(real, 1, 2)
    machine.rate = 1e-9  # its time is given by hand
    machine.programs.run(text, 1, 2)
    seconds = 0.0
    while machine.busy and machine.execution == "ACTIVE" and seconds < 60:
        machine.playback.pass_time(0.5)
        seconds += 0.5
    assert machine.record == (2, False), machine.alarm  # the whole of it is done, with the numbers as they are
    moments = [0.37 * k for k in range(1, int(seconds / 0.37))]
    doubted = 0
    for moment in moments:
        machine, real = loaded(at, setup)
        before = dict(machine.machine.carrier.changer.stored)  # type: ignore[union-attr]
        machine.rate = 1e-9
        machine.programs.run(text, 1, 2)
        machine.playback.pass_time(moment)
        machine.power(False)
        line = machine.machine.journal.line
        held, pockets = held_and_pockets(machine, before)
        found = [(way.holds, dict(way.pockets)) for row in rows if line in row.lines for way in row.found]
        assert (held, pockets) in found, (line, held, pockets, found)
        record, doubtful = machine.record
        assert doubtful or record == held, (line, record, held)
        doubted += doubtful
        machine.power(True)
        if held is None:  # it is taken out by hand
            machine.machine.carrier.change_by_hand(0)
            held = 0
        machine.settle(held, {str(pocket): tool for pocket, tool in pockets.items()})
        assert machine.record == (held, False)
        changer = machine.machine.carrier.changer
        assert changer is not None and changer.tool == held
        if isinstance(changer, Gripping) and name == "godwit":
            first, values = setup.profile.parameters.pockets_first, machine.control.parameters.values
            assert all(values.get(first + pocket, 0.0) == tool for pocket, tool in changer.stored.items())
    assert doubted > 2


SWUNG_IN = "G20 G90 G53 G0 X2.4 Y8\nG53 G0 Z-4.6\nM44 P1\nG4 P9\nM41"
TURNING = "G21 G90 G53 G0 Z-3\nG53 G0 X210 Y40\nM3 S3000\nG4 P2\nM0"


@pytest.mark.parametrize(
    "name, text, says",
    [
        ("dunlin", "M11", "T1 has fallen"),
        ("plover", SWUNG_IN, "stand at its angle"),
        ("godwit", "M44 P17", "no pocket 17"),
        ("knot", TURNING, "turns as"),
    ],
)
def test_what_goes_wrong_with_a_grip_is_an_alarm_in_words(at: At, name: str, text: str, says: str) -> None:
    machine, real = loaded(at, demo(name))
    if name == "plover":  # where the disc really is
        place = real.changer.exchange  # type: ignore[union-attr]
        text = text.replace("X2.4 Y8", f"X{place.x / 25.4:.5f} Y{place.y / 25.4:.5f}")
    machine.programs.run(text, 1, 2)
    Hand(machine).look()
    assert says in machine.alarm and machine.execution in ("STOPPED", "PROGRAM_STOPPED")


def test_a_machine_that_runs_for_long_forgets_what_was_played_and_not_what_is_where(at: At) -> None:
    setup = demo("dunlin")
    machine, real = loaded(at, setup)
    text, hand = exchange_text(real, setup.profile, 0, 0), Hand(machine)
    for one, other in ((1, 2), (2, 3), (3, 1)) * 4:
        machine.programs.run(text, one, other)
        hand.look()
        while machine.execution == "PROGRAM_STOPPED":
            hand.do("go on")
        assert machine.record == (other, False), machine.alarm
        machine.playback.stop()
    trace = machine.machine.trace
    assert len(trace.segments) + len(trace.events) + len(trace.blocks) < 1500 and len(trace.stored) < 40
    changer = machine.machine.carrier.changer
    assert changer is not None and changer.tool == 1 and sorted(changer.stored.values()) == [2, 3, 4, 5, 6]
