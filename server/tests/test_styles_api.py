"""Changers of every style over the API: templates, what a stage gets of them, layouts, recovery, and what they
refuse."""

from collections.abc import Callable
from typing import Any

import pytest
from django.test import Client
from orthotrope.setup.changer import CHANGERS
from requests_to import DOCUMENT, demo, send
from shop.models import Machine

AsRole = Callable[[str], Client]


def preview(client: Client, document: dict[str, Any], **more: Any) -> dict[str, Any]:
    answer: dict[str, Any] = send(client, "POST", "/api/preview", {"document": document, **more}).json()
    return answer


@pytest.mark.parametrize("style", list(CHANGERS))
def test_each_template_is_a_changer_that_can_be_worked_out(style: str, heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")
    bare = {**DOCUMENT, "changer": None, "tools": [], "setters": [], "probes": [], "routines": []}
    added = send(client, "POST", "/api/adding/changer", {"document": bare, "style": style}).json()["document"]
    assert added["changer"]["style"] == style
    shown = preview(client, added)
    assert shown["faults"] == [] and shown["derived"]["workings"]
    roles = {entry["role"] for entry in shown["uses"]}
    assert "spindle still" in roles or "oriented" in roles
    assert all(entry["name"] is None or entry["role"] == "air" for entry in shown["uses"])


def test_an_unknown_style_is_reported_with_those_there_are(heron: Machine, as_role: AsRole) -> None:
    refused = send(as_role("technician"), "POST", "/api/adding/changer", {"document": DOCUMENT, "style": "carousel"})
    assert refused.status_code == 422
    assert refused.json()["faults"][0]["where"] == "/style" and "moving disc" in refused.json()["faults"][0]["what"]


def test_what_moves_is_reported_with_the_trace(heron: Machine, as_role: AsRole) -> None:
    client = as_role("viewer")
    shown = preview(client, demo("plover"), from_tool=1, to_tool=5)
    trace, disc = shown["exchange"]["trace"], shown["scene"]["magazine"]["shapes"]["disc"]
    moves = [(move["device"], move["was"], move["state"]) for move in trace["devices"]]
    assert ("disc", "home", "out") in moves and ("turn", "1", "5") in moves and moves[-1] == ("disc", "out", "home")
    assert all(move["end_seconds"] >= move["start_seconds"] for move in trace["devices"])
    assert len(trace["stored"][0]["pockets"]) == 23 and len(shown["scene"]["magazine"]["pockets"]) == 24
    assert disc["count"] == 24 and disc["out"][0] - disc["home"][0] == pytest.approx(9 * 25.4)
    made = [set(seen["made"]) for seen in trace["inputs"]]
    assert "disc home" in made[0] and any("disc out" in seen for seen in made)
    arm = preview(client, demo("godwit"), from_tool=1, to_tool=2)["scene"]["magazine"]
    assert arm["shapes"]["disc"]["arm"]["reach"] == 290 and arm["pockets"][15]["reserved"]
    forks = preview(client, demo("curlew"))["scene"]
    assert sum(body["name"] == "fork 3" for body in forks["bodies"]) == 3
    assert 26.5 in {part["radius"] for part in forks["tools"][0]["parts"]}  # the groove


def test_what_belongs_to_a_rack_is_refused_where_there_is_none(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")
    made = send(client, "POST", "/api/machines/import", demo("plover")).json()["slug"]
    taught = send(client, "POST", f"/api/machines/{made}/teach", {"pocket": 1, "seen": [1, 2, 3]})
    assert taught.status_code == 422 and "no pocket 1 to be taught" in taught.json()["faults"][0]["what"]
    drawing = client.get(f"/api/machines/{made}/mounting.dxf")
    assert drawing.status_code == 422 and "a rack's" in drawing.json()["faults"][0]["what"]
    table = client.get(f"/api/machines/{made}/pockets.csv").content.decode()
    assert table.count("\r\n") == 25


def test_a_layout_is_read_by_layer_and_order_and_refused_with_the_way_out(heron: Machine, as_role: AsRole) -> None:
    client = as_role("technician")
    drawing = client.get("/api/machines/heron/mounting.dxf?unit=mm&frame=machine").content.decode()
    layers = send(client, "POST", "/api/layout", {"text": drawing}).json()
    assert [layer["name"] for layer in layers] == ["HOLES", "RECESSES"]
    holes = layers[0]
    assert len(holes["marks"]) == 10 and holes["orders"]["along X"] == list(range(10))
    assert sorted(holes["orders"]["row by row"]) == list(range(10))
    refused = send(client, "POST", "/api/layout", {"text": "0\nSECTION"})
    assert refused.status_code == 422 and refused.json()["faults"][0]["where"] == "/file"


def test_settling_and_savings_of_an_exchange_that_is_not_there_are_refused(heron: Machine, as_role: AsRole) -> None:
    client = as_role("viewer")
    for path in ("recovery", "savings"):
        refused = send(client, "POST", f"/api/{path}", {"document": DOCUMENT, "from_tool": 2, "to_tool": 77})
        assert refused.status_code == 422 and "T77" in refused.json()["faults"][0]["what"]
    rows = send(client, "POST", "/api/recovery", {"document": demo("godwit"), "from_tool": 1, "to_tool": 2}).json()
    assert rows["record"]["of_pocket"] == "#[500 + {pocket}] = {tool}" and len(rows["stretches"]) > 10
    saved = send(client, "POST", "/api/savings", {"document": demo("dunlin"), "from_tool": 1, "to_tool": 2}).json()
    assert saved[0]["where"] == "/machine/spindle/seconds_to_speed" and saved[0]["seconds"] == max(
        entry["seconds"] for entry in saved
    )
