"""Each kind of routine: what it touches lies where the part is, mirrored parts give mirrored results, and what is set is what the
readout shall show."""

import itertools
import math
from typing import Any

import pytest
from demo_setup import changed, demo
from hypothesis import given, settings
from hypothesis import strategies as st
from orthotrope.calc.probing import (
    AngleFromEdgeInput,
    CornerInput,
    EdgeSurfaceInput,
    SpanCentreInput,
    angle_from_edge,
    corner,
    edge_surface,
    span_centre,
)
from orthotrope.errors import InputError
from orthotrope.formats.result_sheet import as_pdf
from orthotrope.machine.parts import about, block, moved, round_block, turned
from orthotrope.machine.shapes import BoxBody, StackPart, Well, first_contact
from orthotrope.program.writer import NotWritable, write
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.routines import provable, prove_routine, routine_case
from orthotrope.proof.worlds import PARTS
from orthotrope.sequence.probing import PLANS, Tip, plan_routine, plan_touch, tip_of
from orthotrope.sequence.probing.qualifying import DIAMETER, LENGTH, qualifying, routine_named
from orthotrope.sequence.probing.summing import summed
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.control import find_profile
from orthotrope.setup.routines import ROUTINES, WAYS, CornerRoutine, Routine
from orthotrope.units import in_column
from reportlab.pdfgen.canvas import Canvas

CURLEW = read_setup(demo("curlew"))
TOUCHING = [routine for routine in CURLEW.routines if routine.touches_part]


def with_routine(**values: Any) -> tuple[Setup, Routine]:
    """Curlew with one routine more, and that one."""
    made = {"name": "one more", "probe": "touch probe", "x": 450.0, "y": 300.0, "z": -360.0, **values}
    document = demo("curlew")
    setup = read_setup({**document, "routines": [*document["routines"], made]})
    return setup, routine_named(setup, "one more")


def zero_set(setup: Setup, name: str) -> dict[int, float]:
    """Where the zero is that a routine's text sets, by axis."""
    _, one = routine_case(setup, setup.profile, name)
    return {event.data["axis"]: event.data["zero"] for event in one.main.trace.of_kind("zero-set")}


def test_an_angle_stays_down_between_its_touches() -> None:
    _, case = routine_case(CURLEW, CURLEW.profile, "frame front angle")
    touched = case.main.trace.of_kind("touch")
    first, last = touched[0].t, touched[-1].t
    heights = {round(s.start[2], 6) for s in case.main.trace.segments if first < s.t0 < last}
    assert len(touched) >= 4 and len(heights) == 1, heights


def tip(setup: Setup, routine: Routine) -> Tip:
    found = tip_of(setup, routine)
    assert found
    return found


def test_every_kind_has_a_plan_and_all_but_one_a_part() -> None:
    assert set(PLANS) == set(ROUTINES)
    assert set(ROUTINES) - set(PARTS) == {"fixed corner"}


@pytest.mark.parametrize("routine", TOUCHING, ids=lambda routine: routine.name)
def test_every_touch_meets_the_part_where_it_should_and_nothing_on_its_way_there(routine: Routine) -> None:
    """The tip begins free of the part, and meets it after its gap, to a hair."""
    own, bodies = tip(CURLEW, routine), list(PARTS[routine.kind](routine))
    for aim in PLANS[routine.kind].aims(routine, own):
        begin = (routine.x + aim.at[0], routine.y + aim.at[1], routine.z + aim.at[2])
        end = tuple(b + w * (aim.gap + 3.0) for b, w in zip(begin, aim.way, strict=True))
        radius = own.radius(aim.way[0], aim.way[1]) if abs(aim.way[2]) < 0.5 else own.widest
        part = StackPart("tip", radius, 0.0, 2 * radius)
        assert first_contact((part,), bodies, begin, begin, 0.0, radius) is None, aim.name
        met = first_contact((part,), bodies, begin, end, 0.0, radius)  # type: ignore[arg-type]
        assert met and met.part * (aim.gap + 3.0) == pytest.approx(aim.gap, abs=1e-4), aim.name
        assert math.hypot(*aim.way) == pytest.approx(1.0)


@pytest.mark.parametrize("way", list(WAYS))
@pytest.mark.parametrize("kind", ["surface", "edge"])
def test_a_face_is_found_from_either_side(kind: str, way: str) -> None:
    if kind == "edge" and way == "Z-":
        return
    setup, routine = with_routine(kind=kind, way=way, readout_x=3.0, readout_y=-4.0, readout_z=2.5)
    axis = "XYZ".index(way[0])
    shown = (routine.readout_x, routine.readout_y, routine.readout_z)[axis]
    place = (routine.x, routine.y, routine.z)[axis]
    assert zero_set(setup, "one more") == {axis: pytest.approx(place - shown, abs=1e-3)}
    assert prove_routine(setup, "one more").worst is None


@pytest.mark.parametrize("where", ["left front", "right front", "left back", "right back"])
@pytest.mark.parametrize("kind, touches", [("outside corner", 1), ("outside corner", 2), ("inside corner", 2)])
def test_every_corner_is_found_from_its_own_side(kind: str, touches: int, where: str) -> None:
    setup, routine = with_routine(kind=kind, corner=where, touches=touches, top=True)
    found = zero_set(setup, "one more")
    assert found == {0: pytest.approx(450, abs=2e-3), 1: pytest.approx(300, abs=2e-3), 2: pytest.approx(-360, abs=2e-3)}
    assert isinstance(routine, CornerRoutine) and routine.inwards == (
        1.0 if "left" in where else -1.0,
        1.0 if "front" in where else -1.0,
    )


@pytest.mark.parametrize("across", ["x", "y"])
@pytest.mark.parametrize("kind", ["slot", "web"])
def test_a_span_is_found_across_either_axis(kind: str, across: str) -> None:
    setup, routine = with_routine(kind=kind, across=across, width=23.0, depth=6.0)
    axis = "xy".index(across)
    assert zero_set(setup, "one more") == {axis: pytest.approx((routine.x, routine.y)[axis], abs=0.01)}
    low, high = (PARTS[kind](routine)[0].top, min(body.bottom for body in PARTS[kind](routine)))
    assert high < routine.z - routine.depth and low <= routine.z


@pytest.mark.parametrize(
    ("made", "says"),
    [
        ({"kind": "bore", "diameter": 4.0}, "5.968 mm does not go into 4 mm"),
        ({"kind": "rectangular pocket", "size_x": 5.5, "size_y": 40.0}, "5.968 mm does not go into 5.5 mm"),
        ({"kind": "rectangular pocket", "size_x": 6.5, "size_y": 40.0}, ""),
        (
            {"kind": "bore pattern", "diameter": 4.0, "bores": [{"x": -9, "y": 0}, {"x": 9, "y": 0}]},
            "5.968 mm does not go into 4 mm",
        ),
    ],
)
def test_a_tip_that_does_not_go_in_is_reported_with_its_size(made: dict[str, Any], says: str) -> None:
    setup, routine = with_routine(**made)
    said = ""
    try:
        tip_of(setup, routine)
    except InputError as error:
        said = str(error)
    assert says in said and bool(says) == bool(said)


@pytest.mark.parametrize(("apart", "is_refused"), [(17.9, True), (18.1, False)])
def test_bores_that_overlap_are_refused(apart: float, is_refused: bool) -> None:
    bores = [{"x": 0.0, "y": 0.0}, {"x": 60.0, "y": 0.0}, {"x": 0.0, "y": apart}]
    try:
        _, routine = with_routine(kind="bore pattern", diameter=18.0, bores=bores, depth=5.0)
    except InputError as error:
        assert is_refused and "overlaps" in str(error)
    else:
        (body,) = PARTS["bore pattern"](routine)
        assert not is_refused and routine.z - 100.0 < body.bottom < routine.z - 5.0


def test_a_zero_that_is_elsewhere_turns_with_the_part() -> None:
    """Readouts of a corner that is turned: the zero stands off it along the part's own axes."""
    setup, _ = with_routine(kind="outside corner", touches=2, turn=True, readout_x=30.0, readout_y=-10.0)
    _, one = routine_case(setup, setup.profile, "one more")
    under = FAULTS["part-turned"].apply_to(one)
    found = {event.data["axis"]: event.data["zero"] for event in under.main.trace.of_kind("zero-set")}
    assert under.routine and found[0] == pytest.approx(under.routine.zero(0), abs=0.01)
    assert found[1] == pytest.approx(under.routine.zero(1), abs=0.01)
    unturned = one.routine and (one.routine.zero(0), one.routine.zero(1))
    assert unturned == (pytest.approx(420), pytest.approx(310))
    (event,) = under.main.trace.of_kind("turned")
    assert event.data["degrees"] == pytest.approx(3.0, abs=2e-3)


# -- the sums are those of the calculations ---------------------------------------------------------------------------

offs = st.floats(-3, 3)


def places_of(setup: Setup, routine: Routine, *off: float) -> list[tuple[float, float, float]]:
    """Where the gauge line stands at each touch, when the touches are so far off what is expected, along their ways."""
    own, found = tip(setup, routine), []
    for aim, by in zip(PLANS[routine.kind].aims(routine, own), itertools.cycle(off), strict=False):
        x, y, z = (m + w * by for m, w in zip(aim.meets, aim.way, strict=True))
        place = (
            routine.x + x - own.probe.off_x,
            routine.y + y - own.probe.off_y,
            routine.z + z + own.tool.whole_length,
        )
        found.append(place)
    return found


@settings(max_examples=30, deadline=None)
@given(a=offs, b=offs)
def test_a_slot_is_the_span_centre_and_an_edge_the_edge_surface(a: float, b: float) -> None:
    routine = routine_named(CURLEW, "glazing slot")
    places, off = places_of(CURLEW, routine, a, b), CURLEW.probes[0].off_x
    diameter = CURLEW.probes[0].effective_diameter
    assert diameter is not None
    reported = span_centre(
        SpanCentreInput(kind="slot", first=places[0][0] + off, second=places[1][0] + off, effective_diameter=diameter)
    )
    found = summed(CURLEW, routine, places)
    assert found.quantity("x").value == pytest.approx(reported.centre) and found.quantity(
        "width"
    ).value == pytest.approx(reported.width)
    edge = routine_named(CURLEW, "frame left edge")
    at = places_of(CURLEW, edge, a)
    surface = edge_surface(EdgeSurfaceInput(latched=at[0][0] + off, direction=1, effective_diameter=diameter)).surface
    assert summed(CURLEW, edge, at).quantity("x").value == pytest.approx(surface)


@settings(max_examples=30, deadline=None)
@given(a=offs, b=offs, c=offs, d=offs)
def test_a_corner_and_an_angle_are_those_of_the_calculations(a: float, b: float, c: float, d: float) -> None:
    setup, routine = with_routine(kind="outside corner", touches=2)
    probe, places = setup.probes[0], places_of(setup, routine, a, b, c, d)
    points = [{"x": x + probe.off_x, "y": y + probe.off_y} for x, y, _ in places]
    sides = [
        {"approach": {"x": 1.0, "y": 0.0}, "points": points[:2]},
        {"approach": {"x": 0.0, "y": 1.0}, "points": points[2:]},
    ]
    asked = {"effective_diameter": probe.effective_diameter, "edges": sides}
    reported, found = corner(CornerInput.model_validate(asked)), summed(setup, routine, places)
    assert found.quantity("x").value == pytest.approx(reported.x, abs=1e-6)
    assert found.quantity("y").value == pytest.approx(reported.y, abs=1e-6)
    lines = [
        angle_from_edge(AngleFromEdgeInput.model_validate({"points": s["points"], "along": axis}))
        for s, axis in zip(sides, "yx", strict=True)
    ]
    assert found.quantity("turn").value == pytest.approx(sum(line.skew_deg for line in lines) / 2, abs=1e-6)


@settings(max_examples=20, deadline=None)
@given(dx=offs, dy=offs, turn=st.floats(-4, 4))
def test_a_pattern_is_found_wherever_it_is_put_and_however_it_is_turned(dx: float, dy: float, turn: float) -> None:
    """Touches round each bore where it really is, from where the tip stands over its expected middle."""
    bores = [{"x": -36.0, "y": -24.0}, {"x": 30.0, "y": -20.0}, {"x": 12.0, "y": 31.0}]
    setup, routine = with_routine(kind="bore pattern", diameter=18.0, bores=bores, depth=5.0)
    own, places = tip(setup, routine), []
    for aim in PLANS[routine.kind].aims(routine, own):
        middle = about(0.0, 0.0, turn, (aim.at[0], aim.at[1]))
        reach = own.reach(aim.way)
        r = 9.0 - reach
        cx, cy = middle[0] + dx - aim.at[0], middle[1] + dy - aim.at[1]
        b = cx * aim.way[0] + cy * aim.way[1]
        far = b + math.sqrt(max(0.0, b * b - cx * cx - cy * cy + r * r))
        x, y = aim.at[0] + far * aim.way[0], aim.at[1] + far * aim.way[1]
        places.append((routine.x + x - own.probe.off_x, routine.y + y - own.probe.off_y, -200.0))
    found = summed(setup, routine, places)
    assert found.quantity("x").off == pytest.approx(dx, abs=1e-6) and found.quantity("y").off == pytest.approx(
        dy, abs=1e-6
    )
    assert found.quantity("turn").value == pytest.approx(turn, abs=1e-6)


def test_the_sheet_has_every_quantity_beside_the_last_time(monkeypatch: pytest.MonkeyPatch) -> None:
    drawn: list[str] = []
    for method in ("drawString", "drawRightString"):
        own = getattr(Canvas, method)
        monkeypatch.setattr(
            Canvas, method, lambda page, x, y, text, own=own: own(page, x, y, drawn.append(text) or text)
        )
    routine = routine_named(CURLEW, "frame corner")
    found = summed(CURLEW, routine, places_of(CURLEW, routine, 0.2))
    touches = [(aim, 0.2) for aim in PLANS[routine.kind].aims(routine, tip(CURLEW, routine))]
    made = as_pdf(CURLEW, routine, found, touches, {"x": found.quantity("x").value - 0.05}, "technician")
    assert made.startswith(b"%PDF") and {entry.name for entry in found.quantities} <= set(drawn)
    assert "380.200" in drawn and "0.050" in drawn and "± 8.000" in drawn
    assert all(f"{number}: {in_column(0.2)}" in drawn for number in range(1, len(touches) + 1))


# -- tolerances -------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "name, change, fault, sets",
    [
        ("frame corner", {"place_tolerance": 4.0}, "part-off-left", False),
        ("frame corner", {"place_tolerance": 6.0}, "part-off-left", True),
        ("frame corner", {"place_tolerance": 1.0}, "part-off-little", True),
        ("frame corner", {"turn_tolerance": 2.0}, "part-turned", False),
        ("frame corner", {"turn_tolerance": 4.0}, "part-turned", True),
        ("lamp ring bore", {"size_tolerance": 0.5}, "part-size-off", False),
        ("glazing slot", {"size_tolerance": 0.5}, "part-size-off", False),
        ("base block", {"size_tolerance": 0.5}, "part-size-off", False),
        ("frame top", {"place_tolerance": 4.0}, "part-high", False),
        ("frame top", {"place_tolerance": 4.0}, "part-off-left", True),
    ],
)
def test_out_of_tolerance_nothing_is_set_and_within_it_what_is_there(
    name: str, change: dict[str, Any], fault: str, sets: bool
) -> None:
    index = next(i for i, routine in enumerate(CURLEW.routines) if routine.name == name)
    setup = read_setup(changed(demo("curlew"), **{f"routines__{index}__{key}": value for key, value in change.items()}))
    _, one = routine_case(setup, setup.profile, name)
    under = FAULTS[fault].apply_to(one)
    zeros = {event.data["axis"]: event.data["zero"] for event in under.main.trace.of_kind("zero-set")}
    assert bool(zeros) == sets and under.routine
    for axis, zero in zeros.items():
        assert zero == pytest.approx(under.routine.zero(axis), abs=0.02), (axis, zeros)
    verdicts = {result.fault: result.verdict for result in prove_routine(setup, name).faults}
    assert verdicts[fault] == "safe" and verdicts["none"] == "safe"


def test_a_size_that_may_be_any_is_not_judged() -> None:
    judged = {result.fault for result in prove_routine(CURLEW, "burner boss").faults}
    assert "part-size-off" not in judged and "part-missing" in judged
    plain = prove_routine(CURLEW.with_profile("plain words"), "lamp ring bore")
    assert "part-size-off" not in {result.fault for result in plain.faults}  # it is judged where the sum is done


# -- controls ---------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "change, wanted, missing",
    [
        ({"offset_word": "entry card"}, "Enter on the card for work offset 1", "G10"),
        ({"touch_goes_on": None}, "G38.2", "G38.3"),
        ({"latched": "machine"}, "#5061 - 379.992", "#5220"),
        ({"latched": "none"}, "note X in machine coordinates", "#139"),
    ],
)
def test_a_text_is_what_its_control_can_do(change: dict[str, Any], wanted: str, missing: str) -> None:
    own = {**find_profile("parametric").model_dump(), "name": "own", **change}
    if "touch_goes_on" in change:
        own["g_words"] = [word for word in own["g_words"] if word != 38.3]
    document = demo("curlew")
    setup = read_setup({**document, "profiles": [own], "machine": {**document["machine"], "profile": "own"}})
    text, _ = routine_case(setup, setup.profile, "frame left edge")
    assert wanted in text and missing not in text
    result = prove_routine(setup, "frame left edge")
    assert result.worst in (None, "note") and "unsafe" not in {fault.verdict for fault in result.faults}


def test_a_round_feature_wants_a_touching_move_that_may_miss_only_where_the_control_does_the_sums() -> None:
    """In plain words each touch is made from the expected middle, and the sum takes care of the rest."""
    plain = find_profile("plain words")
    texts = [write(plan_touch(CURLEW, "lamp ring bore", number, plain), plain) for number in range(1, 7)]
    assert len({text.split("\n")[1] for text in texts}) == 6 and all("#" not in text for text in texts)
    for wrong in (0, 7):
        with pytest.raises(InputError, match="from 1 to 6"):
            plan_touch(CURLEW, "lamp ring bore", wrong, plain)
    with pytest.raises(NotWritable):
        write(plan_routine(CURLEW, "lamp ring bore"), plain)


# -- qualifying -------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("kind", ["ring", "plug", "ball"])
def test_a_probe_is_qualified_on_whatever_there_is(kind: str) -> None:
    document = changed(demo("curlew"), probes__0__artefact__kind=kind, probes__0__artefact__diameter=30.0)
    setup = read_setup(document)
    assert [routine.name for routine in qualifying(setup)] == [
        form.format("touch probe") for form in (DIAMETER, LENGTH)
    ]
    for routine in qualifying(setup):
        assert prove_routine(setup, routine.name).worst is None and routine.work_offset is None
    assert not qualifying(read_setup(changed(demo("curlew"), probes__0__artefact=None)))
    faceless = read_setup(changed(demo("curlew"), probes__0__artefact__face_z=None))
    assert [routine.name for routine in qualifying(faceless)] == ["diameter of touch probe"]
    assert set(provable(faceless)) == {*(r.name for r in CURLEW.routines), "diameter of touch probe"}


# -- parts ------------------------------------------------------------------------------------------------------------


@settings(max_examples=30, deadline=None)
@given(degrees=st.floats(-180, 180), dx=offs, dy=offs)
def test_a_part_that_is_turned_and_turned_back_is_where_it_was(degrees: float, dx: float, dy: float) -> None:
    there = block((0.0, 40.0), (10.0, 30.0), -20.0, 0.0, (Well(12.0, 20.0, 4.0),))
    back = turned(turned(there, 5.0, 6.0, degrees), 5.0, 6.0, -degrees)
    assert isinstance(there, BoxBody) and isinstance(back, BoxBody)
    for one, other in (
        (there.x, back.x),
        (there.y, back.y),
        (there.wells[0].x, back.wells[0].x),
        (there.cos, back.cos),
    ):
        assert one == pytest.approx(other, abs=1e-9)
    far = moved(moved(there, dx, dy, 1.0), -dx, -dy, -1.0)
    assert isinstance(far, BoxBody) and far.wells[0].y == pytest.approx(20.0) and far.top == pytest.approx(0.0)
    post = turned(round_block(10.0, 0.0, 3.0, -5.0, 0.0), 0.0, 0.0, 90.0)
    assert (post.x, post.y) == (pytest.approx(0.0, abs=1e-9), pytest.approx(10.0))
