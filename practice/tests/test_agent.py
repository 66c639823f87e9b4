"""The agent, read by a client that knows only the standard; the commands, over a real WebSocket."""

import json
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from typing import Any
from xml.etree import ElementTree as Xml

import httpx
import pytest
from websockets.exceptions import InvalidStatus
from websockets.sync.client import ClientConnection, connect

CATEGORIES = {"SAMPLE": "Samples", "EVENT": "Events", "CONDITION": "Condition"}
EXECUTION = {
    "READY",
    "ACTIVE",
    "INTERRUPTED",
    "FEED_HOLD",
    "STOPPED",
    "PROGRAM_STOPPED",
    "PROGRAM_COMPLETED",
    "OPTIONAL_STOP",
}


def fetch(address: str, path: str) -> tuple[int, Xml.Element]:
    try:
        with urllib.request.urlopen(f"http://{address}/{path}", timeout=5) as answer:
            return answer.status, Xml.fromstring(answer.read())
    except urllib.error.HTTPError as failed:
        return failed.code, Xml.fromstring(failed.read())


def local(element: Xml.Element) -> str:
    return element.tag.rsplit("}", 1)[1]


def items(address: str) -> dict[str, Xml.Element]:
    _, root = fetch(address, "heron/probe")
    return {element.attrib["id"]: element for element in root.iter() if local(element) == "DataItem"}


@pytest.fixture
def hand(address: str) -> Iterator[Callable[..., dict[str, Any]]]:
    with connect(f"ws://{address}/heron/act") as socket:
        yield lambda do, **more: said(socket, do, **more)


def home(hand: Callable[..., Any]) -> None:
    """As soon as what the machine does has ended."""
    until = time.monotonic() + 20
    while (answer := hand("home")) and time.monotonic() < until:
        time.sleep(0.05)
    assert answer == {}


def said(socket: ClientConnection, do: str, **more: Any) -> dict[str, Any]:
    socket.send(json.dumps({"id": 5, "do": do, **more}))
    answer: dict[str, Any] = json.loads(socket.recv(timeout=5))
    assert answer.pop("id") == 5
    return answer


def test_the_devices_document_has_the_standards_shape(address: str) -> None:
    status, root = fetch(address, "probe")
    assert status == 200 and root.tag == "{urn:mtconnect.org:MTConnectDevices:1.4}MTConnectDevices"
    header, devices = root
    assert (
        local(header) == "Header"
        and {"creationTime", "sender", "instanceId", "version", "bufferSize"} <= header.attrib.keys()
    )
    (device,) = devices
    assert {"id", "uuid", "name"} <= device.attrib.keys()
    found = [element for element in root.iter() if local(element) == "DataItem"]
    ids = [element.attrib["id"] for element in root.iter() if "id" in element.attrib]
    assert len(set(ids)) == len(ids)
    for item in found:
        assert {"id", "category", "type"} <= item.attrib.keys() and item.attrib["category"] in CATEGORIES
        assert (item.attrib["category"] != "SAMPLE") or item.attrib["units"]
    linear = [element for element in root.iter() if local(element) == "Linear"]
    assert [element.attrib["name"] for element in linear] == ["X", "Y", "Z"]
    for component in root.iter():
        names = [local(child) for child in component]
        if "DataItems" in names and "Components" in names:
            assert names.index("DataItems") < names.index("Components")
    positions = [item for item in found if item.attrib["type"] == "POSITION"]
    assert all(
        item.attrib["units"] == "MILLIMETER" and item.attrib["coordinateSystem"] == "MACHINE" for item in positions
    )


def test_observations_belong_to_their_data_items(address: str) -> None:
    known = items(address)
    status, root = fetch(address, "heron/current")
    assert status == 200 and root.tag == "{urn:mtconnect.org:MTConnectStreams:1.4}MTConnectStreams"
    reported = [element for element in root.iter() if "dataItemId" in element.attrib]
    assert {element.attrib["dataItemId"] for element in reported} == known.keys()
    for element in reported:
        item = known[element.attrib["dataItemId"]].attrib
        if item["category"] == "CONDITION":
            assert (
                local(element) in ("Normal", "Warning", "Fault", "Unavailable")
                and element.attrib["type"] == item["type"]
            )
        else:
            assert local(element).lower() == item["type"].replace("_", "").lower()
        assert element.attrib["timestamp"].endswith("Z") and int(element.attrib["sequence"]) > 0
        if item["type"] == "EXECUTION":
            assert element.text in EXECUTION
        if item["type"] == "POWER_STATE":
            assert element.text in ("ON", "OFF") and item["subType"] == "CONTROL"


def test_sample_goes_on_from_a_sequence_number_and_refuses_one_it_has_not(
    address: str, hand: Callable[..., Any]
) -> None:
    _, before = fetch(address, "heron/current")
    start = before[0].attrib["nextSequence"]
    hand("make", input=1, made=True)
    hand("make", input=1, made=False)
    _, root = fetch(address, f"heron/sample?from={start}&count=1000")
    reported = [element for element in root.iter() if element.attrib.get("dataItemId") == "heron_input_1"]
    assert reported[0].text == "ON" and reported[-1].text == "OFF" and len(reported) >= 4  # it bounces
    sequences = [int(element.attrib["sequence"]) for element in reported]
    assert sequences == sorted(sequences) and int(root[0].attrib["nextSequence"]) > sequences[-1]
    for query, code in (("from=999999", "OUT_OF_RANGE"), ("from=x", "INVALID_REQUEST"), ("count=0", "OUT_OF_RANGE")):
        status, error = fetch(address, f"heron/sample?{query}")
        assert status in (400, 404) and error.find(".//{*}Error").attrib["errorCode"] == code  # type: ignore[union-attr]
    status, error = fetch(address, "kite/current")
    assert status == 404 and error.find(".//{*}Error").attrib["errorCode"] == "NO_DEVICE"  # type: ignore[union-attr]


def test_a_stream_tells_the_way_of_a_move(address: str, hand: Callable[..., Any]) -> None:
    hand("speed", speed="at once")
    hand("home")
    hand("speed", speed="real time")
    time.sleep(0.1)
    _, now = fetch(address, "heron/current")
    start = now[0].attrib["nextSequence"]
    query = f"from={start}&interval=20&heartbeat=500&count=500"
    answer = urllib.request.urlopen(f"http://{address}/heron/sample?{query}", timeout=5)
    assert "multipart/x-mixed-replace" in answer.headers["content-type"]
    threading.Timer(0.1, lambda: hand("jog", axis="X", by=40.0, feed=6000.0)).start()
    places: list[float] = []
    deadline = time.monotonic() + 5
    while (not places or places[-1] < 40.9998) and time.monotonic() < deadline:
        length = 0
        while (line := answer.readline().strip()) or not length:
            if line.lower().startswith(b"content-length:"):
                length = int(line.split(b":")[1])
        for element in Xml.fromstring(answer.read(length)).iter():
            if element.attrib.get("dataItemId") == "heron_X_position":
                places.append(float(element.text or "nan"))
    answer.close()
    assert len(places) > 8 and places == sorted(places) and places[-1] == pytest.approx(41.0, abs=2e-4)


def test_a_lost_hand_stops_its_jog_and_holds_its_program(address: str, hand: Callable[..., Any]) -> None:
    hand("speed", speed="at once")
    home(hand)
    hand("speed", speed="real time")
    with connect(f"ws://{address}/heron/act") as other:
        said(other, "jog", axis="Y", by=-1.0, feed=3000.0, held=True)
        time.sleep(0.3)
    time.sleep(0.4)
    first = position(address, "Y")
    time.sleep(0.2)
    assert position(address, "Y") == first and 1200 < first < 1239
    with connect(f"ws://{address}/heron/act") as other:
        said(other, "run", text="G21 G90 G53 G1 X600 F3000\nM30")
        time.sleep(0.2)
    time.sleep(0.4)
    _, root = fetch(address, "heron/current")
    assert next(e.text for e in root.iter() if local(e) == "Execution") == "FEED_HOLD"
    assert hand("go on") == {} and hand("stop") == {} and hand("reset") == {}


def position(address: str, axis: str) -> float:
    _, root = fetch(address, "heron/current")
    return float(next(e.text for e in root.iter() if e.attrib.get("dataItemId") == f"heron_{axis}_position") or "nan")


def test_what_is_no_command_is_refused_in_words(address: str, hand: Callable[..., Any]) -> None:
    assert "`do` must be one of home" in hand("dance")["refused"]
    assert "`feed` must be above 0 mm/min; got −5" in hand("jog", axis="X", by=1.0, feed=-5.0)["refused"]
    assert "no input 9" in hand("make", input=9, made=True)["refused"]
    with connect(f"ws://{address}/heron/act") as socket:
        socket.send("{not json")
        assert "no JSON" in json.loads(socket.recv(timeout=5))["refused"]


def test_a_machine_is_built_from_a_setup_and_kept(address: str, heron: Any) -> None:
    def put(slug: str, body: Any) -> tuple[int, Any]:
        request = urllib.request.Request(f"http://{address}/{slug}", json.dumps(body).encode(), method="PUT")
        try:
            with urllib.request.urlopen(request, timeout=5) as answer:
                return answer.status, json.loads(answer.read())
        except urllib.error.HTTPError as failed:
            return failed.code, json.loads(failed.read())

    assert put("kite", {"document": heron.as_json(), "seed": 3}) == (200, {"built": "kite"})
    assert fetch(address, "kite/current")[0] == 200
    assert put("kite", {"document": {}, "seed": 3})[0] == 422 and put("kite", {"document": {}, "seed": "x"})[0] == 422
    assert "small letters" in put("K%20x", {"document": heron.as_json(), "seed": 3})[1]["refused"]


def test_no_other_sites_page_gives_commands_or_reads_under_a_name_of_its_own(address: str) -> None:
    for headers in ({"Origin": "http://elsewhere"}, {"Origin": "null"}):
        with pytest.raises(InvalidStatus) as refused, connect(f"ws://{address}/heron/act", additional_headers=headers):
            pass
        assert refused.value.response.status_code == 403
    with connect(f"ws://{address}/heron/act", additional_headers={"Origin": f"http://{address}"}) as own:
        assert "truth" in said(own, "truth")
    rebound = httpx.get(f"http://{address}/probe", headers={"Host": "elsewhere.example"})
    assert rebound.status_code == 400
    for body in ("{", "[]", '{"seed": true}', '{"seed": NaN}', "[" * 9000):
        assert httpx.put(f"http://{address}/kite", content=body).status_code == 422
