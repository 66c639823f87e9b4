"""Keeping tool lengths: exchanges that measure, ways to a length, what follows for a tool, and its sheet on paper."""

import json
from dataclasses import replace
from typing import Any

import pytest
from demo_setup import DOCUMENT, changed, demo, exchange, measuring
from orthotrope.calc.cutting import tool_cutting
from orthotrope.calc.outlines import HALVES, outline
from orthotrope.calc.worksheets import Entered, worksheet
from orthotrope.errors import InputError
from orthotrope.formats.tool_sheet import as_pdf
from orthotrope.machine.executor import run_program
from orthotrope.machine.run import Run
from orthotrope.proof.exchanges import ExchangeProof, exchange_case
from orthotrope.proof.measuring import measuring_case, prove_tool
from orthotrope.proof.measuring_cost import keeping
from orthotrope.proof.routines import RoutineRef
from orthotrope.proof.sequences.registry import sequence_name
from orthotrope.proof.whole import plain_refs, prove_part, sequences
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.tools import Tool

HERON, PLOVER = read_setup(DOCUMENT), read_setup(demo("plover"))


def exchanged(setup: Setup, one: int, other: int, off: float = 0.0, profile: str | None = None, **call: Any) -> Run:
    """An exchange, where the fetched tool has slipped by so much."""
    _, case = exchange_case(setup, setup.profile_named(profile or setup.machine.profile), one, other)
    tools = dict(case.world.tools)
    if other:
        own = tools[other]
        tools[other] = replace(own, length=own.length + off, stick_out=own.stick_out + off)
    return run_program(case.program, case.profile, replace(case.world, tools=tools), replace(case.call, **call))


def in_force(run: Run) -> tuple[int, float]:
    event = run.trace.of_kind("length-active")[-1]
    return event.data["tool"], event.data["length"]


@pytest.mark.parametrize("off", [-2.5, 0.0, 3.1])
@pytest.mark.parametrize("unit", [20, 21])
def test_an_exchange_of_a_loose_nut_ends_with_the_length_that_it_has(off: float, unit: int) -> None:
    run = exchanged(HERON, 1, 2, off, unit=unit, active="length")
    assert run.trace.ended == "end" and run.trace.holding[-1][1] == 2 and not run.fault
    assert in_force(run) == (2, pytest.approx(HERON.tool(2).whole_length + off, abs=0.01))
    assert run.modes["unit"] == unit and not run.trace.blocks[-1].doubtful
    assert run.trace.segments[-1].end[2] == HERON.machine.axes.upright.soft_greatest


def test_a_stop_collar_keeps_the_length_and_nothing_is_touched() -> None:
    run = exchanged(HERON, 1, 5)
    assert not run.trace.of_kind("touch") and in_force(run) == (5, HERON.tool(5).whole_length)
    assert not run.trace.blocks[-1].doubtful
    away = exchanged(HERON, 1, 0)
    assert not away.trace.of_kind("touch") and in_force(away)[1] == 0.0


@pytest.mark.parametrize("off", [-6.0, 6.0])
def test_one_that_is_further_off_than_it_can_slip_is_not_used(off: float) -> None:
    run = exchanged(HERON, 1, 2, off)
    assert not run.trace.of_kind("length-set") and run.trace.blocks[-1].doubtful
    assert run.trace.segments[-1].end[2] == HERON.machine.axes.upright.soft_greatest


def test_without_a_setter_the_job_does_not_go_on_by_itself() -> None:
    bare = read_setup(changed(DOCUMENT, setters=[]))
    said = [event.data["text"] for event in exchanged(bare, 1, 2).trace.of_kind("message")]
    assert (
        "void" in said[-1]
        and "in force" in [e.data["text"] for e in exchanged(bare, 1, 5).trace.of_kind("message")][-1]
    )


def test_a_control_without_arithmetic_touches_and_says_what_to_key_in() -> None:
    run = exchanged(HERON, 1, 2, profile="plain words")
    said = [event.data["text"] for event in run.trace.of_kind("message")]
    assert len(run.trace.of_kind("touch")) == 3 and "the length of T2 is Z of the touch less the plane" in said[-1]
    kept = exchanged(HERON, 1, 5, profile="plain words")
    assert not kept.trace.of_kind("touch") and in_force(kept) == (5, HERON.tool(5).whole_length)


@pytest.mark.parametrize(
    ("old", "new", "says"),
    [
        ("G43 H#2", "G43 H#1", "T1 is in force, and T2 is in the spindle"),
        ("G43 H#2", "G49", "without one: use its length"),
        ("IF [#2 EQ 2] THEN #126", "IF [#2 EQ 77] THEN #126", "T2 may have slipped"),
        ("G10 L1 P#2 Z#125", "(nothing is set)", "T2 may have slipped"),
        ("G10 L1 P#2 Z#125", "G10 L1 P1 Z#125", "T2 is in the spindle; set that of the tool that was touched"),
        ("G10 L1 P#2 Z#125", "G10 L1 P#2 Z#126", "comes of none of the touches"),
    ],
)
def test_a_job_that_would_go_on_with_a_length_that_is_not_true_is_reported(old: str, new: str, says: str) -> None:
    text, _ = exchange_case(HERON, HERON.profile, 1, 2)
    assert old in text and not [f for f in ExchangeProof(HERON).of(1, 2, False).findings if f.severity != "note"]
    found = ExchangeProof(HERON, text.replace(old, new)).of(1, 2, False).findings
    assert any(says in finding.message and finding.severity == "stop" for finding in found)


def test_holders_that_keep_their_length_are_used_with_it() -> None:
    for name in ("plover", "godwit", "curlew", "dunlin"):
        setup = read_setup(demo(name))
        one, other = (tool.number for tool in setup.exchangeable()[:2])
        run = exchanged(setup, one, other)
        assert in_force(run) == (other, setup.tool(other).whole_length) and not run.trace.of_kind("touch"), name


def test_the_whole_proof_has_exchanges_and_the_measuring_of_every_tool() -> None:
    every = sequences(HERON)
    exchanged, measured, others, probed = every[:72], every[72:80], every[80:84], every[84:]
    assert exchanged == sequences(HERON, imported=True) and {ref.kind for ref in exchanged} == {"exchange"}
    assert measured == [measuring(tool.number) for tool in HERON.tools]
    assert [sequence_name(ref) for ref in others] == [
        f"{name} with T5" for name in ("breakage", "calibrate", "renew", "unknown")
    ]
    assert probed == [RoutineRef(name=routine.name) for routine in HERON.routines] and len(probed) == 2
    part = plain_refs([every[0], every[75], probed[0]])
    results = prove_part(HERON.as_json(), json.loads(json.dumps(part)))
    assert [result["sequence"] for result in results] == part
    assert [r["worst"] for r in results] == ["note", "note", None] and results[2]["faults"]
    high = read_setup(changed(DOCUMENT, setters__0__plane_z=-60.0))
    (reported,) = prove_part(high.as_json(), plain_refs([measuring(5)]))
    assert reported["worst"] == "warn" and "too long for this setter" in reported["findings"][0]["message"]


def test_a_text_that_refuses_where_everything_is_as_the_setup_says_is_not_proven() -> None:
    """An input that is entered the wrong way round is made while nothing touches it: the texts stop, and never run."""
    odd = read_setup(changed(DOCUMENT, inputs__1__level="low" if DOCUMENT["inputs"][1]["level"] == "high" else "high"))
    (pair, tool) = prove_part(odd.as_json(), plain_refs([exchange(1, 2), measuring(3)]))
    for result in (pair, tool):
        (reported,) = [finding for finding in result["findings"] if finding["severity"] == "stop"]
        assert reported["check"] == "setup-conflict" and "made though nothing touches it" in reported["message"]
    kept = ExchangeProof(odd).of(1, 5, False)
    assert not [finding for finding in kept.findings if finding.severity == "stop"]


def test_wear_is_part_of_what_the_control_goes_by() -> None:
    worn = read_setup(changed(DOCUMENT, tools__0__wear=-0.25))
    assert worn.tool(1).whole_length == pytest.approx(HERON.tool(1).length - 0.25)
    assert nominal_world(worn).tools[1].recorded == worn.tool(1).whole_length
    folded = changed(DOCUMENT, tools__0__wear=0.0, tools__0__length=HERON.tool(1).length - 0.25)
    assert nominal_world(read_setup(folded)).tools == nominal_world(worn).tools


# -- large cutters, diameters, lengths that are not known ---------------------------------------------------------------


@pytest.mark.parametrize("number", [1, 2])
@pytest.mark.parametrize("off", [-0.4, 0.0, 0.3])
def test_a_diameter_is_found_from_two_sides(number: int, off: float) -> None:
    _, case = measuring_case(PLOVER, PLOVER.profile, "measure", (number,))
    tool = case.world.tools[number]
    world = replace(case.world, tools={**case.world.tools, number: replace(tool, radius=tool.radius + off / 2)})
    run = run_program(case.program, PLOVER.profile, world, case.call)
    (found,) = [e.data["value"] for e in run.trace.of_kind("set") if e.data["parameter"] == 129]
    assert run.trace.ended == "end" and found * 25.4 == pytest.approx(PLOVER.tool(number).diameter + off, abs=0.001)


def test_a_face_mill_is_touched_at_its_edge_while_it_turns_backwards() -> None:
    text, case = measuring_case(PLOVER, PLOVER.profile, "measure", (1,))
    (setter,) = PLOVER.setters
    touches = case.main.trace.of_kind("touch")
    assert touches[0].data["latched"][0] == pytest.approx(setter.x + PLOVER.tool(1).off_axis)  # type: ignore[attr-defined]
    assert all(case.main.trace.turning(event.t - 0.01) < -200 for event in touches)
    assert abs(case.main.trace.turning(case.main.trace.seconds)) < 1 and text.count("M4") == 3
    assert {fault.verdict for fault in prove_tool(PLOVER, 1).faults} <= {"safe", "undetectable"}


def test_what_a_nut_holds_never_turns_backwards_and_a_setter_without_sides_finds_no_diameter() -> None:
    for change, says in (({"tools__0__turns_backwards": True}, "nut"), ({"tools__0__edge_height": 2.0}, "sides")):
        setup = read_setup(changed(DOCUMENT, **change))
        with pytest.raises(InputError, match=says):
            measuring_case(setup, setup.profile, "measure", (1,))
    with pytest.raises(InputError, match="half the diameter"):
        read_setup(changed(DOCUMENT, tools__0__off_axis=3.5))


@pytest.mark.parametrize("number", [3, 5])
def test_a_length_that_is_not_known_is_found_between_the_longest_and_the_shortest(number: int) -> None:
    text, case = measuring_case(HERON, HERON.profile, "unknown", (number,))
    assert text.index("Press setter by hand") < text.index("G38.3")
    (reported,) = case.main.trace.of_kind("length-set")
    assert reported.data["length"] == pytest.approx(HERON.tool(number).length, abs=0.01)
    far = read_setup(changed(DOCUMENT, setters__0__plane_z=-60.0))
    with pytest.raises(InputError, match="no such travel"):
        measuring_case(far, far.profile, "unknown", (number,))


def test_a_block_of_known_height_is_laid_to_set_a_zero() -> None:
    block = {"kind": "reference block", "name": "block", "input": 1, "plane_z": -121.4, "overtravel": 0.2, "x": 300.0}
    block |= {"y": 500.0, "size_x": 30.0, "size_y": 30.0, "height": 50.0, "search_feed": 60.0, "measure_feed": 25.0}
    setup = read_setup(changed(DOCUMENT, setters=[*DOCUMENT["setters"], {**block, "work_offset": 1}]))
    _, case = measuring_case(setup, setup.profile, "plate", (1,), "block")
    (zero,) = case.main.trace.of_kind("zero-set")
    assert zero.data["zero"] == pytest.approx(-171.4, abs=0.01) and "block" not in {
        b.name for b in nominal_world(setup).bodies
    }


# -- ways to a length, and what follows for a tool ------------------------------------------------------------------------


def test_a_worksheet_is_the_sum_of_its_terms_and_asks_what_is_doubtful() -> None:
    against = worksheet(HERON, "difference", 1, Entered(-10.82, shim=0.1, reference=2, offset=1, active=1))
    assert against.length == pytest.approx(69.12 - 10.82 - 0.1)
    assert sum(term.sign * term.value for term in against.terms) == pytest.approx(against.length) and not against.says
    other = worksheet(HERON, "difference", 1, Entered(-10.82, reference=2, offset=1, active=2))
    assert "Work offset 2 is active" in other.says[0]
    rests = worksheet(HERON, "surface", 1, Entered(-63.05, shim=0.05, height=50.0, offset=1))
    assert rests.length == pytest.approx(-63.05 - (-171.4 + 50.0) - 0.05) and rests.off == pytest.approx(0.0)
    assert worksheet(HERON, "presetter", 1, Entered(58.4)).off == pytest.approx(0.1)
    assert "is it T1?" in worksheet(HERON, "presetter", 1, Entered(70.0)).says[0]
    assert "other unit" in worksheet(HERON, "presetter", 1, Entered(58.3 * 25.4)).says[0]
    for way, entered, says in (
        ("difference", Entered(0.0), "which tool"),
        ("difference", Entered(0.0, reference=1), "another tool"),
        ("surface", Entered(0.0, offset=7), "work offset"),
        ("presetter", Entered(20.0), "stick-out"),
    ):
        with pytest.raises(InputError, match=says):
            worksheet(HERON, way, 1, entered)  # type: ignore[arg-type]


def test_every_type_has_an_outline_from_its_holder_to_its_tip() -> None:
    for name in HALVES:
        tool = HERON.tool(1).model_copy(update={"type": name, "diameter": 10.0})
        points = outline(tool)
        low, tip = tool.whole_length - tool.stick_out, tool.whole_length
        assert min(z for _, z in points) == pytest.approx(low) and max(z for _, z in points) == pytest.approx(tip), name
        assert max(x for x, _ in points) == pytest.approx(5.0, abs=0.01) and min(x for x, _ in points) >= -5.0 - 1e-9, (
            name
        )
    drill = HERON.tool(5)
    corner = next(z for x, z in outline(drill) if x == drill.diameter / 2 and z > drill.whole_length - drill.stick_out)
    assert drill.whole_length - corner == pytest.approx(2.6 / 1.6643, abs=0.001)  # 118 degrees included


def test_cutting_data_goes_both_ways_and_is_held_against_the_spindle() -> None:
    def of(**cutting: Any) -> Any:
        tool = {**DOCUMENT["tools"][1], "diameter": 10.0, "flutes": 2, "cutting": cutting}
        return tool_cutting(HERON, Tool.model_validate(tool))

    found = of(surface_speed=314.159265, chip_load=0.05)
    assert found.speed == pytest.approx(10_000) and found.feed == pytest.approx(1000)
    assert found.computed == ("speed", "feed") and found.says == ()
    back = of(speed=10_000.0, feed=1000.0)
    assert back.surface_speed == pytest.approx(314.159, abs=0.001) and back.chip_load == pytest.approx(0.05)
    assert of(speed=10_000.0).feed is None and of().speed is None
    assert "more than the spindle" in of(speed=90_000.0).says[0]
    with pytest.raises(InputError, match="both given"):
        read_setup(changed(DOCUMENT, tools__0__cutting={"speed": 1.0, "surface_speed": 1.0}))


def test_what_a_loose_nut_and_a_collar_cost_a_shift() -> None:
    loose, kept = keeping(HERON, 1), keeping(HERON, 5)
    assert loose and kept and loose.slips and not kept.slips
    more = exchanged(HERON, 0, 1).trace.seconds
    collar = read_setup(changed(DOCUMENT, tools__0__collar_scatter=0.02))
    assert loose.each == pytest.approx(more - exchanged(collar, 0, 1).trace.seconds)
    assert loose.loose == pytest.approx(24 * loose.each) and loose.collar == loose.each
    assert keeping(PLOVER, 1) is None and keeping(read_setup(changed(DOCUMENT, setters=[])), 1) is None


def test_a_holder_is_a_stack_of_cylinders_down_to_the_tool() -> None:
    changer = nominal_world(PLOVER).magazine.begin(0)  # type: ignore[union-attr]
    parts = list(changer.stack(nominal_world(PLOVER).tools[1]))
    low = PLOVER.tool(1).stick_out - PLOVER.tool(1).length
    assert [(p.radius, p.low, p.high) for p in parts[:-1]] == [(31.75, -25.4, 0.0), (22.225, pytest.approx(low), -25.4)]


def test_the_tool_sheet_is_a_pdf_of_all_tools() -> None:
    for setup, pages in ((HERON, 2), (PLOVER, 7), (read_setup(changed(DOCUMENT, tools=[], probes=[], routines=[])), 1)):
        made = as_pdf(setup)
        assert made.startswith(b"%PDF-") and made.count(b"/Type /Page\n") == pages
    umlauts = read_setup(changed(DOCUMENT, tools__0__name="Fräser (Ø 6) <&> " + "x" * 60))
    assert len(as_pdf(umlauts)) > 10_000


def test_many_tools_are_measured_while_they_are_fetched_once() -> None:
    """The exchange within a program of measuring does not measure by itself."""
    text, case = measuring_case(HERON, HERON.profile, "measure", (1, 2, 3))
    assert len(case.main.trace.of_kind("length-set")) == 3 and "stop collar" not in text
    json.dumps(ExchangeProof(HERON).of(1, 2, True).as_json())
