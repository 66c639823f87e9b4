"""The stage Setter: what it shows, what calibrating and the block come to."""

import json
from collections.abc import Callable
from typing import Any

import pytest
from django.test import Client
from requests_to import DOCUMENT, send
from shop.models import Machine

AsRole = Callable[[str], Client]


def shown(client: Any, document: dict[str, Any] = DOCUMENT, **asked: Any) -> dict[str, Any]:
    body = {"document": document, "stage": "measuring", **asked}
    answer: dict[str, Any] = send(client, "POST", "/api/preview", body).json()
    return answer


@pytest.mark.django_db
def test_a_sequence_is_shown_in_every_profile_with_its_run(heron: Machine, as_role: AsRole) -> None:
    client = as_role("viewer")
    found = shown(client, sequence="measure", tools=[3])["measuring"]
    assert [text["profile"] for text in found["texts"]] == ["parametric", "plain words"]
    assert found["texts"][0]["file"] == "heron-measure-3.nc" and "G38.3" in found["texts"][0]["text"]
    assert found["trace"]["seconds"] > 10 and [f["check"] for f in found["findings"]] == ["feed-left"]
    (setter,) = found["setters"]
    assert setter["fastest"] > setter["workings"]["push"]["terms"][1]["value"] and setter["longest"] == 5
    assert setter["window"]["approach_fits"] and setter["seconds"] < setter["seconds_unknown"]
    assert len(shown(client, sequence="measure", tools=[3, 5])["measuring"]["tools"]) == 2
    assert shown(client, sequence="breakage", tools=[3, 5])["measuring"]["tools"] == [3]
    dead = shown(client, sequence="measure", tools=[3], fault="touch-input-dead")["measuring"]
    assert dead["under"]["verdict"] == "safe" and "No touch" in dead["under"]["says"]


@pytest.mark.django_db
def test_what_does_not_fit_or_is_not_there_is_reported(heron: Machine, as_role: AsRole) -> None:
    client = as_role("viewer")
    high = json.loads(json.dumps(DOCUMENT))
    high["setters"][0]["plane_z"] = -60.0
    found = shown(client, high, sequence="measure", tools=[5])
    assert "too long for this setter" in found["measuring"]["why"] and found["measuring"]["texts"][0]["text"] is None
    assert any("too long" in entry["message"] for entry in found["conflicts"])
    fast = json.loads(json.dumps(DOCUMENT))
    fast["setters"][0] |= {"search_feed": 4000.0}
    (reported,) = [c for c in shown(client, fast)["conflicts"] if (c["quantity"] or "").startswith("/setters")]
    assert reported["fix"]["where"] == "/setters/0/search_feed" and reported["fix"]["value"] < 2500
    plate = {"kind": "touch plate", "name": "plate (Ü)", "input": 1, "plane_z": -150.0, "overtravel": 2.0, "x": 300.0}
    plate |= {"y": 500.0, "diameter": 40.0, "thickness": 12.7}
    laid = {**DOCUMENT, "setters": [*DOCUMENT["setters"], plate]}
    found = shown(client, laid, sequence="measure", tools=[3], setter="plate (Ü)")["measuring"]
    assert found["sequences"] == ["plate"] == [found["sequence"]] and found["why"] == "" and found["trace"]
    assert "plate" not in shown(client, laid)["measuring"]["sequences"]
    bare = {**DOCUMENT, "setters": []}
    assert shown(client, bare)["measuring"]["why"] == "Add a setter first."


@pytest.mark.django_db
def test_calibrating_and_the_block_tell_their_uncertainty(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")
    at = {"document": DOCUMENT, "setter": "setter", "tool": 3, "reference_u": 0.001}
    planes = [-124.01, -124.0, -124.005, -123.5]

    def calibrated(planes: list[float], homings: list[int | None]) -> Any:
        runs = [{"plane": plane, "homing": homing} for plane, homing in zip(planes, homings, strict=True)]
        answer = send(client, "POST", "/api/setter/calibration", {**at, "runs": runs})
        return answer.json()["found"] if answer.status_code == 200 else answer.status_code

    found = calibrated(planes, [1, 2, 3, 4])
    assert found["outlier"] == 3 and found["value"] == pytest.approx(sum(planes) / 4) and found["half_width_95"] > 0.1
    assert "0.51 mm apart" in found["refused"]  # what was measured there is no plane, or something is loose
    assert calibrated(planes[:1], [1]) == 422
    again, once = calibrated(planes[:3], [1, 2, 3]), calibrated(planes[:3], [1, 1, 1])
    assert not again["refused"] and not once["refused"]
    assert (
        once["half_width_95"] > 0.09 > again["half_width_95"]
    )  # homing, which scatters, is in the one and not in the other
    assert calibrated([-124.0, -124.03], [1, 1])["refused"]  # further apart than the setter's spread
    lengths = [{"tool": 3, "value": 47.9}]

    def doubt(half: float | None) -> Any:
        body = {"document": DOCUMENT, "setter": "setter", "plane_half": half, "lengths": lengths}
        (found,) = send(client, "POST", "/api/setter/lengths", body).json()
        return found

    known, typed = doubt(0.01), doubt(None)
    assert typed["half_width_95"] > known["half_width_95"] > 0.09 and len(typed["assumed"]) == 2
    block = {**at, "block_height": 50.0, "reading": 50.3}
    reported = send(client, "POST", "/api/setter/block", block).json()
    assert reported["matters"] and reported["true_plane_z"] == pytest.approx(-124.5)
    for wrong, where in (
        ({"setter": "none"}, "/setter"),
        ({"tool": 77}, "/tools"),
        ({"block_height": -1.0}, "block_height"),
    ):
        refused = send(client, "POST", "/api/setter/block", {**block, **wrong})
        assert refused.status_code == 422 and where.split("/")[-1] in json.dumps(refused.json())


@pytest.mark.django_db
def test_measuring_a_tool_is_proven_under_every_fault(heron: Machine, as_role: AsRole) -> None:
    client = as_role("viewer")
    found = send(client, "POST", "/api/setter/proof", {"document": DOCUMENT, "tool": 5}).json()
    verdicts = {entry["fault"]: entry["verdict"] for entry in found["faults"]}
    assert {"touch-input-dead", "tool-long", "stopped"} <= set(verdicts) and set(verdicts.values()) == {"safe"}
    near = json.loads(json.dumps(DOCUMENT))
    near["setters"][0]["margin"] = 5.0
    found = send(client, "POST", "/api/setter/proof", {"document": near, "tool": 5}).json()
    (long,) = [entry for entry in found["faults"] if entry["fault"] == "tool-long"]
    assert long["verdict"] == "undetectable" and "margin" in long["says"]
    high = json.loads(json.dumps(DOCUMENT))
    high["setters"][0]["plane_z"] = -60.0
    assert send(client, "POST", "/api/setter/proof", {"document": high, "tool": 5}).status_code == 422


@pytest.mark.django_db
def test_a_table_of_tools_is_looked_at_before_it_is_taken_and_lengths_stand_in_every_basis(
    heron: Machine, as_role: AsRole
) -> None:
    client = as_role("technician")
    pasted = b"number\tlength\n3\t47.9\n4\tlong\n"
    table = client.post("/api/machines/heron/tools/preview", pasted, content_type="application/octet-stream").json()
    assert [bool(row["wrong"]) for row in table["rows"]] == [False, True] and table["rows"][1]["cells"] == ["4", "long"]
    assert len(table["tools"]) == len(DOCUMENT["tools"])
    again = client.get("/api/machines/heron/tools.csv").content
    table = client.post("/api/machines/heron/tools/preview", again, content_type="application/octet-stream").json()
    assert not any(row["changes"] or row["wrong"] for row in table["rows"])
    asked = {"document": DOCUMENT, "master": 3, "work_offset": 1}
    rows = {row["tool"]: row for row in send(client, "POST", "/api/tools/bases", asked).json()}
    assert rows[3]["master_tool"] == 0 and rows[2]["master_tool"] == pytest.approx(69.12 - 47.82)
    home = DOCUMENT["machine"]["axes"]["Z"]["greatest"] - DOCUMENT["machine"]["axes"]["Z"]["margin"]
    part = DOCUMENT["work_offsets"][0]["z"]
    assert rows[2]["home_to_part"] == pytest.approx(69.15 + part - home, abs=0.6)
    nowhere = send(client, "POST", "/api/tools/bases", {**asked, "work_offset": 8}).json()
    assert nowhere[0]["home_to_part"] is None
