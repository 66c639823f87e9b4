"""Parts that are put down at the practice machine: hidden, the same for the same seed, and reported beside what is expected."""

import json
import math
from pathlib import Path

import pytest
from orthotrope.errors import OrthotropeError
from orthotrope.practising.parts import put_down
from orthotrope.proof.routines import routine_case
from orthotrope.proof.worlds import world_tool
from orthotrope.sequence.probing.qualifying import routine_named
from orthotrope.setup import Setup, read_setup

from practice.hands import obey
from practice.machine import PracticeMachine

DOCUMENT = json.loads((Path(__file__).parents[2] / "demo" / "setups" / "curlew.json").read_text(encoding="utf-8"))
CURLEW = read_setup(DOCUMENT)


@pytest.fixture
def machine() -> PracticeMachine:
    """At once, homed, with its reversed input taken the right way round."""
    found = PracticeMachine(CURLEW, 7)
    found.rate = math.inf
    found.jogging.home()
    wired = next(entry for entry in CURLEW.inputs if entry.number == 5)
    found.key_in({}, {"5": "high" if wired.level == "low" else "low"}, {})
    return found


def run(machine: PracticeMachine, name: str, setup: Setup = CURLEW) -> None:
    machine.put_tool(world_tool(setup.tool(8)))
    text, _ = routine_case(setup, setup.profile, name)
    machine.programs.run(text, 8, 8)
    for _ in range(60):
        machine.playback.look()


@pytest.mark.parametrize("name", [routine.name for routine in CURLEW.routines if routine.touches_part])
def test_every_routine_finds_its_part_where_it_was_put(machine: PracticeMachine, name: str) -> None:
    """Before the probe is qualified: within a tenth of a millimetre, which is what an unknown tip makes at the most; in height its
    length comes to that."""
    machine.table.put_down(CURLEW, name)
    run(machine, name)
    assert machine.alarm == "" and f"{name} is found" in machine.message
    assert machine.lies == name and machine.touched
    zero = {n: v for n, v in machine.control.parameters.values.items() if 5221 <= n <= 5223}
    routine, reported = (
        routine_named(CURLEW, name),
        {row["name"].split(": ")[1]: row["true"] for row in machine.table.part_truth()},
    )
    for axis, number in (("x", 5221), ("y", 5222), ("z", 5223)):
        if axis in routine.axes:
            readout = getattr(routine, f"readout_{axis}")
            unknown = abs(machine.truth.tool_errors[8]) if axis == "z" else 0.0
            assert zero[number] + readout == pytest.approx(reported[axis], abs=0.1 + unknown), (axis, zero, reported)


def test_a_part_is_hidden_differs_by_seed_and_routine_and_is_never_further_off_than_one_puts_it_down() -> None:
    bore = routine_named(CURLEW, "lamp ring bore")
    one, again, other = put_down(bore, 3), put_down(bore, 3), put_down(bore, 4)
    assert one == again != other
    for seed in range(40):
        lies = put_down(bore, seed).routine
        assert abs(lies.x - bore.x) <= 2.5 and abs(lies.z - bore.z) <= 1.5 and abs(lies.diameter - bore.diameter) <= 0.2  # type: ignore[attr-defined]
    assert put_down(bore, 3).turn_deg == 0 != put_down(routine_named(CURLEW, "frame corner"), 3).turn_deg


def test_a_part_that_is_taken_away_is_missed_and_nothing_is_set(machine: PracticeMachine) -> None:
    machine.table.put_down(CURLEW, "frame left edge")
    machine.table.put_down(CURLEW, None)
    before = dict(machine.control.parameters.values)
    run(machine, "frame left edge")
    assert machine.lies == "" and machine.table.part_truth() == [] and machine.touched == []
    assert machine.control.parameters.values.get(5221) == before.get(5221)


def test_half_a_turn_puts_the_tip_on_the_other_side(machine: PracticeMachine) -> None:
    machine.table.put_down(CURLEW, "diameter of touch probe")
    run(machine, "diameter of touch probe")
    one = machine.touched
    machine.table.half_turn()
    assert machine.touched == [] != one
    run(machine, "diameter of touch probe")
    shift = [sum(b[axis] - a[axis] for a, b in zip(one, machine.touched, strict=True)) / len(one) for axis in (0, 1)]
    assert shift[0] / 2 == pytest.approx(machine.truth.stylus_dx, abs=0.003)
    assert shift[1] / 2 == pytest.approx(machine.truth.stylus_dy, abs=0.003)


def test_what_a_hand_asks_for_is_refused_while_the_machine_is_busy_or_where_it_makes_no_sense(
    machine: PracticeMachine,
) -> None:
    with pytest.raises(OrthotropeError, match="There is no routine"):
        obey(machine, {"do": "put down", "routine": "no such", "document": DOCUMENT}, None)
    with pytest.raises(OrthotropeError, match="format"):
        obey(machine, {"do": "put down", "routine": "frame top", "document": {}}, None)
    assert obey(machine, {"do": "put down", "routine": "frame top", "document": DOCUMENT}, None) == {}
    pages = obey(machine, {"do": "pages"}, None)["pages"]
    assert pages["lies"] == "frame top" and pages["touches"] == []
    assert any(row["name"] == "frame top: z" for row in obey(machine, {"do": "truth"}, None)["truth"])
    machine.rate = 1.0
    text, _ = routine_case(CURLEW, CURLEW.profile, "frame top")
    machine.put_tool(world_tool(CURLEW.tool(8)))
    machine.programs.run(text, 8, 8)
    for command in ({"do": "half turn"}, {"do": "put down", "routine": None, "document": DOCUMENT}):
        with pytest.raises(OrthotropeError, match="busy"):
            obey(machine, command, None)


def test_a_routine_is_made_in_the_air_with_every_touch_by_hand(machine: PracticeMachine) -> None:
    """No part lies there: each search and each measuring touch ends where the tip is touched, and the sums are of those."""
    machine.put_tool(world_tool(CURLEW.tool(8)))
    text, _ = routine_case(CURLEW, CURLEW.profile, "frame left edge")
    machine.rate = 1.0
    machine.programs.run(text, 8, 8)
    with pytest.raises(OrthotropeError, match="No touching move is under way"):
        obey(machine, {"do": "tap", "input": 5}, None)
    touched = 0
    for _ in range(4000):
        machine.playback.pass_time(0.01)
        if not machine.busy:
            break
        moving = machine.machine.trace.segments[-1] if machine.machine.trace.segments else None
        searching = moving and moving.kind == "touch" and "guarded" not in machine.block
        if moving and searching and moving.t0 + 0.1 < machine.now < moving.t1:
            obey(machine, {"do": "tap", "input": 5}, None)
            touched += 1
    assert touched == 2 and "frame left edge is found" in machine.message and machine.alarm == ""
    assert 368.0 < machine.control.parameters.values[5221] < 380.0


def test_untouched_in_the_air_it_says_that_there_was_no_touch(machine: PracticeMachine) -> None:
    run(machine, "frame left edge")
    assert "No touch" in machine.message
