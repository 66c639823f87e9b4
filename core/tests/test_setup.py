"""The Setup document: faults with their places, the round trip, differences, the merge of two people's edits."""

import copy
import json
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from demo_setup import DOCUMENT, changed, demo
from hypothesis import given
from hypothesis import strategies as st
from orthotrope.calc.derived import derive
from orthotrope.errors import InputError
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup, read_setup, setup_schema
from orthotrope.setup.changes import changes, merge
from orthotrope.setup.migrations import VERSION
from orthotrope.setup.quantities import QUANTITIES, quantity_at, units
from orthotrope.setup.renaming import followed, renamed, renames
from orthotrope.setup.templates import bare_setup, changer_template
from orthotrope.validation import unit_at


def test_the_document_comes_back_to_the_last_digit(heron: Setup) -> None:
    text = json.dumps(heron.as_json())
    assert json.dumps(read_setup(text).as_json()) == text
    odd = changed(DOCUMENT, changer__rack__pitch=58.50000000000001, tools__0__length=1e-7 + 58)
    assert read_setup(json.dumps({**odd, "tools": odd["tools"][1:]})).changer.rack.pitch == 58.50000000000001  # type: ignore[union-attr]


@pytest.mark.parametrize(
    "change, where, says",
    [
        ({"format": "something-else"}, "/format", "another kind of file"),
        ({"changer__rack__pitch": -1.0}, "/changer/rack/pitch", "above 0 mm; got −1"),
        ({"changer__rack__count": 10_000}, "/changer/rack/count", "at most 400"),
        ({"changer__rack__datum__at": "corner"}, "/changer/rack/datum/at", "which kind"),
        ({"changer__rack__datum__pocket": 11}, "/changer/rack/datum/pocket", "at most 10"),
        ({"machine__axes__Z__greatest": -200.0}, "/machine/axes/Z/greatest", "above `least`"),
        ({"machine__profile": "none such"}, "/machine/profile", "must be one of"),
        ({"machine__colour": "red"}, "/machine/colour", "not a field"),
        ({"tools__2__stick_out": 60.0}, "/tools/2/stick_out", "below the length"),
        ({"tools__2__number": 1}, "/tools/2/number", "used twice"),
        ({"tools__2__pocket": 11}, "/tools/2/pocket", "at most 10"),
        ({"tools__0__length": float("nan")}, "/tools/0/length", "finite"),
        ({"changer__coupling__hole_diameter": 30.0}, "/changer/coupling/hole_diameter", "at most the nut"),
        ({"bodies__0__top_z": -300.0}, "/bodies/0/top_z", "above `bottom_z`"),
        ({"version": 4}, "/version", "must be 3"),
    ],
)
def test_each_fault_has_its_place_and_its_sentence(change: dict[str, Any], where: str, says: str) -> None:
    with pytest.raises(InputError) as failed:
        read_setup(changed(DOCUMENT, **change))
    assert [f for f in failed.value.faults if f.where == where and says in f.what], failed.value.faults


def test_all_faults_are_reported_at_once() -> None:
    with pytest.raises(InputError) as failed:
        read_setup(changed(DOCUMENT, changer__rack__pitch="wide", machine__unit="ell", tools__3__diameter=0))
    assert {f.where for f in failed.value.faults} == {"/changer/rack/pitch", "/machine/unit", "/tools/3/diameter"}


@pytest.mark.parametrize(
    "text", [b"\x00\x01PNG", "[]", "null", "{", "7", '{"format": "orthotrope-setup"}', " " * 5_000_000]
)
def test_a_file_of_the_wrong_kind_is_refused(text: str | bytes) -> None:
    with pytest.raises(InputError):
        read_setup(text)


def test_the_schema_knows_every_section() -> None:
    assert {"machine", "changer", "tools", "bodies", "work_offsets"} <= set(setup_schema()["properties"])


def test_a_bare_machine_takes_a_rack() -> None:
    bare = bare_setup("Wren")
    assert derive(bare) is None
    filled = read_setup({**bare.as_json(), "changer": changer_template(bare, "thread-on").model_dump(mode="json")})
    derived = derive(filled)
    assert derived is not None and derived.ladder.carry_possible and derived.approach_gap > 0


def test_every_derived_number_has_a_working_whose_terms_stand_in_the_document(heron: Setup) -> None:
    derived = derive(heron)
    assert derived is not None
    for working in derived.workings.values():
        for term in working.terms:
            node: Any = DOCUMENT
            for part in [part for part in term.where.split("/") if part]:
                node = node[int(part)] if part.isdigit() else node[part]
            assert not term.where or node == term.value
    carry = derived.workings["carry_z"]
    assert carry.value == pytest.approx(sum(term.value for term in carry.terms))
    assert "T5" in carry.terms[1].name


def test_the_longest_tool_is_the_stored_one_or_the_planned(heron_with: Callable[..., Setup]) -> None:
    none_stored = [{**tool, "pocket": None} for tool in DOCUMENT["tools"]]
    planned = heron_with(tools=none_stored, changer__heights__planned_longest=50.0)
    assert derive(planned).longest_length == 50.0  # type: ignore[union-attr]
    assert derive(heron_with(changer__heights__planned_longest=500.0)).longest_length == 73.6  # type: ignore[union-attr]


def test_edits_to_different_values_are_merged() -> None:
    mine = changed(DOCUMENT, changer__rack__pitch=58.6)
    theirs = changed(DOCUMENT, changer__heights__margin=9.0, tools__1__length=70.0)
    theirs["tools"].append({**DOCUMENT["tools"][0], "number": 40, "pocket": None})
    theirs["tools"].pop(0)
    merged, conflicts = merge(DOCUMENT, mine, theirs)
    assert not conflicts
    assert merged == changed(theirs, changer__rack__pitch=58.6)


def test_edits_to_the_same_value_conflict_and_theirs_stands() -> None:
    mine, theirs = (changed(DOCUMENT, tools__1__length=length) for length in (70.0, 71.0))
    merged, conflicts = merge(DOCUMENT, mine, theirs)
    assert [(c.where, c.base, c.mine, c.theirs) for c in conflicts] == [("/tools/2/length", 69.15, 70.0, 71.0)]
    assert merged == theirs
    assert merge(DOCUMENT, mine, mine) == (mine, [])


def test_a_tool_that_one_removed_and_the_other_changed_is_a_conflict() -> None:
    mine = changed(DOCUMENT, tools__1__length=70.0)
    theirs = {**DOCUMENT, "tools": [tool for tool in DOCUMENT["tools"] if tool["number"] != 2]}
    assert [c.where for c in merge(DOCUMENT, mine, theirs)[1]] == ["/tools/2"]


small = st.dictionaries(st.sampled_from("abcdef"), st.integers(0, 3), max_size=5)


@given(small, small, small)
def test_a_merge_holds_everything_that_only_one_side_changed(base: Any, mine: Any, theirs: Any) -> None:
    merged, conflicts = merge(base, mine, theirs)
    clash = {c.where for c in conflicts}
    for key in base.keys() | mine.keys() | theirs.keys():
        if f"/{key}" in clash:
            continue
        wanted = theirs.get(key) if mine.get(key) == base.get(key) else mine.get(key)
        assert merged.get(key) == wanted
    assert not changes(theirs, copy.deepcopy(theirs))


@pytest.mark.parametrize("name", ["version-1-early", "version-1-forks", "version-2-setters"])
def test_a_setup_of_an_earlier_version_is_read_and_loses_nothing(name: str) -> None:
    old = json.loads((Path(__file__).parent / "setups" / f"{name}.json").read_text())
    before = json.dumps(old)
    new = read_setup(old).as_json()
    assert json.dumps(old) == before and new["version"] == VERSION and read_setup(new).as_json() == new
    gone = {change.where for change in changes(old, new) if change.after is None and change.before is not None}
    moved = ("/changer/reserved/", "/bodies/setter", "/bodies/second setter")  # into setters
    assert {where for where in gone if not where.startswith(moved)} <= {"/changer/grip/flange_height"}
    if old["version"] == 1 and "coupling" in new["changer"]:
        assert (new["changer"]["coupling"]["give"], new["changer"]["coupling"]["put_down"]) == (0.2, "going down")
        assert new["changer"]["heights"]["planned_longest"] == max(
            tool["length"] for tool in old["tools"] if tool["pocket"]
        )


def test_a_setter_is_one_thing_wherever_it_stood() -> None:
    old = (Path(__file__).parent / "setups" / "version-2-setters.json").read_text()
    setup = read_setup(old)
    assert [(s.name, s.kind, s.input, s.plane_z, s.overtravel) for s in setup.setters] == [
        ("setter", "in a pocket", 2, -124.2, 4.0),
        ("setter 2", "on the table", 2, -190.0, 3.0),
        ("second setter", "on the table", 2, -188.0, 5.0),
    ]
    assert [(entry.pocket, entry.what, entry.makes) for entry in setup.occupants] == [
        (10, "brush", None),
        (7, "setter", 2),
    ]
    assert [body.name for body in setup.bodies] == ["clamping jig"] and setup.bodies[0].makes == 1
    touched = [(body.name, body.top, body.give) for body in nominal_world(setup).bodies if body.makes == 2]
    assert sorted(touched) == [
        ("second setter", pytest.approx(-187.996), pytest.approx(5.004)),  # the measuring touch's delay is in the plane
        ("setter 2", pytest.approx(-189.996), pytest.approx(3.004)),
        ("the setter in pocket 7", pytest.approx(-124.196), pytest.approx(4.004)),
    ]
    document = setup.as_json()
    for wrong, what in ((11, "at most 10"), (10, "the brush stands")):
        document["setters"][0]["pocket"] = wrong
        with pytest.raises(InputError, match=what) as failed:
            read_setup(document)
        assert [fault.where for fault in failed.value.faults] == ["/setters/0/pocket"]


@pytest.mark.parametrize("name", ["a\x00b", "a\nb", "a\ud800", "a\u2028b", "a\x85"])
def test_a_name_that_nothing_can_hold_is_refused_with_its_place(name: str) -> None:
    with pytest.raises(InputError) as failed:
        read_setup(changed(DOCUMENT, tools__1__name=name))
    assert failed.value.faults[0].where == "/tools/1/name" and "take it out" in failed.value.faults[0].what
    with pytest.raises(InputError, match="nested deeper"):
        deep: Any = 1
        for _ in range(500):
            deep = [deep]
        read_setup({**DOCUMENT, "tools": deep})


def numbers(node: Any, way: str = "") -> Iterator[str]:
    if isinstance(node, dict):
        for key, part in node.items():
            yield from numbers(part, f"{way}/{key}")
    elif isinstance(node, list):
        for index, part in enumerate(node):
            yield from numbers(part, f"{way}/{index}")
    elif isinstance(node, int | float) and not isinstance(node, bool):
        yield way


@pytest.mark.parametrize("name", ["heron", "plover", "curlew", "dunlin", "godwit", "knot"])
def test_every_number_of_a_setup_has_its_name_its_help_and_its_unit(name: str) -> None:
    known = units(setup_schema())
    for pointer in numbers(read_setup(demo(name)).as_json()):
        if pointer.startswith(("/profiles", "/version")):
            continue
        quantity = quantity_at(pointer)
        assert quantity and quantity.name and quantity.what, pointer
        end = next(end for end, entry in QUANTITIES.items() if entry is quantity)
        assert known.get(end, "") == unit_at(Setup, pointer), pointer


def test_the_longest_end_of_a_pointer_names_it_and_the_schema_says_so() -> None:
    for pointer, name in (
        ("/tools/7/length", "Length"),
        ("/tools/7/holder/0/length", "Holder length"),
        ("/machine/axes/Z/measured/least", "Measured from"),
        ("/machine/axes/Z/least", "Data sheet from"),
        ("/changer/coupling/feed", "Coupling feed"),
        ("/probes/touch probe/search_feed", "Search feed"),
    ):
        found = quantity_at(pointer)
        assert found and found.name == name
    assert quantity_at("/machine/name") is None
    part = setup_schema()["$defs"]["Heights"]["properties"]["stored_top_z"]
    assert part["title"] == "Stored top" and "highest stored thing" in part["description"]


def test_another_number_or_name_is_followed_everywhere_and_a_removal_says_who_uses_it() -> None:
    document = demo("curlew")
    index = next(i for i, tool in enumerate(document["tools"]) if tool["number"] == document["probes"][0]["tool"])
    entry = next(i for i, found in enumerate(document["inputs"]) if found["number"] == document["probes"][0]["input"])
    now = document
    for where, value in (
        (f"/tools/{index}/number", 88),
        ("/probes/0/name", "long probe"),
        (f"/inputs/{entry}/number", 60),
    ):
        now = renamed(now, where, value)
    setup = read_setup(now)  # it holds together
    probe = setup.probes[0]
    assert (probe.tool, probe.name, probe.input) == (88, "long probe", 60)
    assert {routine.probe for routine in setup.routines} <= {"long probe", None}
    old = read_setup(document).as_json()
    moved = renames(old, read_setup(now).as_json())
    assert moved[f"/tools/{document['probes'][0]['tool']}"] == "/tools/88"
    assert (
        followed("/tools/8/length", {"/tools/8": "/tools/88"}) == "/tools/88/length" and followed("/z", moved) == "/z"
    )
    with pytest.raises(InputError, match="no number or name"):
        renamed(document, "/tools/0/length", 3)
    for field, says in (
        ("tools", "touch probe is in the spindle as T8, which is not there: keep T8, or choose another tool"),
        ("inputs", "touch probe uses input .*, which is not there: keep input"),
        ("probes", "is made with touch probe, which is not there: keep touch probe"),
    ):
        with pytest.raises(InputError, match=says):
            read_setup(document | {field: []})
