"""The room of each quantity: searched in the background, followed, stopped, kept, and stale when what it rests on changes."""

import time
from collections.abc import Callable
from typing import Any

import pytest
from django.test import Client
from requests_to import send
from shop.models import Machine, RoomSearch
from shop.rooms import running

AsRole = Callable[[str], Client]

ROOMS = "/api/machines/heron/rooms"


def latest(client: Client) -> Any:
    return send(client, "GET", f"{ROOMS}/latest").json()


def at_its_end(client: Client) -> Any:
    for _ in range(600):
        search = latest(client)
        if search["state"] != "running":
            return search
        time.sleep(0.1)
    raise AssertionError(f"it did not end: {search}")


@pytest.fixture
def only_two(monkeypatch: pytest.MonkeyPatch) -> None:
    """The search of two quantities, and of one that nothing depends on."""
    wheres = ["/changer/rack/pitch", "/changer/heights/touch_z", "/changer/heights/margin"]
    for module in ("shop.rooms.running", "shop.rooms.actions"):
        monkeypatch.setattr(f"{module}.quantities", lambda setup: wheres)


@pytest.mark.django_db(transaction=True)
def test_it_is_searched_kept_and_stale_after_a_change(heron: Machine, as_role: AsRole, only_two: None) -> None:
    technician, viewer = as_role("technician"), as_role("viewer")
    assert latest(viewer) is None
    assert send(viewer, "POST", ROOMS).status_code == 403
    begun = send(technician, "POST", ROOMS).json()
    assert begun["state"] == "running" and begun["total"] == 3
    assert send(technician, "POST", ROOMS).json()["id"] == begun["id"]  # one at a time
    assert send(viewer, "POST", ROOMS).status_code == 403
    search = at_its_end(viewer)
    assert search["state"] == "done" and search["done"] == 3 and not search["stale"] and not search["findings"]
    pitch, touch = (entry["room"] for entry in search["rooms"])
    assert pitch["where"] == "/changer/rack/pitch" and pitch["more"]["by"] == pytest.approx(0.0375, abs=0.011)
    assert touch["where"] == "/changer/heights/touch_z" and touch["less"]["fails"] and touch["less"]["says"]
    assert search["rooms"][0]["known"] == {"how": "typed", "half_width": None}
    setup = send(technician, "GET", "/api/machines/heron").json()
    before = setup["document"]
    document = {**before, "machine": {**before["machine"], "latency": 0.006}}
    edit = {"document": document, "base": before, "base_revision": setup["revision"]}
    saved = send(technician, "PUT", "/api/machines/heron", edit)
    assert saved.status_code == 200 and latest(viewer)["stale"]


@pytest.mark.django_db(transaction=True)
def test_a_quantity_that_takes_too_much_is_reported_and_the_rest_is_found(
    heron: Machine, as_role: AsRole, monkeypatch: pytest.MonkeyPatch
) -> None:
    wheres = ["/changer/rack/pitch", "/nowhere"]
    for module in ("shop.rooms.running", "shop.rooms.actions"):
        monkeypatch.setattr(f"{module}.quantities", lambda setup: wheres)
    technician = as_role("technician")
    send(technician, "POST", ROOMS)
    search = at_its_end(technician)
    assert search["state"] == "done" and search["done"] == 2 and "/nowhere" in search["error"]
    assert [entry["room"]["where"] for entry in search["rooms"]] == ["/changer/rack/pitch"]


@pytest.mark.django_db(transaction=True)
def test_one_is_stopped_and_keeps_what_it_found_and_one_whose_server_ended_says_so(
    heron: Machine, as_role: AsRole
) -> None:
    technician = as_role("technician")
    number = send(technician, "POST", ROOMS).json()["id"]
    send(technician, "POST", f"{ROOMS}/{number}/cancel")
    search = at_its_end(technician)
    assert search["state"] == "cancelled" and search["done"] < search["total"]
    assert send(technician, "POST", f"{ROOMS}/{number + 7}/cancel").status_code == 404
    RoomSearch.objects.filter(pk=number).update(state=RoomSearch.State.RUNNING)
    assert latest(technician)["state"] == "cancelled" and not running.is_running(RoomSearch.objects.get(pk=number))
