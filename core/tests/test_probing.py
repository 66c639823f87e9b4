"""Routines: what the text works out, what is worked out here from its touches, and what really is there are the same; and no
edit of a text that does harm goes unnoticed."""

import json
import math
import re
from collections.abc import Iterator
from dataclasses import replace
from functools import cache
from typing import Any

import pytest
from demo_setup import ROOT, changed, demo
from hypothesis import given, settings
from hypothesis import strategies as st
from orthotrope.calc.derived import derive
from orthotrope.calc.probes import derive_probe
from orthotrope.cli import main
from orthotrope.errors import InputError
from orthotrope.machine.run import ByHand, Run
from orthotrope.machine.shapes import Body, BoxBody, StackPart, Well, first_contact
from orthotrope.program.expressions import compiled
from orthotrope.program.readback import read_back
from orthotrope.program.reader import read_text
from orthotrope.program.writer import Writer, as_written, write
from orthotrope.proof.case import Case
from orthotrope.proof.conflicts import conflicts
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.program_values import program_values
from orthotrope.proof.review import review
from orthotrope.proof.routines import case_of, provable, prove_routine, routine_case
from orthotrope.sequence.allotment import Allotment
from orthotrope.sequence.probing import PLANS, plan_routine, tip_of
from orthotrope.sequence.probing.formulas import EvaluatedFormulas, FormulaBackend, Scalar, Term, WrittenFormulas
from orthotrope.sequence.probing.qualified import diameter_from, off_centre_from
from orthotrope.sequence.probing.qualifying import routine_named
from orthotrope.sequence.probing.summing import summed
from orthotrope.sequence.probing.writing import FOUND, SIZES
from orthotrope.sequence.values import parameter
from orthotrope.setup import read_setup
from orthotrope.setup.control import find_profile
from orthotrope.setup.keys import placed
from orthotrope.setup.routines import ROUTINES

CURLEW = read_setup(demo("curlew"))
PLAIN = find_profile("plain words")
NAMES = provable(CURLEW)
TOUCHING = [name for name in NAMES if routine_named(CURLEW, name).touches_part]


@cache
def case(name: str) -> Case:
    return routine_case(CURLEW, CURLEW.profile, name)[1]


def _put(body: Body, dx: float, dy: float) -> Body:
    there = replace(body, x=body.x + dx, y=body.y + dy)
    if isinstance(there, BoxBody):
        return replace(there, wells=tuple(Well(w.x + dx, w.y + dy, w.radius) for w in there.wells))
    return there


def shifted(one: Case, dx: float, dy: float) -> Case:
    """The same with its part put down elsewhere."""
    bodies = tuple(_put(body, dx, dy) if body.part_of == "part" else body for body in one.world.bodies)
    return replace(one, world=replace(one.world, bodies=bodies), routine=None, _runs={})


def kept(run: Run, name: str) -> dict[str, float]:
    """What the text has worked out."""
    routine, use = routine_named(CURLEW, name), Allotment(CURLEW.profile.parameters)
    numbers = {use.number(parameter): found for found, parameter in FOUND.items()}
    numbers |= {use.number(parameter): size for parameter, size in zip(SIZES, routine.sizes, strict=False)}
    found = {}
    for event in run.trace.of_kind("set"):
        if event.data["parameter"] in numbers:
            found[numbers[event.data["parameter"]]] = event.data["value"]
    return found


def latched(run: Run, name: str) -> list[tuple[float, float, float]]:
    """Where the touches that count were latched: of those of a bore pattern, and of round features, the measuring ones."""
    probe = CURLEW.probes[0]
    return [tuple(e.data["latched"]) for e in run.trace.of_kind("touch") if e.data["feed"] == probe.measure_feed]


def test_the_demo_has_every_kind_of_routine() -> None:
    assert {routine.kind for routine in CURLEW.routines} == set(ROUTINES)


@pytest.mark.parametrize("profile", ["parametric", "plain words"])
@pytest.mark.parametrize("machine", ["curlew", "plover", "heron", "dunlin"])
def test_every_routine_is_proven_in_both_profiles(machine: str, profile: str) -> None:
    setup = read_setup(demo(machine))
    for name in provable(setup):
        result = prove_routine(setup, name, setup.profile if profile == "parametric" else PLAIN)
        assert result.worst is None, (name, result.findings)
        verdicts = {fault.fault: fault.verdict for fault in result.faults}
        assert "unsafe" not in verdicts.values(), (name, verdicts)
        detection = setup.probes[0].kind == "switching" and profile == "parametric"
        assert not detection or set(verdicts.values()) == {"safe"}, (name, verdicts)


@pytest.mark.parametrize("name", TOUCHING)
@pytest.mark.parametrize("profile", ["parametric", "plain words"])
def test_a_written_routine_is_read_back_as_it_was_meant(name: str, profile: str) -> None:
    sequence = plan_routine(CURLEW, name, find_profile(profile))
    text = write(sequence, find_profile(profile))
    assert read_back(read_text(text), find_profile(profile)) == as_written(sequence, find_profile(profile))


@pytest.mark.parametrize("name", TOUCHING)
@settings(max_examples=6, deadline=None)
@given(dx=st.floats(-3, 3), dy=st.floats(-3, 3))
def test_the_control_finds_what_is_worked_out_here_and_what_is_there(name: str, dx: float, dy: float) -> None:
    """Tolerance: the text holds four decimals, and being off by e to begin with leaves e²/2r of it."""
    routine, run = routine_named(CURLEW, name), shifted(case(name), dx, dy).main
    assert run.trace.ended == "end" and not run.trace.of_kind("body-contact")
    control, here = kept(run, name), summed(CURLEW, routine, latched(run, name))
    place = {"x": routine.x, "y": routine.y, "z": routine.z}
    expected = {"x": dx, "y": dy, "z": 0.0, "turn": 0.0, **PLANS[routine.kind].expected(routine)}
    assert control.keys() == {entry.name for entry in here.quantities}
    for entry in here.quantities:
        value = entry.value - place.get(entry.name, 0.0)
        assert value == pytest.approx(control[entry.name], abs=2e-3), entry.name
        assert value == pytest.approx(expected[entry.name], abs=3e-3), entry.name
        assert entry.half_width_95 > 0 and sum(share.share for share in entry.shares) == pytest.approx(1)


def test_a_part_that_lies_a_little_off_lies_so_on_each_axis() -> None:
    lies = case("frame corner")
    moved = FAULTS["part-off-little"].apply_to(lies).world.bodies
    for body, other in zip(lies.world.bodies, moved, strict=True):
        by = (other.x - body.x, other.y - body.y, other.top - body.top)
        share = by[0] / 2.0
        wanted = (2.0 * share, 1.5 * share, -0.3 * share) if body.part_of == "part" else (0.0, 0.0, 0.0)
        assert by == pytest.approx(wanted) and (share > 0.1) == (body.part_of == "part")


def test_a_turn_and_a_corner_are_found_on_a_part_that_lies_aslant() -> None:
    under = FAULTS["part-turned"].apply_to(case("frame corner"))
    found = kept(under.main, "frame corner")
    assert found["turn"] == pytest.approx(3.0, abs=1e-3)
    assert under.routine and under.routine.place
    assert 380 + found["x"] == pytest.approx(under.routine.place[0], abs=5e-3)
    assert 240 + found["y"] == pytest.approx(under.routine.place[1], abs=5e-3)


@pytest.mark.parametrize(
    "fault", ["part-missing", "touch-input-dead", "touch-input-stuck", "in-the-way", "bore-too-small"]
)
def test_nothing_is_set_after_a_miss(fault: str) -> None:
    for name in TOUCHING:
        one = case(name)
        if not FAULTS[fault].applies(one.world, one.call):
            continue
        under = FAULTS[fault].apply_to(one)
        if fault != "in-the-way" or under.world.bodies[-1].part_of == "way":
            assert not under.main.trace.of_kind("zero-set", "turned"), name


def test_out_of_tolerance_nothing_is_set_and_it_is_said() -> None:
    setup = read_setup(changed(demo("curlew"), routines__4__size_tolerance=0.5))
    name = setup.routines[4].name
    _, one = routine_case(setup, setup.profile, name)
    larger = tuple(
        replace(body, wells=tuple(replace(well, radius=well.radius + 0.4) for well in body.wells))
        if isinstance(body, BoxBody)
        else body
        for body in one.world.bodies
    )
    run = replace(one, world=replace(one.world, bodies=larger), _runs={}).main
    said = [event.data["text"] for event in run.trace.of_kind("message")]
    assert not run.trace.of_kind("zero-set") and any("size is further off" in text for text in said)


def test_a_probe_that_sleeps_is_woken_and_one_that_is_not_tells_nothing() -> None:
    power = {
        "number": 9,
        "name": "probe power",
        "role": "probe",
        "terminal": "Q9",
        "word_on": "M8",
        "word_off": "M9",
        "seconds": 0.8,
    }
    document = demo("curlew")
    setup = read_setup({**document, "outputs": [*document["outputs"], power]})
    text, one = routine_case(setup, setup.profile, "frame left edge")
    assert one.main.trace.of_kind("zero-set")
    asleep = text.replace("M8 ", "M9 ", 1)
    assert asleep != text
    reported = prove_routine(setup, "frame left edge", None, asleep)
    assert reported.worst == "stop"


def test_the_stem_meets_what_the_tip_should_have_touched() -> None:
    deep = read_setup(changed(demo("curlew"), routines__1__depth=70.0))
    reported = prove_routine(deep, "frame left edge")
    assert any(finding.check == "body-contact" and "T8" in finding.message for finding in reported.findings)


@settings(max_examples=60, deadline=None)
@given(angle=st.floats(0, 6.28), off=st.floats(0, 3), r=st.floats(0.5, 4))
def test_a_tip_in_a_hole_meets_its_wall_where_the_circle_is(angle: float, off: float, r: float) -> None:
    box = BoxBody("b", 0.0, 0.0, 50.0, 50.0, 1.0, 0.0, -20.0, 0.0, (Well(0.0, 0.0, 10.0),))
    start = (off, 0.0, -5.0)
    end = (off + 30 * math.cos(angle), 30 * math.sin(angle), -5.0)
    found = first_contact((StackPart("tip", r, 0.0, 2.0),), [box], start, end, 0.0, r)
    assert found
    x, y = (s + (e - s) * found.part for s, e in zip(start[:2], end[:2], strict=True))
    assert math.hypot(x, y) == pytest.approx(10 - r, abs=1e-5)


def test_what_a_probe_can_not_do_is_reported_with_its_reason() -> None:
    for change, says in (
        ({"routines__4__diameter": 5.0}, "does not go into"),
        ({"routines__0__probe": None}, "must name one that is there"),
    ):
        setup = read_setup(changed(demo("curlew"), **change))
        name = setup.routines[int(next(iter(change)).split("__")[1])].name
        with pytest.raises(InputError, match=says):
            tip_of(setup, routine_named(setup, name))
    heron = demo("heron")
    bore: dict[str, Any] = {
        "kind": "bore",
        "name": "b",
        "probe": "corner plate",
        "x": 1.0,
        "y": 1.0,
        "z": 1.0,
        "diameter": 30.0,
    }
    setup = read_setup({**heron, "routines": [bore]})
    with pytest.raises(InputError, match="touches the part itself"):
        tip_of(setup, setup.routines[0])
    with pytest.raises(InputError, match="in the spindle as T99, which is not there"):
        read_setup(changed(demo("curlew"), probes__0__tool=99))


EDITS = (
    ("G38.3 X", "G38.3 X-"), ("G38.3", "G1"), ("G38.3", "G0"), (" + ", " - "), (" - ", " + "), ("L2 P1", "L2 P2"), ("#5061", "#5062"),
    ("#5062", "#5061"), ("#5063", "#5061"), ("COS", "SIN"), ("F60", "F90"), ("R#", "R-#"), ("M5", "M3 S900"), ("G53 G0", "G0"), (" / 2", " / 3"),
)  # fmt: skip


def edits(text: str) -> Iterator[tuple[str, str]]:
    """The lines before the failing branches, each left out where it moves, sets or works out, and each changed."""
    lines = text.split("\n")
    end = next(index for index, line in enumerate(lines) if line.startswith("M30"))
    for index, line in enumerate(lines[:end]):
        code = re.sub(r"\(.*\)", "", line).strip()
        if re.match(r"(G91 G38|#\d+ =|G10|G53 G0 Z-)", code):
            yield f"{code} left out", "\n".join([*lines[:index], *lines[index + 1 :]])
        for old, new in EDITS:
            if old in code:
                yield (
                    f"{code}: {old} → {new}",
                    "\n".join([*lines[:index], code.replace(old, new, 1), *lines[index + 1 :]]),
                )


HARMLESS = ("G53 G0 Z", "Y#172", "back", "G53 G0 X", "1 - #153 * #154")
"""Moves up, and those that G0 makes in part coordinates: what they come to depends on the zero; and what is of second order."""


LONG = [
    pytest.param(name, marks=pytest.mark.thorough) for name in ("glazing slot", "frame corner", "frame front angle")
]


@pytest.mark.parametrize("name", ["frame left edge", *LONG])
def test_edits_of_a_text_are_reported(name: str) -> None:
    text, _ = routine_case(CURLEW, CURLEW.profile, name)
    passed = []
    for what, edited in edits(text):
        result = prove_routine(CURLEW, name, None, edited)
        if result.worst is None and all(fault.verdict == "safe" for fault in result.faults):
            passed.append(what)
    assert not [what for what in passed if not any(harmless in what for harmless in HARMLESS)], passed


@pytest.mark.parametrize(
    "name, old, new, says",
    [
        ("burner seat holes", r"G68 X0 Y0 R#136.*\n", "", "how far it is turned is not"),
        ("burner seat holes", r"IF \[#5220 NE 1\].*\n", "", "while work offset 2 is active"),
        ("lamp ring bore", r"IF \[ABS\[#134 - 84\] GT 1\].*\n", "", "nothing that it could be set by"),
        ("seat step", r"G38.3 (Z-12 F1500)", r"G1 \1", "in a plain move"),
        ("frame left edge", r"F500( .*search)", r"F1500\1", "Search feed of touch probe"),
    ],
)
def test_what_only_another_part_or_caller_shows(name: str, old: str, new: str, says: str) -> None:
    text, _ = routine_case(CURLEW, CURLEW.profile, name)
    edited = re.sub(old, new, text, count=1)
    result = prove_routine(CURLEW, name, None, edited)
    reported = [finding.message for finding in result.findings] + [
        f.says for f in result.faults if f.verdict == "unsafe"
    ]
    assert edited != text and any(says in message for message in reported), reported


def test_what_is_set_by_hand_holds_from_its_block_on() -> None:
    text, case = routine_case(CURLEW, CURLEW.profile, "frame left edge")
    lines = text.split("\n")
    worked = next(n for n, b in enumerate(case.main.trace.blocks) if lines[b.line - 1].startswith("#131"))

    def with_hand(*by_hand: ByHand) -> Run:
        return replace(case, call=replace(case.call, by_hand=by_hand), _runs={}).main

    def zeros(run: Run) -> list[float]:
        return [event.data["zero"] for event in run.trace.of_kind("zero-set")]

    assert zeros(with_hand(ByHand(worked + 1, parameter=131, value=-2.0))) == [378.0]
    assert zeros(with_hand(ByHand(worked, parameter=131, value=-2.0))) == zeros(
        case.main
    )  # it is worked out after that
    idle, made = with_hand(ByHand(8, input=5, value=0)), with_hand(ByHand(8, input=5, value=1))
    assert not zeros(idle) and "No touch" in idle.trace.of_kind("message")[-1].data["text"]
    assert made.trace.ended == "stopped" and made.trace.of_kind("already-made")
    assert not made.trace.inputs[0][1]["touch probe"] and made.trace.inputs[-1][1]["touch probe"]


def test_a_text_that_is_brought_is_judged_by_what_the_routine_is_to_set() -> None:
    text, _ = routine_case(CURLEW, CURLEW.profile, "frame left edge")
    other = text.replace("+ 380]", "+ 380.5]")
    reported = review(case_of(CURLEW, CURLEW.profile, routine_named(CURLEW, "frame left edge"), other))
    assert (
        other != text
        and [finding.check for finding in reported] == ["offset-off"]
        and "0.5 mm off" in reported[0].message
    )


# -- the sums that are worked out here and those that a control works out ---------------------------------------------


class Store:
    """The parameters of a control."""

    def __init__(self, values: dict[int, float]):
        self.values = values

    def number(self, index: float) -> float:
        return self.values[int(index)]

    def at(self, index: int) -> float:
        return self.values[index]

    def named(self, name: str) -> float:
        raise KeyError(name)


def evaluated(text: str, values: dict[int, float]) -> float:
    """What a control makes of a text in brackets."""
    block = read_text(f"#1 = [{text}]").blocks[0]
    return compiled(block.settings[0].value)(Store(values))  # type: ignore[union-attr]


numbers = st.floats(-90, 90).map(lambda value: round(value, 4))


@settings(max_examples=120, deadline=None)
@given(a=numbers, b=numbers, c=numbers.filter(lambda value: abs(value) > 0.5))
def test_a_sum_that_is_written_is_the_one_that_is_worked_out(a: float, b: float, c: float) -> None:
    """With the same lines for both; the text holds four decimals of every constant."""

    def lines(x: Scalar, y: Scalar, z: Scalar, sums: FormulaBackend) -> Scalar:
        turn = sums.atan(x, z)
        return (
            -(x - 2.5) * 2.0 + y / z - (sums.mm(3.25) - -y) + sums.cos(turn) * 1.0 + (0.0 * x - sums.sin(turn)) - -1.5
        )

    use, profile = Allotment(CURLEW.profile.parameters), CURLEW.profile
    x, y, z = (Term(parameter(number)) for number in (11, 12, 13))
    term = lines(x, y, z, WrittenFormulas(use))
    assert isinstance(term, Term)
    written = Writer(profile).value(term.value)
    assert "--" not in written and "+ -" not in written and "* 1]" not in written
    worked = lines(a, b, c, EvaluatedFormulas())
    assert evaluated(written, {11: a, 12: b, 13: c}) == pytest.approx(worked, abs=1e-6)


# -- what a Setup says of probes and routines -------------------------------------------------------------------------


@pytest.mark.parametrize(
    "change, where, says",
    [
        ({"probes__0__search_feed": 10000.0}, "/probes/0/search_feed", "pushes it"),
        ({"probes__0__back_off": 0.04}, "/probes/0/back_off", "must be longer"),
        ({"probes__0__measure_feed": 120.0}, "/probes/0/measure_feed", "every surface is off by 0.002 mm"),
        ({"probes__0__input": 4}, "/probes/0/input", "which no touch makes"),
        ({"routines__1__beyond": 13.0}, "/routines/1/beyond", "with a dead input it would break"),
        ({"routines__0__beyond": 5.5}, "/routines/0/beyond", "gives 5 mm"),
        ({"routines__4__diameter": 5.0}, "/routines/4/probe", "does not go into 5 mm"),
    ],
)
def test_contradictions_of_probes_and_routines(change: dict[str, Any], where: str, says: str) -> None:
    """Each is reported at its place, and not where everything is as it was; a fix that is offered works."""
    setup = read_setup(changed(demo("curlew"), **change))
    found = [entry for entry in conflicts(setup, derive(setup)) if entry.where == where]
    assert found and says in found[0].message
    assert where not in {entry.where for entry in conflicts(CURLEW, derive(CURLEW))}
    if found[0].fix:
        fixed = read_setup(placed(setup.as_json(), found[0].fix.where, found[0].fix.value))
        assert where not in {entry.where for entry in conflicts(fixed, derive(fixed))}


def test_at_the_edge_nothing_is_reported() -> None:
    edge = read_setup(changed(demo("curlew"), routines__1__beyond=12.0, routines__0__beyond=5.0))
    assert not [entry for entry in conflicts(edge, derive(edge)) if entry.where.startswith("/routines")]


def test_what_the_feed_does_to_the_error_is_feed_times_delay() -> None:
    found = derive_probe(read_setup(changed(demo("curlew"), probes__0__measure_feed=90.0)), 0)
    assert found.feed_error == pytest.approx(30 / 60 * found.search.delay)
    at = {entry.feed: entry for entry in found.feeds}
    assert (
        at[60.0].error == 0 and at[90.0].error == pytest.approx(found.feed_error) and at[360.0].stops > at[90.0].stops
    )


def test_a_routine_that_a_feed_error_spoils_is_off_by_so_much() -> None:
    """Qualified at 60, measured at 240 mm/min in a world that is as it was qualified."""
    _, one = routine_case(CURLEW, CURLEW.profile, "frame left edge")
    faster = read_setup(changed(demo("curlew"), probes__0__measure_feed=240.0))
    text, _ = routine_case(faster, faster.profile, "frame left edge")
    run = replace(one, program=read_text(text), _runs={}).main
    zero = run.trace.of_kind("zero-set")[0].data["zero"]
    assert zero - 380 == pytest.approx(derive_probe(faster, 0).feed_error, abs=2e-4)


# -- the stylus in the machine ----------------------------------------------------------------------------------------


def test_a_stylus_tells_wherever_it_touches_and_gives_no_further_than_it_can() -> None:
    _, one = routine_case(CURLEW, CURLEW.profile, "frame left edge")
    hard = replace(one.world.tools[8], stylus=replace(one.world.tools[8].stylus, give_across=0.005))  # type: ignore[type-var]
    run = replace(one, world=replace(one.world, tools={**one.world.tools, 8: hard}), _runs={}).main
    assert [event.kind for event in run.trace.of_kind("overtravel-exceeded")] == ["overtravel-exceeded"]
    assert not run.trace.of_kind("zero-set")


@pytest.mark.parametrize(("way", "stiff"), [("frame left edge", "give_across"), ("frame top", "give_up")])
def test_a_stylus_gives_upwards_and_sideways_each_by_its_own(way: str, stiff: str) -> None:
    _, one = routine_case(CURLEW, CURLEW.profile, way)
    for name in ("give_across", "give_up"):
        own = one.world.tools[8]
        hard = replace(own, stylus=replace(own.stylus, **{name: 0.005}))  # type: ignore[type-var]
        run = replace(one, world=replace(one.world, tools={**one.world.tools, 8: hard}), _runs={}).main
        assert bool(run.trace.of_kind("overtravel-exceeded")) == (name == stiff)


def test_an_off_centre_tip_is_taken_out_and_one_that_is_not_known_is_found_by_half_a_turn() -> None:
    known = kept(case("frame left edge").main, "frame left edge")
    assert known["x"] == pytest.approx(0, abs=1e-3) and CURLEW.probes[0].off_x != 0
    places = []
    for sign in (1, -1):
        one = case("diameter of touch probe")
        tool = one.world.tools[8]
        assert tool.stylus
        other = replace(tool, stylus=replace(tool.stylus, off_x=sign * 0.05, off_y=sign * -0.03))
        run = replace(one, world=replace(one.world, tools={**one.world.tools, 8: other}), _runs={}).main
        places.append([tuple(e.data["latched"]) for e in run.trace.of_kind("touch") if e.data["feed"] == 60.0])
    found = off_centre_from(CURLEW, CURLEW.probes[0], places[0], places[1])
    assert (found.x, found.y) == (pytest.approx(0.05, abs=1e-3), pytest.approx(-0.03, abs=1e-3))
    with pytest.raises(InputError, match="touches before the half turn"):
        off_centre_from(CURLEW, CURLEW.probes[0], places[0], list(places[0]))


def test_a_tip_that_differs_along_an_axis_is_measured_so_and_lobes_are_seen_round_the_clock() -> None:
    other = read_setup(changed(demo("curlew"), probes__0__effective_x=5.9, probes__0__effective_y=6.0))
    result = prove_routine(other, "lens pocket")
    assert result.worst is None and {fault.verdict for fault in result.faults} == {"safe"}
    one = case("diameter of touch probe")
    tool = one.world.tools[8]
    assert tool.stylus
    lobed = replace(tool, stylus=replace(tool.stylus, lobing=0.02))
    run = replace(one, world=replace(one.world, tools={**one.world.tools, 8: lobed}), _runs={}).main
    places = [tuple(e.data["latched"]) for e in run.trace.of_kind("touch") if e.data["feed"] == 60.0]
    found = diameter_from(CURLEW, CURLEW.probes[0], places)
    assert found.form_error == pytest.approx(0.02, rel=0.15)
    highest = sorted(found.lobes, key=lambda lobe: -lobe[1])[:3]
    assert sorted(round(angle) % 360 for angle, _ in highest) == [0, 120, 240]
    assert found.half_width_95 > diameter_from(CURLEW, CURLEW.probes[0], _round_places()).half_width_95


def _round_places() -> list[tuple[float, float, float]]:
    run = case("diameter of touch probe").main
    return [tuple(e.data["latched"]) for e in run.trace.of_kind("touch") if e.data["feed"] == 60.0]


def test_more_scatter_lobing_or_doubt_never_gives_less_uncertainty() -> None:
    places = latched(case("frame corner").main, "frame corner")
    routine = routine_named(CURLEW, "frame corner")
    known = changed(demo("curlew"), probes__0__length_uncertainty=0.001, probes__0__angle_deg=0.0)
    usual = {entry.name: entry.half_width_95 for entry in summed(read_setup(known), routine, places).quantities}
    for field in ("repeatability", "lobing", "effective_uncertainty", "length_uncertainty", "polling"):
        worse = read_setup(changed(known, **{f"probes__0__{field}": 0.02}))
        wider = summed(worse, routine_named(worse, "frame corner"), places)
        grown = {entry.name for entry in wider.quantities if entry.half_width_95 > usual[entry.name] + 1e-9}
        assert all(entry.half_width_95 >= usual[entry.name] - 1e-9 for entry in wider.quantities)
        assert grown >= ({"z"} if field == "length_uncertainty" else {"x", "y"}), field


def test_what_was_not_measured_of_a_tip_is_in_the_uncertainty_with_what_the_build_allows() -> None:
    """Each of the three alone: no half turn set, no effective diameter, a length that was typed. None of them makes it narrower,
    and the half turn that was not set covers a tip that stands 0.04 mm off."""
    places = latched(case("frame corner").main, "frame corner")

    def widths(**values: Any) -> dict[str, float]:
        known = {"length_uncertainty": 0.001, "angle_deg": 0.0, "effective_diameter": 5.968, **values}
        setup = read_setup(changed(demo("curlew"), **{f"probes__0__{name}": value for name, value in known.items()}))
        found = summed(setup, routine_named(setup, "frame corner"), places)
        return {entry.name: entry.half_width_95 for entry in found.quantities}

    usual = widths()
    turned, diameter, length = widths(angle_deg=None), widths(effective_diameter=None), widths(length_uncertainty=0.0)
    assert turned["x"] > 0.04 > usual["x"] and turned["y"] > 0.04 and turned["z"] == usual["z"]
    assert turned["turn"] == pytest.approx(usual["turn"])  # what moves all touches alike turns nothing
    assert diameter["x"] > usual["x"] and diameter["z"] == usual["z"]
    assert length["z"] > 0.04 > usual["z"] and length["x"] == usual["x"]


# -- the command line -------------------------------------------------------------------------------------------------


def test_the_command_writes_and_proves_routines(capsys: pytest.CaptureFixture[str]) -> None:
    path = str(ROOT / "demo" / "setups" / "plover.json")
    assert main(["emit", path, "routine", "--name", "stock top"]) == 0
    text = capsys.readouterr().out
    assert "G38.3 Z" in text and "G10 L2 P1 Z" in text and "T25" in text
    assert main(["emit", path, "routine", "--name", "stock top", "--touch", "1", "--profile", "plain words"]) == 0
    assert "#" not in capsys.readouterr().out
    for wrong, says in ((["--name", "no such"], "There is no routine"), ([], "say which routine")):
        assert main(["emit", path, "routine", *wrong]) == 2
        assert says in capsys.readouterr().err
    assert main(["prove", path, "--only", "routines", "--json", "--workers", "1"]) == 0
    cases = json.loads(capsys.readouterr().out)["cases"]
    assert {entry["name"] for entry in cases} == set(provable(read_setup(demo("plover"))))
    assert {entry["verdict"] for entry in cases} == {"safe"} and {entry["sequence"] for entry in cases} == {"routine"}


# -- what a program believes ------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "old, new, differs",
    [
        ("", "", set()),
        ("+ 2.984]", "+ 2.5]", {"radius of the tip"}),
        ("+ 2.984]", "+ 2.961]", {"radius of the tip"}),
        ("F60", "F75", {"measuring feed"}),
        ("F500", "F700", {"search feed"}),
        ("G91 G38.3 X12", "G91 G38.3 X40", {"longest search"}),
        ("G91 G0 X-1.5", "G91 G0 X-2.2", {"back-off"}),
        ("L2 P1", "L2 P3", {"work offset that is set"}),
        ("G91 G38.3 Z-17", "G91 G38.3 Z-25", {"lowest height of the tip"}),
        ("G21 G17", "G20 G17", {"unit"}),
    ],
)
def test_what_a_program_believes_is_beside_what_the_setup_says(old: str, new: str, differs: set[str]) -> None:
    text, _ = routine_case(CURLEW, CURLEW.profile, "frame left edge")
    own = text.replace(old, new) if old else text
    assert own != text or not old
    reported = program_values(case_of(CURLEW, CURLEW.profile, routine_named(CURLEW, "frame left edge"), own))
    if new == "G20 G17":  # nothing else is where it should be
        assert {entry.what for entry in reported if not entry.agrees} >= differs
        return
    assert len(reported) == 8 and {entry.what for entry in reported if not entry.agrees} == differs


def test_what_the_readout_shall_show_is_no_part_of_the_radius() -> None:
    document = demo("curlew")
    index = next(i for i, routine in enumerate(document["routines"]) if routine["name"] == "frame left edge")
    setup = read_setup(changed(document, **{f"routines__{index}__readout_x": 12.5}))
    text, _ = routine_case(setup, setup.profile, "frame left edge")
    reported = program_values(case_of(setup, setup.profile, routine_named(setup, "frame left edge"), text))
    assert all(entry.agrees for entry in reported) and any(entry.what == "radius of the tip" for entry in reported)


@pytest.mark.parametrize("profile", ["parametric", "plain words"])
def test_a_fixed_corner_is_gone_to_where_it_is(profile: str) -> None:
    text, _ = routine_case(CURLEW, find_profile(profile), "jig corner")
    for x, is_reported in (("380", False), ("380.001", False), ("380.01", True)):
        own = text.replace("G53 G0 X380 ", f"G53 G0 X{x} ")
        found = review(case_of(CURLEW, find_profile(profile), routine_named(CURLEW, "jig corner"), own))
        assert (own == text) == (x == "380") and any(f.check == "value-differs" for f in found) == is_reported
