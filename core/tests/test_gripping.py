"""Grip, forks, discs and arms in time: what is done when, what harms, and that no tool is ever in two places or in
none."""

import itertools
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import pytest
from demo_setup import changed, demo
from hypothesis import given, settings
from hypothesis import strategies as st
from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun
from orthotrope.machine.gripping import Gripping, GripPockets
from orthotrope.machine.inputs import Inputs
from orthotrope.machine.run import Call
from orthotrope.machine.stops import Crashed
from orthotrope.machine.trace import Trace
from orthotrope.machine.virtual import VirtualMachine
from orthotrope.machine.world import World
from orthotrope.program.reader import read_text
from orthotrope.proof.exchanges import exchange_text, pairs
from orthotrope.proof.review import called_at
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.roles import INPUT_ROLES

SETUPS = {name: read_setup(demo(name)) for name in ("dunlin", "curlew", "plover", "godwit")}
WORLDS = {name: nominal_world(setup) for name, setup in SETUPS.items()}


def pockets(name: str) -> GripPockets:
    found = WORLDS[name].magazine
    assert isinstance(found, GripPockets)
    return found


def at(name: str, pocket: int, up: float = 0.0, tool: int = 0) -> VirtualMachine:
    """A machine of the demo over a pocket, so far above the height at which a tool is taken; the spindle at its
    angle."""
    magazine = pockets(name)
    x, y = magazine.places[pocket]
    machine = VirtualMachine(WORLDS[name], (x, y, magazine.couple_z + up), tool)
    machine.spindle.angle = magazine.orientation.angle if magazine.orientation else 0.0
    machine.spindle.oriented_from = -1.0
    return machine


def gripping(machine: VirtualMachine) -> Gripping:
    assert isinstance(machine.carrier.changer, Gripping)
    return machine.carrier.changer


def reported(trace: Trace) -> list[str]:
    return [event.kind for event in trace.events if event.kind not in ("device", "done", "spindle", "switched", "set")]


def switch(machine: VirtualMachine, *words: str) -> None:
    """Switch by M words, "M44 P3" among them, a number is a dwell of so many seconds."""
    for word in words:
        if word[0] != "M":
            machine.dwell(float(word), 0)
            continue
        code, _, p = word[1:].partition(" P")
        machine.switch(int(code), float(p) if p else None)


def rise(machine: VirtualMachine, by: float) -> None:
    x, y, z = machine.position
    machine.move((x, y, z + by), "rapid", 0.0, 0, True)


def test_a_tool_is_in_the_spindle_then_nowhere_then_in_its_pocket() -> None:
    machine = at("dunlin", 1, tool=1)
    changer = gripping(machine)
    assert changer.holds == 1 and 1 not in changer.stored
    switch(machine, "M11", "0.59")
    assert (
        changer.holds is None
        and not changer.is_made(INPUT_ROLES["grip open"], machine.t)
        and not changer.is_made(INPUT_ROLES["grip closed"], machine.t)
    )
    switch(machine, "0.02")
    assert changer.holds == 0 and changer.stored[1] == 1 and changer.is_made(INPUT_ROLES["grip open"], machine.t)
    assert changer.is_made(INPUT_ROLES["tool present"], machine.t)  # the nose is still over it
    rise(machine, 60)
    assert not changer.is_made(INPUT_ROLES["tool present"], machine.t)
    assert [(round(t, 3), tool) for t, tool in machine.trace.holding] == [(0.0, 1), (0.0, None), (0.6, 0)]
    assert machine.trace.stored[-1][1][1] == 1 and machine.trace.stored[-1][0] == pytest.approx(0.6)


def test_a_grip_closes_on_what_is_within_its_reach_and_on_nothing_else() -> None:
    for up, holds in ((0.0, 2), (0.29, 2), (0.31, 0), (40.0, 0)):
        machine = at("dunlin", 2, up, tool=0)
        gripping(machine).devices["grip"] = replace(gripping(machine).devices["grip"], state="open")
        switch(machine, "M10", "1")
        assert gripping(machine).holds == holds, up
        assert gripping(machine).is_made(INPUT_ROLES["grip closed"], machine.t) == (holds == 2)


HARMS: list[tuple[str, int, float, int, tuple[str, ...], float | None, str]] = [
    # machine, pocket, height above couple, tool in the spindle, words and dwells, then a rise (None: none), what is reported
    ("dunlin", 1, 20.0, 1, ("M11",), None, "dropped-tool"),
    ("dunlin", 1, 0.0, 1, ("M11", "0.3"), 60.0, "moved-ungripped"),
    ("dunlin", 2, 0.0, 0, ("M11", "1", "M10", "0.2"), 60.0, "moved-ungripped"),
    ("dunlin", 8, 0.0, 0, ("M11", "1", "M10", "1"), 60.0, "pocket-empty"),
    ("curlew", 1, 0.0, 1, (), 40.0, "moved-ungripped"),
    ("plover", 1, 0.0, 1, ("M41", "2"), 10.0, "moved-ungripped"),
    ("plover", 1, 0.0, 1, ("M44 P2", "1", "M41"), None, "pocket-occupied"),
    ("plover", 1, 40.0, 1, ("M41",), None, "body-contact"),
    ("plover", 1, 40.0, 0, ("M44 P2", "2", "M41"), None, "body-contact"),
    ("plover", 1, 0.0, 1, ("M44 P1", "M41", "2", "M11", "1", "M44 P3"), None, "moved-ungripped"),
    ("plover", 1, 0.0, 1, ("M41", "2", "M11", "1", "M42"), None, "moved-ungripped"),
    ("plover", 1, 0.0, 1, ("M44 P5", "M41"), None, "body-contact"),
    ("plover", 1, 0.0, 1, ("M44 P25",), None, "no-such-pocket"),
    ("godwit", 1, 0.0, 1, ("M43",), None, "body-contact"),
    ("godwit", 1, 0.0, 1, ("M44 P3", "2", "M41", "1", "M43", "1"), 10.0, "moved-ungripped"),
    ("godwit", 1, 0.0, 1, ("M44 P3", "2", "M41", "1", "M43", "1", "M46"), None, "moved-ungripped"),
    ("godwit", 1, 0.0, 1, ("M44 P3", "2", "M41", "1", "M43", "1", "M50"), None, "body-contact"),
    ("godwit", 1, 0.0, 1, ("M44 P3", "2", "M41", "1", "M43", "1", "M11", "1", "M45"), None, "dropped-tool"),
    ("godwit", 1, 0.0, 1, ("M44 P3", "2", "M41", "1", "M44 P4"), None, "body-contact"),
    ("godwit", 1, 0.0, 1, ("M44 P3", "M41"), None, "body-contact"),
    ("godwit", 1, -5.0, 1, ("M44 P3", "2", "M41", "1", "M43"), None, "body-contact"),
    (
        "godwit",
        1,
        0.0,
        1,
        ("M44 P3", "2", "M41", "1", "M43", "1", "M11", "1", "M46", "1", "M50", "1", "M10", "1", "M47"),
        None,
        "body-contact",
    ),
]


@pytest.mark.parametrize("name, pocket, up, tool, words, then, kind", HARMS)
def test_each_harm_is_reported_at_once(
    name: str, pocket: int, up: float, tool: int, words: tuple[str, ...], then: float | None, kind: str
) -> None:
    machine = at(name, pocket, up, tool)
    if kind == "pocket-empty":
        switch(machine, *words)
        rise(machine, then or 0.0)
    else:
        with pytest.raises(Crashed):
            switch(machine, *words)
            rise(machine, then or 0.0)
    assert reported(machine.trace)[-1] == kind, reported(machine.trace)


@pytest.mark.parametrize("name, words", [("plover", ("M41",)), ("godwit", ("M44 P3", "2", "M41", "1", "M43"))])
def test_a_spindle_that_turns_or_stands_at_another_angle_is_reported(name: str, words: tuple[str, ...]) -> None:
    for spoil, kind in (("turn", "spindle-turning"), ("angle", "not-oriented")):
        machine = at(name, 1, tool=1)
        if spoil == "turn":
            machine.spindle.turn(500.0)
            machine.dwell(1.0, 0)
        else:
            machine.spindle.angle = 10.0 + pockets(name).orientation.angle  # type: ignore[union-attr]
        with pytest.raises(Crashed):
            switch(machine, *words)
        assert reported(machine.trace)[-1] == kind


def places_of(machine: VirtualMachine) -> list[int]:
    """Every tool, as often as it is somewhere."""
    changer = gripping(machine)
    hands = changer.carried
    return sorted(tool for tool in (*changer.stored.values(), changer.tool, *hands) if tool)


WORDS = {
    "dunlin": ("M10", "M11", "0.7"),
    "curlew": ("M10", "M11", "0.4"),
    "plover": ("M10", "M11", "M41", "M42", "M44 P1", "M44 P2", "M44 P7", "0.6", "1.5", "5"),
    "godwit": ("M10", "M11", "M41", "M42", "M43", "M45", "M46", "M47", "M50", "M44 P2", "M44 P3", "0.4", "2"),
}


@pytest.mark.parametrize("name", sorted(WORDS))
@given(data=st.data())
@settings(max_examples=60, deadline=None)
def test_whatever_is_switched_no_tool_is_in_two_places_or_in_none(name: str, data: Any) -> None:
    tool = data.draw(st.sampled_from([0, 1]))
    machine = at(name, 1, tool=tool)
    everything = places_of(machine)
    hover = pockets(name).hover_z - pockets(name).couple_z
    for _ in range(data.draw(st.integers(1, 14))):
        step = data.draw(st.sampled_from([*WORDS[name], "up", "down"]))
        try:
            if step in ("up", "down"):
                high = machine.position[2] > pockets(name).couple_z + 1
                if high == (step == "down"):
                    rise(machine, -hover if step == "down" else hover)
            else:
                switch(machine, step)
        except Crashed:
            break
    assert places_of(machine) == everything


def run(setup: Setup, world: World, from_tool: int, to_tool: int, merges: bool) -> ProgramRun:
    program = read_text(exchange_text(setup, setup.profile, from_tool, to_tool))
    made = ProgramRun(
        program, Control(setup.profile, world, Call(called_at(setup), from_tool=from_tool, to_tool=to_tool))
    )
    made.merges = merges
    made.go()
    return made


def some_pairs(setup: Setup) -> Iterator[tuple[int, int]]:
    return itertools.islice(pairs(setup), 3, 200, 13)


@pytest.mark.parametrize("name", ["dunlin", "curlew", "plover", "godwit"])
def test_a_wait_that_is_run_as_one_dwell_comes_to_the_same(name: str) -> None:
    setup = SETUPS[name]
    for one, other in some_pairs(setup):
        whole, merged = (run(setup, WORLDS[name], one, other, merges) for merges in (False, True))
        slow, fast = whole.run.trace, merged.run.trace
        assert fast.seconds == pytest.approx(slow.seconds, abs=1e-9) and fast.ended == slow.ended
        assert [(e.kind, round(e.t, 6)) for e in fast.events if e.kind != "set"] == [
            (e.kind, round(e.t, 6)) for e in slow.events if e.kind != "set"
        ]
        assert [tool for _, tool in fast.holding] == [tool for _, tool in slow.holding]
        assert merged.parameters.values == pytest.approx(whole.parameters.values)
        assert len(fast.blocks) < len(slow.blocks)


def test_a_wait_that_expires_takes_as_long_either_way() -> None:
    setup = SETUPS["curlew"]
    dead = replace(
        WORLDS["curlew"], inputs=Inputs(replace(e, dead=e.role == "grip open") for e in WORLDS["curlew"].inputs)
    )
    whole, merged = (run(setup, dead, 1, 2, merges).run.trace for merges in (False, True))
    assert merged.seconds == pytest.approx(whole.seconds, abs=0.11)
    assert reported(merged)[-3:] == reported(whole)[-3:] and "wait-expired" in reported(merged)


def test_a_disc_that_only_goes_forwards_takes_the_long_way() -> None:
    spans = []
    for way in ("shorter", "forwards"):
        setup = read_setup(changed(demo("plover"), changer__disc__way=way))
        spans.append(run(setup, nominal_world(setup), 3, 1, True).run.trace.seconds)
    assert spans[1] - spans[0] > 10 * 0.35
