"""The API: roles, sessions, revisions, merge and refusal, bad input, preview, proofs."""

import json
import math
import time
from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest
from demo_setup import demo
from django.test import Client, override_settings
from django.utils import timezone
from orthotrope.formats.mounting import mounting_pattern
from orthotrope.proof.exchanges import exchange_text
from orthotrope.setup import read_setup
from requests_to import DOCUMENT, changed, send
from shop.api import api
from shop.machines.actions import SaveSetup
from shop.models import AuditEntry, Machine, Proof, Revision

AsRole = Callable[[str], Client]


def save(client: Client, base: dict[str, Any], document: dict[str, Any], revision: int = 1) -> Any:
    return send(client, "PUT", "/api/machines/heron", {"base_revision": revision, "base": base, "document": document})


DRAWING = mounting_pattern(read_setup(DOCUMENT), "mm", "rack")

CURLEW = demo("curlew")
RING = [[620 + 17 * math.cos(n * 0.9), 180 + 17 * math.sin(n * 0.9), -257.0] for n in range(7)]
TURNED = [[x + 0.01, y, z] for x, y, z in RING]
POSITION = {"name": "by the door", "use": "other", "by_way_of": None, "moves": [{"X": None, "Y": None, "Z": -5.0}]}
AT_SETTER = {"document": DOCUMENT, "setter": "setter"}

CHANGING = [
    ("POST", "/api/machines/new", {"name": "Wren"}),
    ("POST", "/api/machines/heron/copy", {"name": "Second"}),
    ("POST", "/api/machines/heron/put-away", {"away": True}),
    ("POST", "/api/machines/import", DOCUMENT),
    (
        "PUT",
        "/api/machines/heron",
        {"base_revision": 1, "base": DOCUMENT, "document": changed(DOCUMENT, changer__rack__pitch=58.6)},
    ),
    ("POST", "/api/machines/heron/revisions/1/restore", None),
    ("POST", "/api/machines/heron/proofs", {"text": "", "file": ""}),
    ("POST", "/api/machines/heron/proofs/1/cancel", None),
    ("PUT", "/api/machines/heron/agent", {"address": "http://mill-3:5000", "device": ""}),
    ("POST", "/api/machines/heron/practice", {"seed": 3}),
    ("POST", "/api/machines/heron/readings", {"quantity": "/changer/rack/pitch", "source": "typed", "value": 58.5}),
    ("POST", "/api/machines/heron/pockets/arrange", {"how": "empty"}),
    ("POST", "/api/machines/heron/teach", {"pocket": 1, "seen": [1, 2, 3]}),
    ("POST", "/api/machines/heron/series", {"quantity": "/machine/axes/X/backlash", "readings": []}),
    ("POST", "/api/machines/heron/inputs/1/tests", {"seen": ["idle", "made", "idle"]}),
    (
        "POST",
        "/api/machines/heron/routines/results",
        {"routine": "frame top on the plate", "places": [[300.0, 370.0, -88.1]]},
    ),
    ("POST", "/api/machines/heron/reviews", {"file": "job.nc", "purpose": "job", "size": 9}),
    ("POST", "/api/machines/heron/reviews/1/pieces", {"at": 0, "text": "G1 X5 F9\n"}),
    ("POST", "/api/machines/heron/reviews/1/cancel", None),
    ("POST", "/api/machines/heron/rooms", None),
    ("POST", "/api/machines/heron/rooms/1/cancel", None),
]
READING: list[tuple[str, str, Any]] = [
    ("GET", "/api/machines", None),
    ("GET", "/api/machines/heron", None),
    ("GET", "/api/machines/heron/file", None),
    ("GET", "/api/machines/heron/revisions", None),
    ("GET", "/api/machines/heron/revisions/1", None),
    ("GET", "/api/machines/heron/revisions/1?against=1", None),
    ("GET", "/api/machines/heron/proofs/latest", None),
    ("POST", "/api/preview", {"document": DOCUMENT}),
    ("POST", "/api/quantities", {"every": [{"text": "3/8 in", "kind": "length"}]}),
    ("POST", "/api/quantity", {"text": "1in", "kind": "length"}),
    ("POST", "/api/offers", {"document": DOCUMENT, "quantity": "/changer/rack/datum/x", "position": [1.0, 2.0, 3.0]}),
    ("POST", "/api/profile-sample", {"profile": {}}),
    ("GET", "/api/profiles", None),
    ("GET", "/api/machines/heron/pockets.csv", None),
    ("GET", "/api/machines/heron/pockets.xlsx", None),
    ("GET", "/api/machines/heron/tools.csv", None),
    ("GET", "/api/machines/heron/tools.xlsx", None),
    ("GET", "/api/machines/heron/tools.pdf", None),
    ("POST", "/api/tools/outlines", {"tools": DOCUMENT["tools"][:2]}),
    ("POST", "/api/tools/page", {"document": DOCUMENT, "tool": 5, "lengths": [73.6, 73.62]}),
    ("POST", "/api/tools/worksheet", {"document": DOCUMENT, "tool": 1, "way": "presetter", "value": 58.4}),
    ("GET", "/api/machines/heron/mounting.dxf", None),
    ("POST", "/api/savings", {"document": DOCUMENT, "from_tool": 2, "to_tool": 9}),
    ("GET", "/api/threads", None),
    ("GET", "/api/vocabulary", None),
    ("POST", "/api/merge", {"base": DOCUMENT, "mine": DOCUMENT, "theirs": DOCUMENT}),
    ("POST", "/api/layout", {"text": DRAWING}),
    ("POST", "/api/recovery", {"document": DOCUMENT, "from_tool": 2, "to_tool": 9}),
    ("POST", "/api/approach", {"document": DOCUMENT, "pocket": 3}),
    ("GET", "/api/machines/heron/readings", None),
    ("POST", "/api/tools/bases", {"document": DOCUMENT, "master": 3, "work_offset": 1}),
    ("POST", "/api/setter/proof", {"document": DOCUMENT, "tool": 3}),
    ("POST", "/api/routines/proof", {"document": DOCUMENT, "routine": "frame top on the plate"}),
    (
        "POST",
        "/api/routines/result",
        {"document": DOCUMENT, "routine": "frame top on the plate", "places": [[300.0, 370.0, -88.1]]},
    ),
    ("POST", "/api/routines/fixes", {"document": DOCUMENT, "routine": "frame top on the plate", "program": "G1 X5"}),
    ("GET", "/api/machines/heron/reviews", None),
    ("GET", "/api/machines/heron/rooms/latest", None),
    ("GET", "/api/machines/heron/routines/results?routine=frame+top", None),
    (
        "POST",
        "/api/machines/heron/routines/sheet",
        {"document": DOCUMENT, "routine": "frame top on the plate", "places": [[300.0, 370.0, -88.1]]},
    ),
    ("POST", "/api/probes/diameter", {"document": CURLEW, "probe": "touch probe", "places": RING}),
    ("POST", "/api/probes/off-centre", {"document": CURLEW, "probe": "touch probe", "places": RING, "turned": TURNED}),
    ("POST", "/api/probes/length", {"document": CURLEW, "probe": "touch probe", "heights": [-257.16, -257.161]}),
    (
        "POST",
        "/api/setter/calibration",
        {**AT_SETTER, "tool": 3, "reference_u": 0.001, "runs": [{"plane": -124.0}, {"plane": -124.01}]},
    ),
    ("POST", "/api/setter/lengths", {**AT_SETTER, "plane_half": None, "lengths": [{"tool": 3, "value": 47.9}]}),
    ("POST", "/api/adding/setter", {"document": DOCUMENT, "kind": "touch plate", "input": 1}),
    ("POST", "/api/adding/probe", {"document": DOCUMENT, "kind": "switching"}),
    ("POST", "/api/adding/changer", {"document": DOCUMENT, "style": "moving disc"}),
    ("POST", "/api/adding/tool", {"document": DOCUMENT}),
    ("POST", "/api/adding/entry", {"document": DOCUMENT, "where": "/positions", "entry": POSITION}),
    ("POST", "/api/adding/rename", {"document": DOCUMENT, "where": "/tools/0/number", "value": 77}),
    ("POST", "/api/adding/touch-input", {"document": DOCUMENT, "where": "/setters/0"}),
    (
        "POST",
        "/api/setter/block",
        {**AT_SETTER, "tool": 3, "block_height": 50.0, "reading": 50.3, "reference_u": 0.001},
    ),
]
BY_FILE = {("POST", "/api/machines/{slug}/pockets/preview"), ("POST", "/api/machines/{slug}/tools/preview")}
"""Their body is a file: tested on their own."""
OF_A_REVIEW = {("GET", "/api/machines/{slug}/reviews/{number}"), ("GET", "/api/machines/{slug}/reviews/{number}/text")}
"""There must be one: see test_reviews."""
OPEN = {
    ("GET", "/api/session"),
    ("POST", "/api/session"),
    ("POST", "/api/session/demo"),
    ("DELETE", "/api/session"),
    ("GET", "/api/setup-schema"),
}


def test_every_endpoint_is_in_one_of_the_lists() -> None:
    known = (
        {(m, p.split("?")[0].replace("heron", "{slug}").replace("/1", "/{number}")) for m, p, _ in CHANGING + READING}
        | OPEN
        | BY_FILE
        | OF_A_REVIEW
    )
    offered = {(method.upper(), path) for path, item in api.get_openapi_schema()["paths"].items() for method in item}
    assert offered == known


@pytest.mark.parametrize("method, path, body", CHANGING)
def test_a_viewer_changes_nothing_and_a_stranger_less(
    method: str, path: str, body: Any, heron: Machine, as_role: AsRole
) -> None:
    before = Revision.objects.count()
    answer = send(as_role("viewer"), method, path, body)
    assert answer.status_code == 403 and "viewer" in answer.json()["message"]
    assert send(as_role("stranger"), method, path, body).status_code == 401
    assert Revision.objects.count() == before and not Proof.objects.exists()


@pytest.mark.parametrize("method, path, body", READING)
def test_a_viewer_reads_and_a_stranger_does_not(
    method: str, path: str, body: Any, heron: Machine, as_role: AsRole
) -> None:
    assert send(as_role("viewer"), method, path, body).status_code == 200
    assert send(as_role("stranger"), method, path, body).status_code == 401


def test_a_request_without_the_token_is_refused(heron: Machine, as_role: AsRole) -> None:
    strict = Client(enforce_csrf_checks=True)
    strict.cookies = as_role("technician").cookies
    assert send(strict, "POST", "/api/machines/new", {"name": "Wren"}).status_code == 403
    assert send(strict, "POST", "/api/session", {"user": "supervisor", "password": "x"}).status_code in (401, 403)
    strict.get("/")
    token = strict.cookies["csrftoken"].value
    body = json.dumps({"name": "Wren"})
    made = strict.post("/api/machines/new", body, content_type="application/json", headers={"X-CSRFToken": token})
    assert made.status_code == 200


def test_signing_in_and_out(heron: Machine) -> None:
    client = Client()
    client.get("/")
    assert client.get("/api/session").json() == {"user": None, "role": None, "demo_accounts": []}
    wrong = send(client, "POST", "/api/session", {"user": "supervisor", "password": "nonsense"})
    assert wrong.status_code == 401 and "do not belong together" in wrong.json()["message"]
    right = send(client, "POST", "/api/session", {"user": "supervisor", "password": "a-long-password"})
    assert right.json()["role"] == "supervisor"
    assert send(client, "DELETE", "/api/session").json()["user"] is None
    assert client.get("/api/machines").status_code == 401


def test_demo_accounts_are_offered_by_a_demo_only(heron: Machine) -> None:
    client = Client()
    client.get("/")
    assert send(client, "POST", "/api/session/demo", {"role": "supervisor"}).status_code == 401
    with override_settings(DEMO=True):
        assert client.get("/api/session").json()["demo_accounts"] == ["viewer", "technician", "supervisor"]
        assert send(client, "POST", "/api/session/demo", {"role": "supervisor"}).json()["user"] == "supervisor"


def test_small_edits_of_one_person_are_joined_until_something_refers_to_them(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")
    documents = [changed(DOCUMENT, changer__rack__pitch=58.5 + step / 10) for step in range(5)]
    assert save(client, documents[0], documents[1]).json()["revision"] == 2
    assert save(client, documents[1], documents[2]).json()["revision"] == 2
    Proof.objects.create(machine=heron, revision=heron.head, digests={}, total=0, author=heron.head.author)
    assert save(client, documents[2], documents[3]).json()["revision"] == 3
    Revision.objects.filter(number=3).update(created=timezone.now() - timedelta(minutes=4))
    assert save(client, documents[3], documents[4]).json()["revision"] == 4
    other = changed(documents[4], changer__heights__margin=9.0)
    assert save(as_role("supervisor"), documents[4], other).json()["revision"] == 5
    rows = client.get("/api/machines/heron/revisions").json()
    assert [row["number"] for row in rows] == [5, 4, 3, 2, 1]
    assert rows[0]["author"] == "supervisor"
    assert rows[3]["changes"] == [{"where": "/changer/rack/pitch", "before": 58.5, "after": 58.7, "unit": "mm"}]
    assert AuditEntry.objects.filter(action="save setup").count() == 5


def test_two_windows_of_one_person_lose_nothing(heron: Machine, as_role: AsRole) -> None:
    """Both began from the same document; the second save is merged into the joined revision, not put over it."""
    client = as_role("technician")
    save(client, DOCUMENT, changed(DOCUMENT, changer__rack__pitch=58.6))
    answer = save(client, DOCUMENT, changed(DOCUMENT, changer__heights__margin=9.0)).json()
    assert answer["document"]["changer"]["rack"]["pitch"] == 58.6
    assert answer["document"]["changer"]["heights"]["margin"] == 9.0


def test_the_same_value_changed_by_two_is_refused_with_both(heron: Machine, as_role: AsRole) -> None:
    save(as_role("supervisor"), DOCUMENT, changed(DOCUMENT, tools__1__length=70.0))
    answer = save(as_role("technician"), DOCUMENT, changed(DOCUMENT, tools__1__length=71.0))
    assert answer.status_code == 409
    body = answer.json()
    assert body["conflicts"] == [
        {"where": "/tools/2/length", "base": 69.15, "mine": 71.0, "theirs": 70.0, "unit": "mm"}
    ]
    assert body["author"] == "supervisor" and body["document"]["tools"][1]["length"] == 70.0
    assert heron.head.document["tools"][1]["length"] == 70.0
    again = save(as_role("technician"), body["document"], changed(body["document"], tools__1__length=71.0))
    assert again.status_code == 200 and heron.head.document["tools"][1]["length"] == 71.0


def test_saving_the_same_again_makes_nothing_new(heron: Machine, as_role: AsRole) -> None:
    client, edited = as_role("technician"), changed(DOCUMENT, changer__rack__pitch=58.6)
    assert save(client, DOCUMENT, edited).json()["revision"] == 2
    assert save(client, DOCUMENT, edited).json()["revision"] == 2  # an answer that was lost, sent again


def test_restore_is_a_new_revision(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")
    save(client, DOCUMENT, changed(DOCUMENT, changer__rack__pitch=58.6))
    old = client.get("/api/machines/heron/revisions/1").json()
    assert old["changes"] == [{"where": "/changer/rack/pitch", "before": 58.5, "after": 58.6, "unit": "mm"}]
    answer = send(client, "POST", "/api/machines/heron/revisions/1/restore").json()
    assert answer["revision"] == 3 and answer["document"]["changer"]["rack"]["pitch"] == 58.5
    assert client.get("/api/machines/heron/revisions").json()[0]["note"] == "restored from revision 1"
    assert send(client, "POST", "/api/machines/heron/revisions/99/restore").status_code == 404


def test_file_out_and_in_again_is_the_same_document(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")
    odd = changed(DOCUMENT, changer__rack__pitch=58.50000000000001)
    save(client, DOCUMENT, odd)
    file = client.get("/api/machines/heron/file")
    assert 'filename="heron.setup.json"' in file["Content-Disposition"]
    copy = client.post("/api/machines/import", file.content, content_type="application/json").json()
    assert copy["slug"] == "heron-2" and copy["document"] == json.loads(file.content) == odd


@pytest.mark.parametrize(
    "content, status, says",
    [
        (b"%PDF-1.7 not a setup", 422, "Not JSON"),
        (b'{"format": "other"}', 422, "another kind of file"),
        (json.dumps(changed(DOCUMENT, changer__rack__count=10_000)).encode(), 422, "at most 400"),
        (json.dumps({**DOCUMENT, "colour": 1, "tools": [{"number": 1}]}).encode(), 422, "/tools/0/length"),
        (b" " * 5_000_000, 422, "at most 4 MB"),
    ],
)
def test_a_bad_file_is_refused_with_its_faults(
    content: bytes, status: int, says: str, heron: Machine, as_role: AsRole
) -> None:
    answer = as_role("technician").post("/api/machines/import", content, content_type="application/json")
    assert answer.status_code == status and says in json.dumps(answer.json(), ensure_ascii=False)
    assert Machine.objects.count() == 1


def test_a_file_of_20_mb_is_refused(heron: Machine, as_role: AsRole) -> None:
    answer = as_role("technician").post("/api/machines/import", b"x" * 20_000_000, content_type="application/json")
    assert answer.status_code == 413 and "at most 4 MB" in answer.json()["message"] and Machine.objects.count() == 1


def test_a_document_with_faults_is_not_saved_and_its_faults_are_reported(heron: Machine, as_role: AsRole) -> None:
    client, bad = as_role("technician"), changed(DOCUMENT, changer__rack__pitch=-5, tools__0__diameter=0)
    answer = save(client, DOCUMENT, bad)
    assert answer.status_code == 422
    assert {fault["where"] for fault in answer.json()["faults"]} == {"/changer/rack/pitch", "/tools/0/diameter"}
    preview = send(client, "POST", "/api/preview", {"document": bad}).json()
    assert preview["derived"] is None and len(preview["faults"]) == 2
    assert heron.head.number == 1


def test_preview_answers_without_saving(heron: Machine, as_role: AsRole) -> None:
    edited = changed(DOCUMENT, changer__heights__stored_top_z=-140.0)
    body = send(as_role("viewer"), "POST", "/api/preview", {"document": edited, "from_tool": 2, "to_tool": 9}).json()
    assert body["derived"]["ladder"]["empty_z"] == pytest.approx(-132)
    exchange = body["exchange"]
    assert {text["profile"] for text in exchange["texts"]} == {"parametric", "plain words"}
    contact = next(f for f in exchange["findings"] if f["check"] == "body-contact")
    assert contact["fix"]["where"] == "/changer/heights/stored_top_z"
    blocks = exchange["trace"]["blocks"]
    assert any(block["set"].get("#161") == 1 for block in blocks) and blocks[-1]["line"] == contact["line"]
    assert heron.head.number == 1 and heron.head.document == DOCUMENT


@pytest.mark.parametrize(
    "text, kind, value, says",
    [("3/8 in", "length", 9.525, ""), ("1,2.5", "length", None, "one decimal sign"), ("1500", "feed", 1500.0, "")],
)
def test_quantities_are_understood_here(
    text: str, kind: str, value: float | None, says: str, heron: Machine, as_role: AsRole
) -> None:
    body = send(as_role("viewer"), "POST", "/api/quantity", {"text": text, "kind": kind}).json()
    assert body["value"] == value and says in body["what"]


@pytest.mark.django_db
def test_a_document_stored_by_an_earlier_version_is_edited_as_any_other(heron: Machine, as_role: AsRole) -> None:
    old = json.loads(json.dumps(DOCUMENT))
    del old["changer"]["rack"]["taught"], old["positions"], old["machine"]["latency"]
    Revision.objects.filter(machine=heron).update(document=old)
    client = as_role("technician")
    seen = client.get("/api/machines/heron").json()["document"]
    row = [{"pocket": 1, "x": 1.0, "y": 2.0, "z": None}]
    answer = save(client, seen, changed(seen, changer__rack__taught=row))
    assert answer.status_code == 200 and answer.json()["document"]["changer"]["rack"]["taught"] == row


def wait_for(client: Client, state: str, which: str = "") -> dict[str, Any]:
    for _ in range(300):
        proof: dict[str, Any] = client.get(f"/api/machines/heron/proofs/latest{which}").json()
        if proof["state"] == state:
            return proof
        time.sleep(0.05)
    raise AssertionError(proof)


@pytest.mark.django_db(transaction=True)
def test_a_proof_runs_goes_stale_and_says_why(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")
    assert (
        send(client, "POST", "/api/machines/heron/proofs", {"text": "", "file": ""}).json()["total"] == 86
    )  # 72 exchanges, 8 tools measured, 2 routines
    proof = wait_for(client, "done")
    assert proof["done"] == len(proof["sequences"]) == 86 and proof["stop"] == proof["warn"] == 0 and not proof["stale"]
    groups = {entry["fault"]: entry["groups"] for entry in proof["faults"]}
    assert [group["verdict"] for group in groups["override-high"]] == ["safe"] and len(
        groups["none"][0]["sequences"]
    ) == 86
    assert [(group["verdict"], len(group["sequences"])) for group in groups["pocket-empty"]] == [
        ("undetectable", 8),  # the drill has a stop collar: it is not measured after each pick-up
        ("safe", 56),
    ]
    assert proof["unsafe"] == 0 and proof["undetectable"] > 90 and proof["cases"] > 700
    stages = {stage["name"]: stage["mark"] for stage in client.get("/api/machines/heron").json()["stages"]}
    assert stages == {
        "Machine": "proven",
        "Signals": "filled",
        "Changer": "proven",
        "Setter": "proven",
        "Tools": "proven",
        "Probes": "proven",
        "Routines": "proven",
        "Proof": "proven",
    }
    save(client, DOCUMENT, changed(DOCUMENT, changer__heights__stored_top_z=-140.0))
    machine = client.get("/api/machines/heron").json()
    assert machine["proof"]["stale"] and machine["stages"][4]["mark"] == "stale"
    why = machine["proof"]["changes"]
    assert why == [{"where": "/changer/heights/stored_top_z", "before": -124.2, "after": -140.0, "unit": "mm"}]
    assert machine["proof"]["changed_by"] == "technician" and machine["proof"]["changed_at"]
    send(client, "POST", "/api/machines/heron/proofs", {"text": "", "file": ""})
    failing = wait_for(client, "done")
    assert failing["stop"] > 0 and failing["causes"][0]["finding"]["severity"] == "stop"
    assert len(failing["causes"][0]["sequences"]) > 1
    save(client, machine["document"], DOCUMENT)
    assert client.get("/api/machines/heron/proofs/latest").json()["stale"]


@pytest.mark.django_db(transaction=True)
def test_a_program_that_is_imported_is_proven_beside_the_written_one(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")
    setup = read_setup(DOCUMENT)
    mine = exchange_text(setup, setup.profile, 0, 0).replace("M49", "(no lock)")
    unread = send(client, "POST", "/api/machines/heron/proofs", {"text": "G21 X[1", "file": "torn.nc"})
    assert unread.status_code == 422 and "can't be read" in unread.json()["faults"][0]["what"]
    assert (
        send(client, "POST", "/api/machines/heron/proofs", {"text": mine, "file": "mine.nc"}).json()["file"]
        == "mine.nc"
    )
    proof = wait_for(client, "done", "?imported=true")
    bad = {entry["fault"] for entry in proof["faults"] if entry["groups"][0]["verdict"] == "unsafe"}
    assert bad == {"override-low", "override-high"} and proof["imported"] == mine
    assert client.get("/api/machines/heron/proofs/latest").json() is None
    assert client.get("/api/machines/heron").json()["stages"][-1]["mark"] == "open"
    shown = send(
        client, "POST", "/api/preview", {"document": DOCUMENT, "from_tool": 2, "to_tool": 9, "program": mine}
    ).json()
    assert [text["text"] for text in shown["exchange"]["texts"]] == [mine] and shown["exchange"]["trace"][
        "ended"
    ] == "end"


@pytest.mark.django_db(transaction=True)
def test_a_proof_that_a_stopped_server_left_is_no_longer_running(heron: Machine, as_role: AsRole) -> None:
    Proof.objects.create(machine=heron, revision=heron.head, digests={}, total=72, author=heron.head.author)
    assert as_role("viewer").get("/api/machines/heron/proofs/latest").json()["state"] == "cancelled"


def test_the_page_is_handed_out_and_unknown_machines_are_reported(heron: Machine, as_role: AsRole) -> None:
    assert as_role("viewer").get("/machines/heron/changer").status_code in (200, 503)  # 503: not built
    answer = as_role("viewer").get("/api/machines/nobody")
    assert answer.status_code == 404 and answer.json()["message"] == "There is no such machine."


@pytest.mark.django_db
def test_all_tools_are_rearranged_by_a_lead_only_and_as_one_revision(heron: Machine, as_role: AsRole) -> None:
    url = "/api/machines/heron/pockets/arrange"
    denied = send(as_role("technician"), "POST", url, {"how": "empty"})
    assert denied.status_code == 403 and "Only a supervisor" in denied.json()["message"]
    supervisor = as_role("supervisor")
    emptied = send(supervisor, "POST", url, {"how": "empty"}).json()
    assert emptied["revision"] == 2 and {tool["pocket"] for tool in emptied["document"]["tools"]} == {None}
    filled = send(supervisor, "POST", url, {"how": "fill"}).json()["document"]["tools"]
    assert [(tool["number"], tool["pocket"]) for tool in filled] == list(
        zip([1, 2, 3, 4, 5, 6, 8, 9], [1, 2, 3, 4, 5, 6, 8, 9], strict=True)
    )
    shifted = changed(filled, **{"0__pocket": 10})
    head = supervisor.get("/api/machines/heron").json()
    save(supervisor, head["document"], {**head["document"], "tools": shifted}, head["revision"])
    numbered = send(supervisor, "POST", url, {"how": "renumber"}).json()["document"]["tools"]
    assert [(tool["number"], tool["pocket"], tool["length"]) for tool in numbered][-1] == (10, 10, 58.3)


@pytest.mark.django_db
def test_a_pocket_table_is_previewed_before_it_is_taken(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")

    def preview(content: bytes) -> Any:
        return client.post("/api/machines/heron/pockets/preview", content, content_type="text/csv").json()

    reported = preview(b"pocket,tool\n1,2\n2,1\n")
    assert [row["changes"] for row in reported["rows"]] == ["pocket 1: T1 \u2192 T2", "pocket 2: T2 \u2192 T1"]
    assert [tool["pocket"] for tool in reported["tools"]][:3] == [2, 1, 3]
    assert preview(b"pocket,tool\n1,2\n2,2\n")["tools"] is None
    assert client.get("/api/machines/heron/pockets.csv").content.startswith(b"pocket,tool,name\r\n1,1,flat end mill 6")
    dxf = client.get("/api/machines/heron/mounting.dxf?unit=inch")
    assert dxf["Content-Disposition"].endswith('heron-mounting-inch.dxf"') and b"AcDbCircle" in dxf.content


def test_history_comes_in_pages_each_with_what_changed(heron: Machine, as_role: AsRole) -> None:
    document = heron.head.document
    for number in range(2, 95):
        document = changed(document, changer__heights__margin=10.0 + number / 8)
        Revision.objects.create(machine=heron, number=number, document=document, author=heron.head.author)
    client = as_role("viewer")
    first = client.get("/api/machines/heron/revisions").json()
    second = client.get(f"/api/machines/heron/revisions?below={first[-1]['number']}").json()
    last = client.get(f"/api/machines/heron/revisions?below={second[-1]['number']}").json()
    numbers = [revision["number"] for page in (first, second, last) for revision in page]
    assert numbers == list(range(94, 0, -1)) and len(first) == len(second) == 40
    assert all(len(revision["changes"]) == 1 for page in (first, second, last[:-1]) for revision in page)
    assert last[-1]["changes"] == []


def test_the_shop_asks_the_database_no_more_for_more_machines(
    heron: Machine, as_role: AsRole, django_assert_max_num_queries: Any
) -> None:
    client = as_role("technician")
    for name in ("Wren", "Robin", "Linnet", "Siskin"):
        send(client, "POST", "/api/machines/new", {"name": name})
    while any(entry["pending"] for entry in client.get("/api/machines").json()):
        pass  # each answer works some of them out
    with django_assert_max_num_queries(8):
        assert len(client.get("/api/machines").json()) == 5


def test_a_machine_begins_with_a_changer_whose_first_proof_has_no_stop(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")
    wanted = {
        "name": "Tern",
        "kind": "machining centre",
        "unit": "inch",
        "travel": [600, 400, 450],
        "style": "moving disc",
    }
    made = send(client, "POST", "/api/machines/new", wanted).json()
    machine = made["document"]["machine"]
    assert (machine["name"], machine["unit"], machine["axes"]["Z"]["least"]) == ("Tern", "inch", -450)
    assert {output["role"] for output in made["document"]["outputs"]} >= {"grip", "magazine"}
    assert len(made["document"]["tools"]) == 3
    short = send(client, "POST", "/api/machines/new", {**wanted, "travel": [600, 400, 90]})
    assert short.status_code == 422 and "does not fit moving disc" in short.content.decode()
    for part, value in (("kind", "lathe"), ("style", "catapult"), ("travel", [1, 2]), ("travel", [0, 1, 1])):
        assert send(client, "POST", "/api/machines/new", {**wanted, part: value}).status_code == 422


def test_a_machine_is_copied_put_away_and_brought_back(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")
    copied = send(client, "POST", "/api/machines/heron/copy", {"name": "Heron the second"}).json()
    assert copied["slug"] == "heron-the-second" and copied["revision"] == 1 and copied["proof"] is None
    assert copied["document"]["changer"] == heron.head.document["changer"]
    away = send(client, "POST", "/api/machines/heron/put-away", {"away": True}).json()
    assert away["put_away"]
    assert {entry["slug"]: bool(entry["put_away"]) for entry in client.get("/api/machines").json()}["heron"]
    body = {"base_revision": 1, "base": away["document"], "document": away["document"]}
    refused = send(client, "PUT", "/api/machines/heron", body)
    assert refused.status_code == 422 and "put away" in refused.content.decode()
    for address, sent in (
        ("readings", {"quantity": "/tools/0/length", "source": "typed", "value": 61.0}),
        ("revisions/1/restore", None),
        ("proofs", {"text": "", "file": ""}),
        ("reviews", {"file": "job.nc", "purpose": "job", "size": 9}),
    ):
        refused = send(client, "POST", f"/api/machines/heron/{address}", sent)
        assert refused.status_code == 422 and "put away" in refused.content.decode(), address
    assert send(client, "POST", "/api/machines/heron/put-away", {"away": False}).json()["put_away"] is None
    assert send(client, "PUT", "/api/machines/heron", body).status_code == 200


def test_two_revisions_stand_beside_one_another(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")
    document = heron.head.document
    for pitch in (58.6, 58.7):
        changed = json.loads(json.dumps(document))
        changed["changer"]["rack"]["pitch"] = pitch
        SaveSetup(heron.head.author, heron, 1, heron.head.document, changed).run()
        Revision.objects.filter(machine=heron).update(note="kept")  # so that the next is one of its own
    numbers = [entry["number"] for entry in client.get("/api/machines/heron/revisions").json()]
    one = client.get(f"/api/machines/heron/revisions/1?against={numbers[1]}").json()
    assert [(c["where"], c["before"], c["after"]) for c in one["changes"]] == [("/changer/rack/pitch", 58.5, 58.6)]
    assert one["scene"]["magazine"]["pockets"][1]["x"] != one["against_scene"]["magazine"]["pockets"][1]["x"]
    assert client.get("/api/machines/heron/revisions/1").json()["against"] == numbers[0]
    assert client.get("/api/machines/heron/revisions/1?against=99").status_code == 404


def test_a_refused_row_is_not_called_a_damaged_database() -> None:
    from django.db import DatabaseError, IntegrityError
    from django.test import RequestFactory
    from shop.api import damaged

    request = RequestFactory().get("/api/machines")
    assert damaged(request, IntegrityError("unique")).status_code == 500
    assert damaged(request, DatabaseError("malformed")).status_code == 503
