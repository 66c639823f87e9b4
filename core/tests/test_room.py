"""How wrong a quantity may be: the limits that are found are where something really fails."""

import json
import math
from typing import Any

import pytest
from demo_setup import DOCUMENT, changed, demo, exchange, measuring
from orthotrope.cli import main
from orthotrope.proof.room import (
    CHOSEN,
    ROOM,
    Limit,
    Room,
    Rooms,
    closest_of,
    in_words,
    known_of,
    quantities,
    rooms_of,
    tightest_first,
    too_tight,
)
from orthotrope.proof.sequences.registry import kind_of
from orthotrope.proof.whole import plain_refs
from orthotrope.setup import read_setup

HERON = read_setup(DOCUMENT)
ROOMS = Rooms(HERON)


def room_of(where: str) -> Room:
    found = ROOMS.of(where)
    assert found, where
    return found


def test_a_rack_may_be_off_by_what_its_pockets_take_and_its_pitch_by_a_share_of_that() -> None:
    place, pitch = room_of("/changer/rack/datum/x"), room_of("/changer/rack/pitch")
    for limit in (place.less, place.more):
        assert limit.fails and limit.by == pytest.approx(0.3, abs=0.011) and limit.by < 0.3
        assert limit.check == "body-contact" and "nut" in limit.says and limit.line and limit.at_seconds
    assert pitch.more.fails and pitch.more.by == pytest.approx(0.3 / 8, abs=0.011)  # at pocket 9, eight pitches away
    assert (
        pitch.more.sequence
        and 9 in kind_of(pitch.more.sequence).tools(pitch.more.sequence)
        and pitch.unit == "mm"
        and pitch.value == 58.5
    )


def test_what_lies_within_the_limit_is_safe_and_what_lies_beyond_is_not() -> None:
    for where in ("/changer/heights/touch_z", "/changer/coupling/lead", "/changer/heights/pocket_depth"):
        room = room_of(where)
        for limit, sign in ((room.less, -1), (room.more, 1)):
            if limit.fails:
                beyond = sign * (limit.by + 0.02 + 0.02 * limit.by)
                assert ROOMS._failing(where, room.value, beyond, ROOMS.tried), where
            assert ROOMS._failing(where, room.value, sign * limit.by * 0.97, ROOMS.tried) in ([], None), where


def test_a_tool_that_is_longer_meets_the_face_below_its_pocket_and_one_that_is_shorter_no_setter() -> None:
    room = room_of("/tools/1/length")
    assert room.key == "/tools/2/length"
    assert room.less.fails and room.less.by == pytest.approx(HERON.setters[0].overtravel, abs=0.05)
    assert "No touch" in room.less.says and room.less.sequence == exchange(1, 2)


def test_a_setter_concerns_the_exchanges_that_measure_at_it() -> None:
    concerned = [entry.sequence for entry in ROOMS.tried if ROOMS._concerns("/setters/0/plane_z", entry)]
    assert {ref.kind for ref in concerned} >= {"exchange", "measuring"}


def test_nothing_is_reported_of_what_nothing_real_depends_on() -> None:
    every = quantities(HERON)
    assert not {where.rpartition("/")[2] for where in every} & CHOSEN
    for where in ("/changer/heights/margin", "/changer/heights/park_z", "/changer/heights/hover_gap"):
        assert where in every and ROOMS.of(where) is None
    assert not any("feed" in where for where in every)  # commanded, not measured


def test_a_value_that_cant_be_less_has_no_limit_there() -> None:
    recess = ROOMS.of("/changer/heights/recess")
    assert recess and not recess.less.fails and recess.less.by == pytest.approx(recess.value, abs=0.02)
    assert recess.more.fails


def test_the_tightest_come_first_and_what_is_known_less_closely_is_reported() -> None:
    wide, tight = Limit(40.0), Limit(0.1, True, says="It fails.")
    rooms = [
        Room(f"/{name}", f"/{name}", 1.0, "mm", less, more)
        for name, less, more in (("a", wide, wide), ("b", wide, tight))
    ]
    assert [room.where for room in tightest_first(rooms)] == ["/b", "/a"]
    assert math.isinf(rooms[0].tightest) and rooms[1].tightest == 0.1
    (finding,) = too_tight(HERON, rooms, {"/a": 0.2, "/b": 0.2})
    assert (
        finding.quantity == "/b"
        and finding.message.startswith("B is known to ± 0.2 mm")
        and "0.1 mm more" in finding.message
    )
    assert not too_tight(HERON, rooms, {"/a": 0.2, "/b": 0.1})
    assert in_words("/tools/2/length") == "T2, length" and in_words("/changer/rack/pitch") == "Pitch"
    assert in_words("/machine/axes/Z/rapid") == "Z, rapid" and in_words("/probes/ball/off_x") == "ball, off-centre X"
    document = changed(DOCUMENT, tools__1__greatest_wear=0.4)
    assert known_of(read_setup(document))["/tools/1/length"] == 0.4


def test_parts_of_it_are_plain_values_and_each_sequence_tells_what_it_passes_closest() -> None:
    found = rooms_of(HERON.as_json(), ["/changer/rack/pitch", "/changer/heights/margin"])
    assert json.loads(json.dumps(found)) == found and [ROOM.validate_python(entry).where for entry in found] == [
        "/changer/rack/pitch"
    ]
    near, measured = closest_of(HERON.as_json(), plain_refs([exchange(1, 3), measuring(2)]))
    assert near["closest"]["gap"] == pytest.approx(18.55) and measured["sequence"]["tools"] == [2]


def test_the_command_prints_clearances_and_rooms(tmp_path: Any, capsys: pytest.CaptureFixture[str]) -> None:
    document = demo("knot")
    path = tmp_path / "knot.json"
    path.write_text(json.dumps(document))
    assert main(["room", str(path), "--json"]) == 0
    reported = json.loads(capsys.readouterr().out)
    assert set(reported) == {"findings", "clearances", "quantities"}
    assert all(entry["sequence"] in ("exchange", "measure", "routine") for entry in reported["clearances"])
    document.update(changer=None, setters=[], routines=[], probes=[])
    path.write_text(json.dumps(document))
    assert main(["room", str(path)]) == 2 and "nothing" not in capsys.readouterr().out
