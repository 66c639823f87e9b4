"""Readings, series, read-back and input tests: kept with where and who, refused where the machine has moved, and stale
by themselves."""

from collections.abc import Callable
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.test import Client
from link.reader import Link
from link.standard import MachineState
from requests_to import DOCUMENT, changed, send
from shop.models import InputTest, Machine, Reading

AsRole = Callable[[str], Client]
DATUM = "/changer/rack/datum/x"


@pytest.fixture
def standing(monkeypatch: pytest.MonkeyPatch) -> Callable[..., None]:
    """Let the machine stand somewhere, heard of just now or a while ago."""

    def at(x: float, y: float = 20.0, z: float = -5.0, tool: int | None = 0, ago: float = 0.0, **dials: float) -> None:
        state = MachineState(position={"X": x, "Y": y, "Z": z}, tool=tool, offset=2, dials=dials)
        link = Link("http://nowhere", state=state, heard_once=True)
        link.seen += -ago if ago else 60.0  # a slow first request must not make it old
        monkeypatch.setattr("link.hub.link_of", lambda slug, address, device: link)

    return at


def take(client: Client, quantity: str = DATUM, **body: Any) -> Any:
    return send(client, "POST", "/api/machines/heron/readings", {"quantity": quantity, "source": "machine", **body})


@pytest.mark.django_db
def test_a_reading_keeps_where_it_was_taken_and_gives_the_edit(heron: Machine, as_role: AsRole, standing: Any) -> None:
    client = as_role("technician")
    standing(128.8813, tool=4)
    taken = take(client, seen=[128.8813, 20.0, -5.0]).json()
    assert (taken["edit_at"], taken["edit"]) == (DATUM, 128.88)
    reading = taken["reading"]
    assert reading["raw"] == 128.8813 and reading["step"] == 0.005 and reading["position"] == [128.8813, 20.0, -5.0]
    assert (reading["tool"], reading["tool_length"], reading["work_offset"]) == (4, 61.4, 2) and reading[
        "author"
    ] == "technician"
    measured = take(client, "/machine/axes/X/measured/greatest", seen=[128.8813, 20.0, -5.0]).json()
    assert measured["edit"] == {"least": 0.0, "greatest": 128.88}
    listed = client.get("/api/machines/heron/readings").json()
    assert [entry["pointer"] for entry in listed] == ["/machine/axes/X/measured/greatest", DATUM]


@pytest.mark.django_db
def test_a_machine_that_moved_or_is_silent_gives_no_reading(heron: Machine, as_role: AsRole, standing: Any) -> None:
    client = as_role("technician")
    assert "No connection to the machine" in take(client, seen=[1, 2, 3]).json()["message"]
    standing(128.9)
    assert "has moved since" in take(client, seen=[128.8, 20.0, -5.0]).json()["message"]
    assert "has moved since" in take(client).json()["message"]
    standing(128.9, ago=5.0)
    answer = take(client, seen=[128.9, 20.0, -5.0])
    assert answer.status_code == 409 and "No connection to the machine" in answer.json()["message"]
    standing(128.9)
    bad = take(client, "/changer/coupling/lead", seen=[128.9, 20.0, -5.0])
    assert bad.status_code == 422 and "type it" in bad.json()["faults"][0]["what"]
    assert not Reading.objects.exists()


@pytest.mark.django_db
def test_a_reading_follows_its_tool_when_the_list_changes(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")
    take(client, "/tools/6/length", source="typed", value=49.95)
    fewer = changed(DOCUMENT, tools=DOCUMENT["tools"][3:])
    send(client, "PUT", "/api/machines/heron", {"base_revision": 1, "base": DOCUMENT, "document": fewer})
    (reading,) = client.get("/api/machines/heron/readings").json()
    assert (
        reading["quantity"] == "/tools/8/length"
        and reading["pointer"] == "/tools/3/length"
        and reading["source"] == "typed"
    )


@pytest.mark.django_db
@pytest.mark.parametrize(
    "where, shown, agrees, slip",
    [
        (DATUM, 128.4, True, ""),
        (DATUM, 128.4004, True, ""),
        (DATUM, -128.4, False, "the sign is the other one"),
        ("/machine/axes/X/soft_greatest", 819.0, True, ""),
        ("/machine/axes/X/soft_greatest", 891.0, False, "two digits are swapped"),
        ("/positions/0/moves/1/X", 41.0, False, "the decimal point is elsewhere"),
    ],
)
def test_what_the_control_shows_is_read_back(
    where: str, shown: float, agrees: bool, slip: str, heron: Machine, as_role: AsRole
) -> None:
    reading = take(as_role("technician"), where, source="read-back", value=shown).json()["reading"]
    assert (reading["agrees"], reading["slip"], reading["pointer"]) == (agrees, slip, where)
    assert reading["difference"] == pytest.approx(shown - reading["value"], abs=1e-9)


@pytest.mark.django_db
def test_a_series_of_dial_readings_says_the_backlash(heron: Machine, as_role: AsRole, standing: Any) -> None:
    client = as_role("technician")
    where = "/machine/axes/Y/backlash"
    standing(1.0)
    assert "no dial on Y" in take(client, where, source="dial").json()["message"]
    ids = []
    for value, came in ((0.0, 1), (0.081, -1), (0.002, 1), (0.079, -1)):
        standing(1.0, Y=value)
        ids.append(take(client, where, source="dial", came=came).json()["reading"]["id"])
    answer = send(client, "POST", "/api/machines/heron/series", {"quantity": where, "readings": ids}).json()
    assert (
        answer["edit_at"] == where
        and answer["edit"] == pytest.approx(0.079)
        and "2 from above" in answer["reading"]["says"]
    )
    one_side = send(client, "POST", "/api/machines/heron/series", {"quantity": where, "readings": ids[::2]})
    assert one_side.status_code == 422 and "both sides" in one_side.json()["faults"][0]["what"]


@pytest.mark.django_db
def test_a_test_holds_for_the_wiring_that_it_was_made_with(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")

    def test(number: int, *seen: str) -> Any:
        return send(client, "POST", f"/api/machines/heron/inputs/{number}/tests", {"seen": seen, "by_hand": True})

    answer = test(2, "made", "idle", "made").json()
    (reported,) = answer["tests"]
    assert (reported["outcome"], reported["wiring"], reported["level"], reported["stale"]) == (
        "reversed",
        "normally open",
        "low",
        False,
    )
    assert answer["stages"][1]["mark"] == "failing"
    for number in (1, 2, 3, 4):
        answer = test(number, "idle", "made", "idle").json()
    assert answer["stages"][1]["mark"] == "proven" and {entry["outcome"] for entry in answer["tests"]} == {"passed"}
    rewired = changed(DOCUMENT, inputs__1__terminal="I9")
    saved = send(
        client, "PUT", "/api/machines/heron", {"base_revision": 1, "base": DOCUMENT, "document": rewired}
    ).json()
    stale = next(entry for entry in saved["tests"] if entry["number"] == 2)
    assert stale["stale"] and stale["why"] == "terminal was I5, is now I9" and saved["stages"][1]["mark"] == "stale"
    assert test(9, "idle", "made", "idle").status_code == 422 and test(1, "idle").status_code == 422
    assert InputTest.objects.count() == 5


@pytest.mark.django_db
def test_an_agents_address_is_checked(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")

    def put(address: str) -> Any:
        return send(client, "PUT", "/api/machines/heron/agent", {"address": address, "device": ""})

    assert put("http://mill-3:5000/").json()["agent"] == "http://mill-3:5000"
    for bad in ("mill-3", "file:///etc/passwd", "http://", "http://x/?a=1"):
        assert put(bad).status_code == 422 and "must begin with http://" in put(bad).json()["faults"][0]["what"]
    assert put("").json()["agent"] == ""
    gone = send(client, "POST", "/api/machines/heron/practice", {"seed": 3})
    assert gone.status_code == 409 and "make demo starts it" in gone.json()["message"]


@pytest.mark.django_db
def test_offers_and_samples_are_made_of_documents_that_are_not_stored(as_role: AsRole) -> None:
    client = as_role("viewer")
    offer = send(
        client, "POST", "/api/offers", {"document": DOCUMENT, "quantity": DATUM, "position": [3.333, 2, 1]}
    ).json()
    assert (offer["offer"]["axis"], offer["offer"]["value"]) == ("X", 3.335)
    assert offer["targets"] == {"X": 128.4, "Y": 1187.5}
    nothing = send(
        client, "POST", "/api/offers", {"document": DOCUMENT, "quantity": "/machine/name", "position": [1, 2, 3]}
    ).json()
    assert nothing["offer"] is None and "type it" in nothing["says"]
    known = client.get("/api/profiles").json()
    sample = send(client, "POST", "/api/profile-sample", {"profile": known[0]}).json()
    assert sample["agrees"] and sample["text"].startswith("%") and sample["call"]
    bad = send(client, "POST", "/api/profile-sample", {"profile": {**known[0], "decimals": 99}}).json()
    assert bad["text"] is None and bad["faults"][0]["where"] == "/decimals"
    for stage, key in (("machine", "machine"), ("signals", "signals")):
        answer = send(client, "POST", "/api/preview", {"document": DOCUMENT, "stage": stage}).json()
        assert answer[key] and answer["exchange"] is None


@pytest.mark.django_db
def test_a_pocket_is_taught_where_the_machine_stands(heron: Machine, as_role: AsRole, standing: Any) -> None:
    client = as_role("technician")
    standing(186.9321, 1187.5049, -143.7)

    def teach(pocket: int, **more: Any) -> Any:
        return send(
            client,
            "POST",
            "/api/machines/heron/teach",
            {"pocket": pocket, "seen": [186.9321, 1187.5049, -143.7], **more},
        )

    answer = teach(2).json()
    assert answer["edit"] == [{"pocket": 2, "x": 186.93, "y": 1187.505, "z": None}]
    assert [reading["quantity"] for reading in answer["readings"]] == [
        f"/changer/rack/taught/2/{axis}" for axis in "xy"
    ]
    taught = changed(DOCUMENT, changer__rack__taught=answer["edit"])
    send(client, "PUT", "/api/machines/heron", {"base_revision": 1, "base": DOCUMENT, "document": taught})
    again = teach(1, with_height=True).json()
    assert [(row["pocket"], row["z"]) for row in again["edit"]] == [(1, -143.7), (2, None)]
    listed = client.get("/api/machines/heron/readings").json()
    assert "/changer/rack/taught/0/x" in [reading["pointer"] for reading in listed]
    assert teach(11).status_code == 422 and teach(2, seen=[1, 2, 3]).status_code == 409
    texts = send(client, "POST", "/api/approach", {"document": DOCUMENT, "pocket": 2}).json()
    assert [text["name"].split(": ")[1] for text in texts] == ["above it", "down to hover", "down by 0.5 mm steps"]
    assert texts[2]["text"].count("M0") == 27 and "G53 G1 Z-144.35 F60" in texts[2]["text"]


def test_readings_and_tests_go_with_a_tool_or_input_of_another_number(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")
    body = {"quantity": "/tools/2/length", "source": "typed", "value": 47.9}
    assert send(client, "POST", "/api/machines/heron/readings", body).status_code == 200
    user = User.objects.get(username="technician")
    wired = InputTest.wired_as(heron.head.setup.inputs[0])
    InputTest.objects.create(machine=heron, number=1, wired=wired, seen={}, outcome="passed", by_hand=True, author=user)
    document = heron.head.document
    for where, value in (("/tools/2/number", 33), ("/inputs/0/number", 40)):
        found = send(
            client, "POST", "/api/adding/rename", {"document": document, "where": where, "value": value}
        ).json()
        sent = {"base_revision": 1, "base": document, "document": found["document"]}
        assert send(client, "PUT", "/api/machines/heron", sent).status_code == 200
        document = found["document"]
    assert client.get("/api/machines/heron/readings").json()[0]["pointer"] == "/tools/2/length"
    assert heron.readings.get().quantity == "/tools/33/length"
    assert InputTest.tested(heron, heron.head.setup) == {40}
