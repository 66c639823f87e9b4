"""Probes and routines over the API: what is reported is what the core works out, and nothing is set out of tolerance."""

import math
from datetime import timedelta
from typing import Any

import pytest
from demo_setup import demo
from django.utils import timezone
from orthotrope.proof.routines import routine_case
from orthotrope.setup import read_setup
from requests_to import changed, send
from shop.models import Machine, Reading

pytestmark = pytest.mark.django_db
CURLEW = demo("curlew")


def probing(client: Any, document: dict[str, Any] = CURLEW, **asked: Any) -> dict[str, Any]:
    body = {"document": document, "stage": "probing", **asked}
    found: dict[str, Any] = send(client, "POST", "/api/preview", body).json()["probing"]
    return found


def test_a_routine_is_reported_with_its_touches_its_needs_and_its_run(heron: Machine, as_role: Any) -> None:
    reported = probing(as_role("viewer"), routine="frame corner")
    assert [aim["name"] for aim in reported["aims"]][:2] == ["the upper face", "the left side, 1"]
    assert {need["what"]: need["met"] for need in reported["needs"]}["qualified"] is True
    assert reported["trace"]["seconds"] > 5 and not reported["findings"] and reported["part"]
    assert [kept["name"] for kept in reported["kept"]] == ["x", "y", "z", "turn"] and reported["works_out"]
    under = probing(as_role("viewer"), routine="frame corner", fault="part-missing")
    assert under["under"]["verdict"] == "safe" and "No touch" in under["under"]["says"]


def test_a_parameter_is_set_by_hand_and_the_program_goes_on_with_it(heron: Machine, as_role: Any) -> None:
    client = as_role("viewer")
    plain = probing(client, routine="frame left edge")
    lines = plain["texts"][0]["text"].split("\n")
    after = next(n for n, b in enumerate(plain["trace"]["blocks"]) if lines[b["line"] - 1].startswith("#131")) + 1
    hand = [{"after": after, "parameter": 131, "value": -2.0}]
    reported = probing(client, routine="frame left edge", by_hand=hand)
    assert {finding["check"] for finding in reported["findings"]} == {"offset-off"} and not plain["findings"]
    body = {"document": CURLEW, "stage": "probing", "by_hand": [{"after": 0, "parameter": 12345}]}
    assert send(client, "POST", "/api/preview", body).status_code == 422


def test_mended_lines_are_offered_for_what_can_be_run(heron: Machine, as_role: Any) -> None:
    client, name = as_role("viewer"), "frame left edge"
    written = probing(client, routine=name)["texts"][0]["text"]

    def fixes(program: str) -> list[dict[str, Any]]:
        asked = {"document": CURLEW, "routine": name, "program": program}
        found: list[dict[str, Any]] = send(client, "POST", "/api/routines/fixes", asked).json()
        return found

    (fix,) = fixes(written.replace("F60", "F90"))
    assert fix["check"] == "value-differs" and "F60" in fix["change"]["lines"][0] and "F90" in fix["before"]
    endless = "G21\nN1 G0 X1\nGOTO 1"
    assert fixes(written) == fixes(endless) == fixes("G21 G0 X[") == []


def test_where_a_control_cant_do_the_sums_each_touch_has_a_text(heron: Machine, as_role: Any) -> None:
    reported = probing(as_role("viewer"), routine="glazing slot", profile="plain words")
    assert not reported["works_out"] and len(reported["touch_texts"]) == len(reported["aims"]) == 2
    assert all("#" not in text["text"] and "G38.2" in text["text"] for text in reported["touch_texts"])


def test_the_sum_of_readings_is_the_zero_and_the_line_that_sets_it(heron: Machine, as_role: Any) -> None:
    """The touches of the run in which everything is as expected; those read off after it stood are further on."""
    setup = read_setup(CURLEW)
    _, case = routine_case(setup, setup.profile, "frame left edge")
    touch = case.main.trace.of_kind("touch")[-1].data
    asked = {"document": CURLEW, "routine": "frame left edge"}
    client = as_role("viewer")
    for places, stood in ((touch["latched"], False), (touch["stopped"], True)):
        found = send(client, "POST", "/api/routines/result", {**asked, "places": [places], "stood": stood}).json()
        assert found["zero"] == {"x": pytest.approx(380.0, abs=5e-6)} and found["line"] == "G10 L2 P1 X380"
        assert found["touches"][0]["off"] == pytest.approx(0.0, abs=5e-6) and found["says"] == ""
    limited = changed(CURLEW, routines__1__place_tolerance=0.2)
    far = [touch["latched"][0] + 0.5, *touch["latched"][1:]]
    out = send(client, "POST", "/api/routines/result", {**asked, "document": limited, "places": [far]}).json()
    assert out["zero"] == {} and out["line"] == "" and "nothing is set" in out["says"]
    wrong = send(client, "POST", "/api/routines/result", {**asked, "places": [far, far]})
    assert wrong.status_code == 422 and "one for each touch" in wrong.content.decode()


def test_results_are_kept_compared_and_put_on_paper(heron: Machine, as_role: Any) -> None:
    client, name = as_role("technician"), "frame top on the plate"
    kept = "/api/machines/heron/routines/results"
    for z in (-88.1, -88.13):
        done = send(client, "POST", kept, {"routine": name, "places": [[300.0, 370.0, z]]})
        assert done.status_code == 200, done.content
    listed = client.get(kept, {"routine": name}).json()
    newest, before = ({q["name"]: q["value"] for q in entry["quantities"]} for entry in listed)
    assert newest["z"] - before["z"] == pytest.approx(-0.03) and listed[0]["author"] == "technician"
    assert client.get(kept, {"routine": "frame corner on the plate"}).json() == []
    document = client.get("/api/machines/heron").json()["document"]
    asked = {"document": document, "routine": name, "places": [[300.0, 370.0, -88.2]]}
    now = send(client, "POST", "/api/routines/result", {**asked, "last": newest}).json()["quantities"][0]
    assert now["moved"] == pytest.approx(-0.07)
    sheet = send(client, "POST", "/api/machines/heron/routines/sheet", asked)
    assert sheet["Content-Type"] == "application/pdf" and sheet.content.startswith(b"%PDF")
    odd = changed(document, routines__1__name='top "ä\u0161"')
    reported = send(
        client, "POST", "/api/machines/heron/routines/sheet", {**asked, "document": odd, "routine": 'top "ä\u0161"'}
    )
    assert reported.status_code == 200 and reported["Content-Disposition"].endswith('filename="heron-top-as.pdf"')
    wrong = send(client, "POST", kept, {"routine": name, "places": []})
    assert wrong.status_code == 422 and len(client.get(kept, {"routine": name}).json()) == 2


def test_a_probe_that_was_qualified_too_long_ago_is_due_again(heron: Machine, as_role: Any) -> None:
    client = as_role("technician")
    send(client, "POST", "/api/machines/import", CURLEW)

    def mark() -> dict[str, str]:
        return next(s for s in client.get("/api/machines/curlew").json()["stages"] if s["name"] == "Probes")

    assert mark()["mark"] == "filled"
    pointer = "/probes/0/effective_diameter"
    taken = {"quantity": pointer, "source": "typed", "value": 5.95}
    assert send(client, "POST", "/api/machines/curlew/readings", taken).status_code == 200
    assert mark()["mark"] == "filled"
    Reading.objects.update(taken=timezone.now() - timedelta(days=31))
    assert mark()["mark"] == "stale" and "due again" in mark()["why"]


def test_qualifying_finds_what_made_the_touches(heron: Machine, as_role: Any) -> None:
    off = (0.03, -0.02)
    ring = [
        [620 + 17.02 * math.cos(a) - off[0], 180 + 17.02 * math.sin(a) - off[1], -257.0]
        for a in (n * math.pi / 6 for n in range(12))
    ]
    turned = [[x + 2 * off[0], y + 2 * off[1], z] for x, y, z in ring]
    client, asked = as_role("viewer"), {"document": CURLEW, "probe": "touch probe"}
    found = send(client, "POST", "/api/probes/diameter", {**asked, "places": ring}).json()
    assert found["effective_diameter"] == pytest.approx(40.002 - 2 * 17.02) and found["form_error"] < 1e-6
    assert len(found["lobes"]) == 12
    half = send(client, "POST", "/api/probes/off-centre", {**asked, "places": ring, "turned": turned}).json()
    assert (half["x"], half["y"]) == (pytest.approx(off[0]), pytest.approx(off[1]))
    length = send(client, "POST", "/api/probes/length", {**asked, "heights": [-257.2, -257.202]}).json()
    assert length["length"] == pytest.approx(410 - 257.201) and length["half_width_95"] > length["scatter"]
    few = send(client, "POST", "/api/probes/diameter", {**asked, "places": ring[:3]})
    assert few.status_code == 422 and "four touches" in few.content.decode()


def test_a_probe_that_is_not_qualified_leaves_its_stage_open(heron: Machine, as_role: Any) -> None:
    raw = changed(CURLEW, probes__0__effective_diameter=None)
    needs = {need["what"]: need["met"] for need in probing(as_role("viewer"), raw)["needs"]}
    assert needs["qualified"] is False
    other = changed(CURLEW, probes__0__measure_feed=90.0)
    reported = send(as_role("viewer"), "POST", "/api/preview", {"document": other, "stage": "probing"}).json()
    assert any(c["quantity"] == "/probes/0/measure_feed" and c["severity"] == "warn" for c in reported["conflicts"])


def test_a_program_of_ones_own_is_reviewed_on_the_part_in_place_of_the_written_one(
    heron: Machine, as_role: Any
) -> None:
    setup, client = read_setup(CURLEW), as_role("viewer")
    text, _ = routine_case(setup, setup.profile, "frame left edge")
    for old, new, says in (
        ("+ 2.984]", "- 2.984]", {"offset-off", "radius-wrong-side"}),
        ("G10 L2 P1", "G10 L2 P2", {"offset-off", "wrong-offset-active"}),
        ("IF [#170 NE 1] GOTO 2006\n#", "#", {"touch-unguarded"}),
        ("M5\n", "M3 S900\n", {"probe-spun"}),
        ("G91 G38.3 X2.5 F60", "G91 G38.3 X2.5", {"value-differs"}),
    ):
        own = text.replace(old, new)
        assert own != text, old
        reported = probing(client, routine="frame left edge", program=own)
        checks = {finding["check"] for finding in reported["findings"]}
        assert checks & says, (old, checks)
        assert [entry["text"] for entry in reported["texts"]] == [own] and reported["trace"]
    broken = probing(client, routine="frame left edge", program="G38.3 X[1\n")
    assert broken["trace"] is None and broken["findings"][0]["check"] == "unreadable"
    worse = {
        "document": CURLEW,
        "routine": "frame left edge",
        "program": text.replace("IF [#170 EQ 1] GOTO 2004\n", ""),
    }
    found = send(client, "POST", "/api/routines/proof", worse).json()
    written = send(client, "POST", "/api/routines/proof", {**worse, "program": None}).json()
    assert written["worst"] is None and (found["worst"] or {f["verdict"] for f in found["faults"]} != {"safe"})
