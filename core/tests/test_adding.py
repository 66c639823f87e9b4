"""What is added begins with numbers that go together, on an input that a touch makes, in a tool of its type."""

import pytest
from demo_setup import demo
from orthotrope.calc.derived import derive
from orthotrope.calc.touch_devices import rise_of
from orthotrope.errors import InputError
from orthotrope.proof.adding import added_changer, added_entry, added_probe, added_setter, added_tool, touch_input_made
from orthotrope.proof.conflicts import conflicts
from orthotrope.proof.measuring import prove_tool
from orthotrope.proof.routines import prove_routine
from orthotrope.proof.starting import MACHINE_KINDS, started
from orthotrope.proof.whole import plain_refs, prepared, prove_part, sequences
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.changer import CHANGERS
from orthotrope.setup.changes import changes, merge, taken_back
from orthotrope.setup.keys import at, placed
from orthotrope.setup.planned import places
from orthotrope.setup.renaming import renamed
from orthotrope.setup.setters import SETTERS


def begun(style: str, unit: str = "mm", kind: str = "machining centre") -> Setup:
    return started("Avocet", kind, unit, MACHINE_KINDS[kind].travel, style)


def role_of_input(setup: Setup, number: int) -> str:
    return next(entry.role for entry in setup.inputs if entry.number == number)


@pytest.mark.parametrize("unit", ["mm", "inch"])
@pytest.mark.parametrize("style", CHANGERS)
def test_a_new_setter_stands_clear_on_an_input_that_a_touch_makes(style: str, unit: str) -> None:
    made = added_setter(begun(style, unit), "on the table").document
    setter = made.setters[0]
    assert role_of_input(made, setter.input) == "setter"
    assert [f for f in prove_tool(made, 1).findings if f.severity != "note"] == []
    assert [c.message for c in conflicts(made, derive(made)) if c.severity == "stop"] == []
    if unit == "inch":
        assert setter.margin == pytest.approx(0.59 * 25.4) and setter.repeatability == pytest.approx(0.00039 * 25.4)


@pytest.mark.parametrize("kind", SETTERS)
def test_no_new_setter_takes_what_is_taken(kind: str) -> None:
    setup = read_setup(demo("heron"))
    made = added_setter(setup, kind).document
    setter = made.setters[-1]
    assert role_of_input(made, setter.input) == setter.usual_roles[0]
    if setter.occupant:
        assert setter.occupant.pocket not in {tool.pocket for tool in setup.tools}
    full = setup.model_copy(
        update={"tools": [tool.model_copy(update={"pocket": n + 1}) for n, tool in enumerate(setup.tools)]}
    )
    count = full.changer.pocket_count  # type: ignore[union-attr]
    tools = [full.tools[0].model_copy(update={"number": 100 + n, "pocket": n + 1}) for n in range(count)]
    if setter.occupant:
        full = setup.model_copy(update={"tools": tools, "setters": [], "probes": [], "routines": []})
        with pytest.raises(InputError, match="No pocket is free"):
            added_setter(full, kind)


def test_a_touch_device_on_an_input_of_another_role_is_a_stop_in_its_proof() -> None:
    setup = added_setter(begun("side-entry"), "on the table").document
    other = next(entry for entry in setup.inputs if not entry.touches)
    with pytest.raises(InputError, match=f"Input {other.number}, {other.name}, has the role {other.role}, which no"):
        added_setter(setup, "on the table", other.number)
    with pytest.raises(InputError, match="Input 63 is not there; choose"):
        added_setter(setup, "on the table", 63)
    wrong = read_setup(placed(setup.as_json(), "/setters/0/input", other.number))
    found = [f for f in prove_tool(wrong, 1).findings if f.quantity == "/setters/0/input"]
    assert [f.severity for f in found] == ["stop"] and found[0].fix is not None
    fixed = read_setup(placed(wrong.as_json(), found[0].fix.where, found[0].fix.value))
    assert fixed.setters == setup.setters
    made = touch_input_made(wrong, "/setters/0").document
    assert role_of_input(made, made.setters[0].input) == "setter" and len(made.inputs) == len(wrong.inputs) + 1


def test_a_new_probe_is_no_cutter() -> None:
    setup = begun("side-entry")
    with pytest.raises(InputError, match="T1 is a tool of the type flat end mill; choose one of the type probe"):
        added_probe(setup, "switching", 1)
    made = added_probe(setup, "switching")
    assert made.document.tool(made.document.probes[0].tool).type == "probe" and len(made.says) == 2
    assert role_of_input(made.document, made.document.probes[0].input) == "probe"
    with pytest.raises(InputError, match="is touch probe already"):
        added_probe(made.document, "switching", made.document.probes[0].tool)
    assert added_probe(setup, "plate with edges", 1).document.probes[0].tool == 1
    assert made.document.probes[0].measure_feed == 35  # late by 2.3 µm at most, with a latency of 4 ms
    quick = read_setup(placed(setup.as_json(), "/machine/latency", 0.001))
    assert added_probe(quick, "switching").document.probes[0].measure_feed == 60
    assert added_probe(begun("side-entry", "inch"), "switching").document.probes[0].measure_feed == pytest.approx(
        1.4 * 25.4
    )


def test_a_probe_on_a_cutter_is_a_stop_in_the_proof_of_its_routines() -> None:
    setup = read_setup(demo("curlew"))
    cutter = next(tool.number for tool in setup.tools if tool.type != "probe")
    wrong = read_setup(placed(setup.as_json(), "/probes/0/tool", cutter))
    found = [f for f in prove_routine(wrong, setup.routines[0].name).findings if f.quantity == "/probes/0/tool"]
    assert [(f.severity, f.fix and f.fix.value) for f in found] == [("stop", setup.probes[0].tool)]


def test_a_new_tool_has_the_next_number() -> None:
    setup = begun("thread-on", "inch", "router")
    tool = added_tool(setup).document.tools[-1]
    assert tool.number == 4 and tool.pocket is None and tool.length == pytest.approx(2.36 * 25.4)


BORE = {
    "name": "bore", "kind": "bore", "x": 350.0, "y": 200.0, "z": -300.0, "before": 8.0, "beyond": 4.0, "depth": 5.0, "clearance": 12.0,
    "work_offset": 1, "diameter": 40.0, "touches": 4, "first_deg": 0.0,
}  # fmt: skip


@pytest.mark.parametrize("style", CHANGERS)
def test_a_machine_from_nothing_is_proven_as_it_is_made(style: str) -> None:
    """A machine of each style, a setter, tools and a probe, with the numbers that they begin with: no stop, no warning, nothing unsafe."""
    setup = added_setter(
        begun(style, kind="router" if style == "thread-on" else "machining centre"), "on the table"
    ).document
    setup = added_probe(added_tool(setup).document, "switching").document
    document = setup.as_json() | {"routines": [BORE | {"probe": setup.probes[0].name}]}
    setup = read_setup(document)
    found = prove_part(document, plain_refs(sequences(setup)), None, prepared(document))
    assert {result["worst"] for result in found} <= {None, "note"}
    assert {fault["verdict"] for result in found for fault in result["faults"]} <= {"safe", "undetectable"}
    lengths = [result for result in found if result["sequence"].get("name") == "measure"]
    assert len(lengths) == len(setup.tools) - 1  # all but the probe


def test_what_is_added_is_planned_until_someone_enters_it() -> None:
    begun_with = begun("thread-on", kind="router").as_json()
    planned = set(places(begun_with))
    assert {"/machine/axes/X/rapid", "/changer/rack/pitch", "/tools/0/length"} <= planned
    assert not planned & {"/machine/axes/X/greatest", "/machine/axes/Z/least"}  # the travel was entered
    assert not any(at(begun_with, where) == 0 for where in planned)
    heron = read_setup(demo("heron"))
    assert not heron.planned and "planned" not in heron.as_json()
    made = added_probe(added_tool(heron).document, "switching").document.as_json()
    assert {"/tools/10/length", "/tools/11/length"} <= {entry["where"] for entry in made["planned"]}
    assert all(where.startswith(("/tools/8/", "/tools/9/", "/probes/1/")) for where in places(made))
    follows = renamed(made, "/tools/8/number", 42)
    assert "/tools/42/length" in {entry["where"] for entry in follows["planned"]} and places(follows) == places(made)
    gone = {**made, "tools": made["tools"][:-1], "probes": made["probes"][:-1]}
    assert {where.rsplit("/", 1)[0] for where in places(gone)} == {"/tools/8"}
    entered = {**made, "planned": made["planned"][1:]}
    (mark,) = changes(made, read_setup(entered).as_json())
    assert taken_back(entered, mark)["planned"][-1] == made["planned"][0]
    last: list[str]
    for last in ([], made["planned"][:1]):  # one enters all that is left, the other adds something meanwhile
        mine = read_setup({**made, "planned": last}).as_json()
        merged, conflicts = merge({**made, "planned": made["planned"][:1]}, mine, made)
        assert not conflicts and merged["planned"] == made["planned"][1 - len(last) :]
    rack = read_setup({**demo("heron"), "changer": None, "setters": [], "tools": [], "probes": [], "routines": []})
    assert "/changer/rack/datum/x" in places(added_changer(rack, "thread-on").document.as_json())


def test_an_entry_that_is_added_comes_in_order_with_its_numbers_planned() -> None:
    heron = read_setup(demo("heron"))
    routine = {
        "kind": "bore",
        "name": "hole",
        "probe": heron.probes[0].name,
        "x": 0.0,
        "y": 12.0,
        "z": 0.0,
        "diameter": 30.0,
    }
    made = added_entry(heron, "/routines", routine | {"before": 3.0})
    marked = {entry["where"] for entry in made.document.as_json()["planned"]}
    assert marked == {
        f"/routines/hole/{field}" for field in ("x", "y", "z", "diameter")
    }  # not what is chosen: `before`
    taught = heron
    for pocket in (3, 7, 5):
        taught = added_entry(taught, "/changer/rack/taught", {"pocket": pocket, "x": 0.0, "y": 0.0, "z": None}).document
    assert [entry["pocket"] for entry in taught.as_json()["changer"]["rack"]["taught"]] == [3, 5, 7]
    assert [entry["where"] for entry in taught.as_json()["planned"]][-2:] == [
        f"/changer/rack/taught/5/{axis}" for axis in "xy"
    ]  # 0 is a place like any other
    for where, entry, named in (
        ("/machine", {}, "There is no list"),
        ("/nowhere", {}, "no such quantity"),
        ("/routines/x/bores", {}, "no such quantity"),
        ("/routines", {"kind": "bore"}, "name"),
        ("/bodies", {"name": ["a"]}, "kind"),
        ("/tools", {"number": {}}, "number"),
        ("/inputs", {"number": 10**400}, "a number of 401 digits"),
        ("/tools/0/holder", {"diameter": 10**400, "length": float("inf")}, "diameter"),
    ):
        with pytest.raises(InputError, match=named):
            added_entry(heron, where, entry)


@pytest.mark.parametrize("pair", [("touch plate", "reference block"), ("on the table", "on the table")])
def test_devices_on_one_input_at_one_height_give_way_as_each_is(pair: tuple[str, str]) -> None:
    made = added_setter(begun("drop-in"), pair[0]).document
    made = added_setter(made, pair[1], made.setters[0].input).document
    document = made.as_json()
    document["setters"][1] |= {"plane_z": document["setters"][0]["plane_z"], "overtravel": 0.1}
    document["setters"][0]["overtravel"] = 2.0
    setup = read_setup(document)
    assert setup.setters[0].input == setup.setters[1].input
    bodies = {body.name: body for laid in setup.setters for body in nominal_world(setup, laid).bodies if body.makes}
    for setter in setup.setters:
        rise = rise_of(setup, setter)
        assert bodies[setter.name].give == pytest.approx(setter.overtravel + rise)
        assert bodies[setter.name].top == pytest.approx(setter.plane_z + rise)
