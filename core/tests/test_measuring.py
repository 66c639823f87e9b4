"""Measuring at a setter: the written texts, run in worlds in which the true and the recorded length differ."""

import json
from dataclasses import replace
from pathlib import Path
from typing import Any, Literal

import pytest
from orthotrope.calc.derived import derive
from orthotrope.calc.setters import derive_setter
from orthotrope.calc.touch_devices import fastest_search, pushed
from orthotrope.errors import InputError
from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun, run_program
from orthotrope.machine.inputs import Inputs
from orthotrope.machine.run import Active, Run
from orthotrope.program.reader import read_text
from orthotrope.program.writer import write
from orthotrope.proof.callers import called_after_others, called_from_elsewhere, places
from orthotrope.proof.measuring import measuring_case, prove_tool
from orthotrope.proof.program_values import program_values
from orthotrope.proof.review import make_case, review
from orthotrope.sequence.measuring import MEASURING, plan_measuring
from orthotrope.setup import Setup, read_setup

DEMO = Path(__file__).parents[2] / "demo" / "setups"


def setup_of(name: str, **setter: Any) -> Setup:
    document = json.loads((DEMO / f"{name}.json").read_text())
    document["setters"][0] |= setter
    return read_setup(document)


def with_plate(setup: Setup) -> Setup:
    plate = {
        "kind": "touch plate", "name": "plate", "input": 1, "plane_z": -150.0, "overtravel": 2.0, "work_offset": 2,
        "x": 300.0, "y": 500.0, "diameter": 40.0, "thickness": 12.7,
    }  # fmt: skip
    document = setup.as_json()
    offset = {**document["work_offsets"][0], "number": 2, "x": 7.0, "y": 9.0, "z": -11.0}
    return read_setup(
        {**document, "setters": [*document["setters"], plate], "work_offsets": [document["work_offsets"][0], offset]}
    )


def measured(setup: Setup, tools: tuple[int, ...], off: float = 0.0, **call: Any) -> Run:
    """A run of measuring these tools, each as much longer than its record."""
    _, case = measuring_case(setup, setup.profile, "measure", tools)
    world = case.world
    longer = {n: replace(tool, length=tool.length + off) for n, tool in world.tools.items()}
    return run_program(case.program, setup.profile, replace(world, tools=longer), replace(case.call, **call))


def lengths(run: Run) -> dict[int, float]:
    return {event.data["tool"]: event.data["length"] for event in run.trace.of_kind("length-set")}


@pytest.mark.parametrize("name", ["heron", "plover"])
@pytest.mark.parametrize("off", [-3.7, 0.0, 1.23, 9.0])
@pytest.mark.parametrize("unit", [20, 21])
@pytest.mark.parametrize("active", ["", "length", "offset", "compensation", "cycle", "rotation", "backwards"])
def test_the_length_that_the_control_ends_up_with_is_the_true_one(
    name: str, off: float, unit: Literal[20, 21], active: Active
) -> None:
    setup = setup_of(name)
    setup = setup.model_copy(update={"work_offsets": [*setup.work_offsets[:1]]})
    number = setup.tools[2].number
    run = measured(setup, (number,), off, unit=unit, active=active, distance=91 if off else 90)
    resolution = setup.machine.axes.upright.resolution
    assert lengths(run)[number] == pytest.approx(setup.tool(number).length + off, abs=resolution)
    assert run.modes["unit"] == unit and run.modes["distance"] == (91 if off else 90)
    last = run.trace.segments[-1].end
    assert last[:2] == pytest.approx(run.call.at[:2], abs=0.01)
    assert last[2] == pytest.approx(setup.machine.axes.upright.soft_greatest, abs=0.01)


@pytest.mark.parametrize("name", ["heron", "plover"])
def test_tools_of_the_magazine_are_measured_in_turn(name: str) -> None:
    setup = setup_of(name)
    tools = tuple(tool.number for tool in setup.stored()[:3])
    _, case = measuring_case(setup, setup.profile, "measure", tools)
    run = measured(setup, tools, 0.5, from_tool=0)
    assert lengths(run) == {n: pytest.approx(setup.tool(n).whole_length + 0.5, abs=0.003) for n in tools}
    assert run.trace.ended == "end" and run.trace.holding[-1][1] == tools[-1]
    assert {finding.severity for finding in review(replace(case, call=replace(case.call, from_tool=0)))} <= {"note"}


@pytest.mark.parametrize("profile", ["parametric", "plain words"])
@pytest.mark.parametrize("name", [*MEASURING])
def test_every_text_has_no_more_to_be_said_of_it_than_its_feed(name: str, profile: str) -> None:
    setup = with_plate(setup_of("heron"))
    _, case = measuring_case(setup, setup.profile_named(profile), name, (3,))
    assert [finding.check for finding in review(case)] == ([] if name == "renew" else ["feed-left"])


@pytest.mark.parametrize("unit", [20, 21])
@pytest.mark.parametrize("active", ["", "length", "offset"])
@pytest.mark.parametrize("off", [-1.5, 0.0, 6.0])
def test_a_plate_sets_the_parts_top_and_the_readout_is_what_was_said(
    off: float, active: Active, unit: Literal[20, 21]
) -> None:
    setup = with_plate(setup_of("heron"))
    text, case = measuring_case(setup, setup.profile, "plate", (3,))
    moved = tuple(
        replace(body, top=body.top + off, bottom=body.bottom + off) if body.name == "plate" else body
        for body in case.world.bodies
    )
    run = run_program(
        case.program, setup.profile, replace(case.world, bodies=moved), replace(case.call, active=active, unit=unit)
    )
    (zero,) = run.trace.of_kind("zero-set")
    assert zero.data["offset"] == 2 and zero.data["zero"] == pytest.approx(-150.0 + off - 12.7, abs=0.003)
    compared = run.trace.of_kind("pause")[0].position[2]
    said = next(event.data["text"] for event in run.trace.of_kind("message") if "readout" in event.data["text"])
    assert compared - setup.tool(3).length - zero.data["zero"] == pytest.approx(float(said.split()[-2]), abs=0.001)
    assert "Take the plate" in text and text.index("Take the plate") < text.rindex("M30")


def test_every_tool_is_safe_under_every_fault_but_another_tool_that_is_longer() -> None:
    for name in ("heron", "plover"):
        setup = setup_of(name)
        for tool in setup.tools[:4]:
            verdicts = {fault.fault: fault.verdict for fault in prove_tool(setup, tool.number).faults}
            assert verdicts.pop("wrong-tool") in ("safe", "undetectable")
            assert set(verdicts.values()) == {"safe"} and len(verdicts) == 14


def test_a_dead_input_pushes_no_further_than_allowed() -> None:
    setup = setup_of("heron")
    _, case = measuring_case(setup, setup.profile, "measure", (3,))
    world = case.world
    dead = replace(world, inputs=Inputs(entry.as_dead(entry.number == 2) for entry in world.inputs))
    run = run_program(case.program, setup.profile, dead, case.call)
    lowest = min(segment.end[2] for segment in run.trace.segments)
    setter = setup.setters[0]
    assert lowest == pytest.approx(setter.plane_z + setup.tool(3).length - setter.overtravel, abs=0.001)
    assert run.trace.ended == "end" and not lengths(run) and not run.trace.of_kind("overtravel-exceeded")


def test_touches_that_differ_too_much_set_nothing() -> None:
    setup = setup_of("heron", touches=3)
    _, case = measuring_case(setup, setup.profile, "measure", (3,))
    for worst, sets in ((0.021, False), (0.019, True)):
        run = ProgramRun(case.program, Control(setup.profile, case.world, case.call))
        scatter = iter([0.0, worst, 0.01, 0.0])
        run.machine.touch_unit.noise = lambda s=scatter: next(s)  # type: ignore[misc]
        assert bool(lengths(run.go())) is sets


@pytest.mark.parametrize(
    ("left_out", "found"),
    [
        ("G91 G0 Z2 ", ""),
        ("G91 G38.3 Z-19", ""),
        ("+ #[5203 + 20 * #5220]", "value-differs"),
        ("- -124.2", "value-differs"),
        ("#125 = [#122 / 2 - -124.2]", "value-differs"),
        ("IF [#170 NE 1] GOTO 2004", "touch-unguarded"),
    ],
)
def test_what_is_left_out_of_the_text_is_found(left_out: str, found: str) -> None:
    setup = setup_of("heron")
    text, case = measuring_case(setup, setup.profile, "measure", (3,))
    assert left_out in text
    broken = replace(case, program=read_text(text.replace(left_out, "")), _runs={})
    findings = {finding.check for finding in review(broken) if finding.severity == "stop"}
    # "": the text itself notices, and sets nothing
    assert found in findings if found else not lengths(broken.main)


def test_it_is_called_from_the_corners_too_at_the_top_and_low() -> None:
    setup = setup_of("heron")
    text, case = measuring_case(setup, setup.profile, "measure", (3,))
    found = list(places(case))
    over = {(pocket.x, pocket.y) for pocket in derive(setup).pockets}  # type: ignore[union-attr]
    assert len({place[:2] for place in found} - over) == 4 and {place[:2] for place in found} > over and len(found) > 14
    assert not list(called_from_elsewhere(case))
    lines = text.splitlines()
    first = next(n for n, line in enumerate(lines) if line.startswith("G53 G0 Z-0.5"))
    sideways = replace(case, program=read_text("\n".join([*lines[:first], *lines[first + 1 :]])), _runs={})
    reported = [finding for finding in called_from_elsewhere(sideways) if finding.severity == "stop"]
    assert reported and reported[0].check == "body-contact" and reported[0].message.startswith("Called from X")


def test_what_another_call_left_behind_is_noticed() -> None:
    setup = setup_of("heron")
    text, case = measuring_case(setup, setup.profile, "measure", (3,))
    assert not list(called_after_others(case))
    unguarded = text.replace("IF [#160 NE 3] GOTO 2001", "(any tool)").replace("#123 = #121", "(as it was)", 1)
    reported = {
        f.message.split(":")[0] for f in called_after_others(replace(case, program=read_text(unguarded), _runs={}))
    }
    assert "Called with T5 in the spindle" in reported  # the longest
    trusting = text.replace("#122 = #121", "#122 = [#122 + #121]")
    reported = {f.check for f in called_after_others(replace(case, program=read_text(trusting), _runs={}))}
    assert "value-differs" in reported


@pytest.mark.parametrize("off", [0.4, -0.2])
def test_a_plate_of_another_thickness_is_found_in_the_text(off: float) -> None:
    setup = with_plate(setup_of("heron"))
    text, case = measuring_case(setup, setup.profile, "plate", (2,))
    assert not [f for f in review(case) if f.severity == "stop"]
    imported = replace(case, program=read_text(text.replace("- 12.7]", f"- {12.7 + off}]")), _runs={})
    reported = [f for f in review(imported) if f.check == "value-differs"]
    assert len(reported) == 1 and reported[0].quantity == "/setters/1" and f"{12.7 + off:g} mm" in reported[0].message
    believed = next(belief for belief in program_values(imported) if belief.what == "thickness on the part")
    assert believed.program == pytest.approx(12.7 + off, abs=0.03) and believed.setup == 12.7 and not believed.agrees


def test_a_length_reported_in_another_work_offset_is_found() -> None:
    text = "#1 = [#5063 - #2]\nG10 L1 P3 Z#1\nM30"
    touch = "G21 G90 G94 G40 G49 G80 G17\nG53 G0 Z-0.5\nG53 G0 X479.4 Y1187.5\nG53 G0 Z-60\nG91 G38.2 Z-25 F60\nG90\n"
    document = setup_of("heron", work_offset=2).as_json()
    offsets = {offset["number"]: offset for offset in document["work_offsets"]}
    plane = document["setters"][0]["plane_z"] - offsets[2]["z"]
    setup = read_setup(document)
    for active, found in (("G54", True), ("G55", False)):
        program = f"{active}\n#2 = {plane:.4f}\n{touch}{text}"
        case = make_case(read_text(program), setup.profile, "measure", setup, 3, 3)
        reported = [f for f in review(case) if f.check == "wrong-offset-active"]
        assert bool(reported) == found and all("belongs to work offset 2" in f.message for f in reported)


def test_a_touch_is_followed_into_a_call_with_arguments() -> None:
    """What is handed over keeps what it came of, and the caller's own comes back with the return."""
    setup = setup_of("heron")
    begin = "G21 G90 G94 G40 G49 G80 G17\nG53 G0 Z-0.5\nG53 G0 X479.4 Y1187.5\nG53 G0 Z-60\nG91 G38.3 Z-25 F60\nG90\n"
    for guard, found in (("", True), ("IF [#170 NE 1] GOTO 9\n", False)):
        program = f"{begin}{guard}#1 = #5063\nG65 P7 A[#1 + 0]\nN9\nM30\nO7\n#2 = [#1 - 1]\nG10 L2 P1 Z#2\nM99"
        case = make_case(read_text(program), setup.profile, "measure", setup, 3, 3)
        assert any(f.check == "touch-unguarded" for f in review(case)) == found


def test_a_changed_length_is_used_on_a_machine_without_a_setter_too() -> None:
    setup = read_setup(json.loads((DEMO / "knot.json").read_text()))
    text = write(plan_measuring(setup, "renew", (2,)), setup.profile)
    assert "G43 H2" in text and "G53" not in text
    with pytest.raises(InputError, match="no setter"):
        plan_measuring(setup, "measure", (2,))


def test_a_length_of_another_tool_or_of_no_touch_is_found() -> None:
    setup = setup_of("heron")
    text, case = measuring_case(setup, setup.profile, "measure", (3,))
    for old, new, says in (("L1 P3", "L1 P4", "T3 is in the spindle"), ("Z#125", "Z#126", "none of the touches")):
        changed = replace(case, program=read_text(text.replace(old, new)), _runs={})
        (found,) = [finding for finding in review(changed) if finding.severity == "stop"]
        assert found.check == "value-differs" and says in found.message


def test_the_fastest_search_is_within_the_overtravel_and_the_next_step_is_not() -> None:
    setter, delay, slows = setup_of("heron").setters[0], 0.014, 320.0
    for back_off, travel in ((2.0, 0.0), (50.0, 0.3)):
        other = setter.model_copy(update={"back_off": back_off, "trigger_travel": travel})
        fastest = fastest_search(other, other.overtravel, delay, slows, 1e9)
        assert fastest
        left = min(other.overtravel, back_off - 0.2)
        assert pushed(other, fastest, delay, slows) <= left < pushed(other, fastest + 10, delay, slows)
    assert (
        fastest_search(setter.model_copy(update={"trigger_travel": 4.0}), setter.overtravel, delay, slows, 1e9) is None
    )


def test_a_tool_that_does_not_fit_is_reported_with_what_would_do() -> None:
    setup = setup_of("heron", plane_z=-62.0)
    derived = derive_setter(setup, derive(setup), 0)
    assert [entry.fits for entry in derived.tools].count(False) > 0
    number = next(entry.number for entry in derived.tools if not entry.fits)
    with pytest.raises(InputError, match="would do"):
        plan_measuring(setup, "measure", (number,))
    with pytest.raises(InputError, match="one tool"):
        plan_measuring(setup_of("heron"), "calibrate", (1, 2))


def test_an_end_of_the_magazine_program_keeps_its_labels_apart() -> None:
    setup = setup_of("plover")
    text = write(plan_measuring(setup, "measure", (3, 5)), setup.profile)
    labels = [line.split()[0] for line in text.splitlines() if line.startswith("N") and line[1:].split()[0].isdigit()]
    plain = [label for label in labels if int(label[1:]) < 10_000]
    assert len(plain) == len(set(plain))


def test_what_a_measuring_program_believes_is_beside_what_the_setup_says() -> None:
    setup = setup_of("heron")
    text, case = measuring_case(setup, setup.profile, "measure", (3,))
    at = setup.setters[0]
    reported = {belief.what: belief for belief in program_values(case)}
    assert set(reported) == {"unit", "search feed", "measuring feed", "back-off", "plane height"}
    assert all(belief.agrees for belief in reported.values())
    assert reported["plane height"].program == pytest.approx(at.plane_z, abs=0.03)
    changed = text.replace(f"F{at.measure_feed:g}", "F50")
    assert changed != text
    reported = {belief.what: belief for belief in program_values(replace(case, program=read_text(changed), _runs={}))}
    assert (
        reported["measuring feed"].program == 50
        and not reported["measuring feed"].agrees
        and reported["search feed"].agrees
    )
