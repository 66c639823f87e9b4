"""The calculations: reference cases, relations, and every parameter broken in turn."""

import copy
import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from orthotrope.calc import CALCULATIONS
from orthotrope.errors import InputError
from orthotrope.validation import pointer, read_json

REFERENCE = {file.stem: json.loads(file.read_text()) for file in (Path(__file__).parent / "reference").glob("*.json")}


def agrees(got: Any, wanted: Any, tolerance: float) -> bool:
    if isinstance(wanted, dict):
        return all(name in got and agrees(got[name], value, tolerance) for name, value in wanted.items())
    if isinstance(wanted, list):
        return len(got) == len(wanted) and all(agrees(g, w, tolerance) for g, w in zip(got, wanted, strict=True))
    if isinstance(wanted, float):
        return math.isclose(got, wanted, rel_tol=0, abs_tol=tolerance)
    return bool(got == wanted)


@pytest.mark.parametrize("name", sorted(REFERENCE))
def test_reference_cases(name: str) -> None:
    for case in REFERENCE[name]["cases"]:
        got = CALCULATIONS[name].run(case["input"])
        assert agrees(got, case["expected"], REFERENCE[name]["absolute_tolerance"]), got


def test_every_calculation_has_a_reference_case() -> None:
    assert set(REFERENCE) == set(CALCULATIONS)


def leaves(node: Any, path: tuple[str | int, ...] = ()) -> list[tuple[str | int, ...]]:
    if isinstance(node, dict):
        return [leaf for key, value in node.items() for leaf in leaves(value, (*path, key))]
    if isinstance(node, list):
        return [leaf for index, value in enumerate(node) for leaf in leaves(value, (*path, index))]
    return [path]


def broken(document: Any, path: tuple[str | int, ...], value: Any) -> Any:
    whole = copy.deepcopy(document)
    node = whole
    for part in path[:-1]:
        node = node[part]
    if value is leaves:
        del node[path[-1]]
    else:
        node[path[-1]] = value
    return whole


CASES = [(name, reference["cases"][0]["input"]) for name, reference in sorted(REFERENCE.items())]


@pytest.mark.parametrize("name, data", CASES, ids=[name for name, _ in CASES])
def test_a_bad_value_in_any_field_gives_a_sentence_with_that_fields_name(name: str, data: Any) -> None:
    for path in leaves(data):
        field = next(str(part) for part in reversed(path) if isinstance(part, str))
        wrong: list[Any] = [[], {"a": 1}, math.nan, math.inf, "12 mm", True]
        for bad in wrong:
            if isinstance(bad, str) and isinstance(broken(data, path, bad), dict) and field == "name":
                continue  # any text is a name
            with pytest.raises(InputError) as failed:
                CALCULATIONS[name].run(broken(data, path, bad))
            reported = [fault for fault in failed.value.faults if fault.where == pointer(path)]
            assert reported, (path, bad, failed.value.faults)
            assert any(f"`{field}`" in fault.what for fault in reported)


@pytest.mark.parametrize("name, data", CASES, ids=[name for name, _ in CASES])
def test_missing_and_unknown_fields_are_all_reported(name: str, data: Any) -> None:
    required = CALCULATIONS[name].input_type.model_json_schema(by_alias=True).get("required", [])
    with pytest.raises(InputError) as failed:
        CALCULATIONS[name].run({"unheard_of": 1})
    places = {fault.where for fault in failed.value.faults}
    assert {"/unheard_of", *(f"/{field}" for field in required)} <= places


@pytest.mark.parametrize(
    "name, change, where, says",
    [
        ("rack-pockets", {"pitch": -38}, "/pitch", "`pitch` must be above 0 mm; got −38."),
        ("rack-pockets", {"count": 0}, "/count", "`count` must be at least 1"),
        ("rack-pockets", {"datum": {"at": "pocket", "pocket": 7, "x": 0, "y": 0}}, "/datum/pocket", "at most 6"),
        ("rack-pockets", {"rows": 2}, "/row_pitch", "above 0 mm where there are rows"),
        ("rack-fit", {"pockets": [{"pocket": 1, "x": 0, "y": 0}] * 2}, "/pockets", "two different"),
        ("rack-fit", {"pockets": [{"pocket": p, "x": 5, "y": 5} for p in (1, 2)]}, "/pockets", "no direction"),
        ("circle-fit", {"points": [{"x": i, "y": 2 * i} for i in range(5)]}, "/points", "on one line"),
        ("circle-fit", {"points": [{"x": 1, "y": 1}] * 3}, "/points", "on one line or one place"),
        ("circle-fit", {"points": [{"x": 1, "y": 1}] * 2}, "/points", "3 or more"),
        ("angle-from-edge", {"points": [{"x": 1, "y": 1}] * 2}, "/points", "all the same"),
        ("disc-fit", {"pockets": [{"pocket": 1, "x": 0, "y": 0}] * 3}, "/pockets", "two different places"),
        ("length-at-setter", {"plane_z": None}, "/plane_z", "missing"),
        ("length-at-setter", {"reference_length": 5}, "/plane_z", "both given"),
        ("cutting-data", {"speed": 100}, "/speed", "both given"),
        ("setter-window", {"shortest": 500}, "/shortest", "at most the longest"),
        ("thread-coupling", {"observed_lift": 9.2}, "/observed_lift", "below the engaged length"),
        ("repeatability", {"readings": [1]}, "/readings", "2 or more"),
        ("uncertainty-budget", {"confidence": 1.0}, "/confidence", "below 1"),
        ("span-centre", {"kind": "web", "second": -12}, "/second", "no width"),
    ],
)
def test_ranges_and_points_that_determine_nothing(name: str, change: dict[str, Any], where: str, says: str) -> None:
    with pytest.raises(InputError) as failed:
        CALCULATIONS[name].run({**REFERENCE[name]["cases"][0]["input"], **change})
    assert [fault.what for fault in failed.value.faults if fault.where == where and says in fault.what], (
        failed.value.faults
    )


def test_json_that_is_none_is_reported() -> None:
    for text in ("{", b"\xff\xfe", "[" * 5000, '{"a": 1, "a": 2}', "1" * 5000):
        with pytest.raises(InputError):
            data = read_json(text)
            CALCULATIONS["rack-pockets"].run(data)


bearings = st.floats(-179, 180)
places = st.floats(-2000, 2000)


@given(x=places, y=places, bearing=bearings, pitch=st.floats(5, 200), count=st.integers(2, 30))
def test_a_fit_recovers_the_rack_that_made_the_pockets(
    x: float, y: float, bearing: float, pitch: float, count: int
) -> None:
    datum = {"at": "pocket", "pocket": 1, "x": x, "y": y}
    made = CALCULATIONS["rack-pockets"].run({"datum": datum, "bearing_deg": bearing, "pitch": pitch, "count": count})
    fit = CALCULATIONS["rack-fit"].run({"pockets": made["pockets"], "tolerance": 0.01})
    assert fit["pitch"] == pytest.approx(pitch, abs=1e-8)
    assert math.cos(math.radians(fit["bearing_deg"] - bearing)) == pytest.approx(1, abs=1e-9)
    assert fit["worst"] < 1e-8 and fit["within_tolerance"]


@given(
    cx=places, cy=places, radius=st.floats(1, 500), first=st.floats(0, 359), cw=st.booleans(), count=st.integers(4, 60)
)
def test_a_disc_fit_recovers_the_disc(cx: float, cy: float, radius: float, first: float, cw: bool, count: int) -> None:
    disc = {"count": count, "sense": "cw" if cw else "ccw"}
    made = CALCULATIONS["disc-pockets"].run(
        {"centre": {"x": cx, "y": cy}, "radius": radius, "first_bearing_deg": first, **disc}
    )
    fit = CALCULATIONS["disc-fit"].run({"pockets": made["pockets"][:3] + made["pockets"][-1:], **disc})
    assert fit["radius"] == pytest.approx(radius, abs=1e-7)
    assert math.cos(math.radians(fit["first_bearing_deg"] - first)) == pytest.approx(1, abs=1e-9)


def test_the_middle_of_the_array_is_the_mean_of_its_pockets() -> None:
    data = {
        "datum": {"at": "centre", "x": 10, "y": 20},
        "bearing_deg": 33,
        "pitch": 7,
        "count": 5,
        "rows": 3,
        "row_pitch": 9,
    }
    pockets = CALCULATIONS["rack-pockets"].run(data)["pockets"]
    assert np.mean([p["x"] for p in pockets]) == pytest.approx(10)
    assert np.mean([p["y"] for p in pockets]) == pytest.approx(20)


def test_stated_uncertainties_hold_the_truth() -> None:
    """Of 400 noisy fits, about 68 % lie within one standard uncertainty (large samples)."""
    random = np.random.default_rng(7)
    within = {"pitch": 0, "bearing": 0, "x": 0, "radius": 0}
    for _ in range(400):
        taught = [
            {"pocket": p, "x": 50.0 * (p - 1) + random.normal(0, 0.02), "y": random.normal(0, 0.02)}
            for p in range(1, 21)
        ]
        fit = CALCULATIONS["rack-fit"].run({"pockets": taught, "tolerance": 1.0})
        within["pitch"] += abs(fit["pitch"] - 50) < fit["pitch_u"]
        within["bearing"] += abs(fit["bearing_deg"]) < fit["bearing_u_deg"]
        within["x"] += abs(fit["origin"]["x"]) < fit["origin_u"]["x"]
        angles = random.uniform(0, 2 * np.pi, 20)
        points = [
            {"x": 9 * np.cos(a) + random.normal(0, 0.01), "y": 9 * np.sin(a) + random.normal(0, 0.01)} for a in angles
        ]
        circle = CALCULATIONS["circle-fit"].run({"points": points})
        within["radius"] += abs(circle["radius"] - 9) < circle["radius_u"]
    assert all(0.6 < count / 400 < 0.76 for count in within.values()), within


def test_half_steps_round_away_from_nought() -> None:
    datum = {"at": "pocket", "x": -0.125, "y": 0.125}
    pocket = CALCULATIONS["rack-pockets"].run(
        {"datum": datum, "bearing_deg": 0, "pitch": 1, "count": 1, "resolution": 0.25}
    )["pockets"][0]
    assert (pocket["x"], pocket["y"]) == (-0.25, 0.25)


def test_optional_results_are_left_out_and_null_ones_stay() -> None:
    two = [{"pocket": 1, "x": 0, "y": 0}, {"pocket": 2, "x": 50, "y": 0}]
    assert "pitch_u" not in CALCULATIONS["rack-fit"].run({"pockets": two, "tolerance": 0})
    data = {**REFERENCE["thread-coupling"]["cases"][0]["input"], "acceleration": 20}
    assert CALCULATIONS["thread-coupling"].run(data)["end_lift"] is None
