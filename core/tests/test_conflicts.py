"""Where a Setup contradicts itself: each row finds, and leaves alone what is just within its edge."""

from typing import Any

import pytest
from demo_setup import changed, demo
from orthotrope.calc.derived import derive
from orthotrope.calc.probes import derive_probe
from orthotrope.calc.setters import derive_setter
from orthotrope.proof.conflicts import Conflict, conflicts, margin_advice, signal_advice
from orthotrope.setup import Setup, read_setup
from orthotrope.validation import parts_of

SETUPS = {name: read_setup(demo(name)) for name in ("heron", "plover", "curlew", "godwit", "dunlin", "knot")}
HAIR = 1e-3


def reported(name: str, values: dict[str, Any], where: str, says: str = "") -> list[Conflict]:
    """The contradictions of a changed demo machine at one place."""
    keyed = {"__".join(parts_of(place)): value for place, value in values.items()}
    setup = read_setup(changed(demo(name), **keyed))
    return [c for c in conflicts(setup, derive(setup)) if c.where == where and says in c.message]


def of(name: str) -> Any:
    return SETUPS[name]


def derived(name: str) -> Any:
    return derive(SETUPS[name])


def edges() -> list[tuple[str, str, str, float, float, str]]:
    """(machine, what is changed, where it is reported, the last value that is left alone, the sign of what is too much, what it says)."""
    heron, curlew, plover, godwit, knot, dunlin = (
        of(n) for n in ("heron", "curlew", "plover", "godwit", "knot", "dunlin")
    )
    nut, pitch = heron.changer.coupling.nut_diameter, heron.changer.rack.pitch
    z, ladder = heron.machine.axes.upright, derived("heron").ladder
    stored_top = heron.changer.heights.stored_top_z
    longest, held = derived("heron").longest_length, curlew.changer.grip.holder_diameter
    disc_pitch, holder = derived("plover").storage.pitch, plover.changer.grip.holder_diameter
    nose = plover.machine.spindle.nose_diameter
    x, y = heron.machine.axes["X"], heron.machine.axes["Y"]
    place, reach = curlew.machine.axes["X"].soft_least, curlew.changer.forks.tine_reach
    alone, push = derive_setter(heron, derived("heron"), 0), derive_probe(curlew, 0)
    return [
        ("heron", "/changer/rack/pitch", "/changer/rack/pitch", nut, -1, "they overlap by 0.001"),
        ("heron", "/changer/rack/datum/x", "/changer/rack/datum/x", x.soft_least, -1, "beyond the travel of X"),
        ("heron", "/changer/rack/datum/y", "/changer/rack/datum/y", y.soft_greatest, 1, "beyond the travel of Y"),
        ("heron", "/changer/heights/touch_z", "/changer/heights/touch_z", z.soft_least + heron.changer.heights.recess, -1, ""),
        ("heron", "/changer/heights/stored_top_z", "/changer/heights/stored_top_z", stored_top + z.soft_greatest - ladder.carry_z, 1, ""),
        ("heron", "/changer/heights/park_z", "/changer/heights/park_z", ladder.carry_z, -1, "below carry height"),
        ("heron", "/changer/heights/park_z", "/changer/heights/park_z", z.soft_greatest, 1, "beyond the travel of Z"),
        ("heron", "/changer/heights/pocket_depth", "/changer/heights/pocket_depth", longest, -1, "does not fit"),
        ("heron", "/changer/heights/hover_gap", "/changer/heights/hover_gap", heron.changer.coupling.engaged_length + HAIR, -1, "inside the nut"),
        ("heron", "/changer/coupling/speed", "/changer/coupling/speed", heron.changer.coupling.speed_cap, 1, "above its cap"),
        ("heron", "/changer/coupling/speed", "/changer/coupling/speed", heron.machine.spindle.least_speed, -1, "outside the spindle's"),
        ("heron", "/tools/1/diameter", "/tools/1/diameter", heron.changer.coupling.hole_diameter, 1, "does not pass the hole"),
        ("heron", "/tools/1/shank_above", "/tools/1/shank_above", heron.changer.coupling.bore_depth, 1, "end of the spindle's bore"),
        ("heron", "/tools/1/diameter", "/tools/1/pocket", 2 * (pitch - nut / 2), 1, "reaches 0.001 mm over the nut"),
        ("heron", "/setters/0/overtravel", "/setters/0/search_feed", alone.search.push - alone.search.within + heron.setters[0].overtravel, -1, "more than the overtravel"),
        ("heron", "/setters/0/back_off", "/setters/0/back_off", alone.search.push + HAIR, -1, "does not undo"),
        ("curlew", "/changer/rack/pitch", "/changer/rack/pitch", held, -1, "they overlap by"),
        ("curlew", "/changer/forks/lead_in", "/changer/forks/lead_in", reach + held / 2 + HAIR, -1, "between its tines"),
        ("curlew", "/changer/forks/mouth_deg", "/changer/forks/mouth_deg", -180 + 44.428, -1, "open along their row"),
        ("curlew", "/changer/rack/datum/x", "/changer/rack/datum/x", place, -1, "beyond the travel of X"),
        ("curlew", "/probes/0/overtravel_across", "/probes/0/search_feed", push.search.push, -1, "more than the overtravel"),
        ("curlew", "/probes/0/back_off", "/probes/0/back_off", push.search.push + HAIR, -1, "does not undo"),
        ("dunlin", "/changer/grip/push_out", "/changer/grip/push_out", dunlin.changer.grip.push_out_allowed, 1, "pressed against its seat"),
        ("dunlin", "/changer/heights/hover_gap", "/changer/heights/hover_gap", dunlin.changer.grip.knob_height + HAIR, -1, "not clear of it"),
        ("plover", "/changer/grip/holder_diameter", "/changer/disc/radius", disc_pitch, 1, "they overlap by"),
        ("plover", "/machine/spindle/nose_diameter", "/changer/disc/radius", 2 * disc_pitch - holder, 1, "comes down between"),
        ("plover", "/changer/grip/holder_diameter", "/changer/grip/holder_diameter", 2 * nose, 1, "less than half as wide"),
        ("plover", "/changer/exchange/x", "/changer/exchange/x", plover.machine.axes["X"].soft_least, -1, "exchange place"),
        ("plover", "/tools/1/diameter", "/tools/1/pocket", 2 * (disc_pitch - holder / 2), 1, "over the holder of"),
        ("godwit", "/changer/arm/stroke", "/changer/arm/stroke", godwit.changer.grip.knob_height + HAIR, -1, "does not come out of the taper"),
        ("godwit", "/tools/0/diameter", "/tools/0/diameter", 2 * (derived("godwit").storage.pitch - 63 / 2), 1, "puts it into pocket"),
        ("knot", "/changer/room", "/changer/room", derived("knot").longest_length, -1, "no room below the nose"),
        ("knot", "/changer/z", "/changer/z", knot.machine.axes.upright.soft_greatest, 1, "The loading place"),
    ]  # fmt: skip


@pytest.mark.parametrize("name, what, where, edge, sign, says", edges())
def test_a_row_finds_and_leaves_alone_at_its_edge(
    name: str, what: str, where: str, edge: float, sign: float, says: str
) -> None:
    assert not reported(name, {what: edge}, where, says)
    assert reported(name, {what: edge + sign * HAIR}, where, says)


@pytest.mark.parametrize(
    "name, values, where, says",
    [
        ("heron", {"/inputs/1/terminal": "X1.1"}, "/inputs/1/terminal", "are both on terminal"),
        ("plover", {"/outputs/1/terminal": "Y1.1"}, "/outputs/1/terminal", "are both on terminal"),
        ("heron", {"/tools/2/pocket": 2}, "/tools/2/pocket", "are both in pocket 2"),
        ("heron", {"/tools/2/pocket": 7}, "/tools/2/pocket", "where the setter stands"),
        ("plover", {"/changer/disc/turn_word": "M199"}, "/changer/disc/turn_word", "not among the M words"),
        ("heron", {"/setters/0/plane_feed": 30.0}, "/setters/0/measure_feed", "every length is off by"),
        ("curlew", {"/probes/0/qualified_feed": 30.0}, "/probes/0/measure_feed", "every surface is off by"),
    ],
)
def test_a_row_without_an_edge_finds_and_is_not_reported_of_the_demo(
    name: str, values: dict[str, Any], where: str, says: str
) -> None:
    first = demo(name)[where.split("/")[1]]
    values = {place: first[0]["terminal"] if "terminal" in place else value for place, value in values.items()}
    assert reported(name, values, where, says) and not reported(name, {}, where)


@pytest.mark.parametrize(
    "name, role",
    [("plover", "magazine"), *(("godwit", role) for role in ("pot", "arm swing", "arm stroke", "arm turn"))],
)
def test_every_output_that_a_style_needs_is_asked_for(name: str, role: str) -> None:
    kept = [entry for entry in demo(name)["outputs"] if entry["role"] != role]
    assert len(kept) < len(demo(name)["outputs"]) and not reported(name, {}, "/outputs")
    (missing,) = reported(name, {"/outputs": kept}, "/outputs")
    assert missing.message.startswith(f"No output has the role {role},")


def two(name: str, tools: tuple[int, int], diameter: float) -> list[Conflict]:
    values = {f"/tools/{tool}/diameter": diameter for tool in tools}
    return reported(name, values, f"/tools/{tools[0]}/pocket", "overlap by")


def test_two_large_tools_side_by_side_overlap_where_both_are_at_one_height() -> None:
    pitch = derived("plover").storage.pitch
    assert not two("plover", (1, 2), pitch - HAIR)
    (found,) = two("plover", (1, 2), 95.0)
    assert f"overlap by {(95 - pitch):.3f}".rstrip("0") in found.message and found.severity == "stop"
    assert not two("plover", (1, 3), 95.0)  # a pocket between them
    short, long = of("plover").tools[1].whole_length, of("plover").tools[2].whole_length
    apart = {"/tools/1/stick_out": 20.0, "/tools/2/length": short + 60.0, "/tools/2/stick_out": 20.0}
    values = {"/tools/1/diameter": 95.0, "/tools/2/diameter": 95.0, **apart}
    assert long < short and not reported("plover", values, "/tools/1/pocket", "overlap by")


def test_a_large_tool_that_keeps_its_pocket_is_not_reported_of_where_it_never_comes() -> None:
    big = {"/tools/0/diameter": 140.0}
    (found,) = reported("godwit", big, "/tools/0/diameter", "puts it into pocket")
    assert "T1" in found.message and "overlap by" in found.message
    assert not reported("godwit", {**big, "/changer/arm/tools": "keep their pockets"}, "/tools/0/diameter")


def advice(setup: Setup) -> set[str]:
    return {entry.where for entry in signal_advice(setup)}


def test_advice_of_margins_and_signals_has_its_edge_too() -> None:
    heron = of("heron")
    short = read_setup(changed(demo("heron"), machine__axes__Z__margin=0.001))
    assert any(entry.where == "/machine/axes/Z/margin" for entry in margin_advice(short))
    wide = read_setup(changed(demo("heron"), machine__axes__Z__margin=50.0))
    assert not any(entry.where == "/machine/axes/Z/margin" for entry in margin_advice(wide))
    twice = read_setup(changed(demo("heron"), inputs__1__role=heron.inputs[0].role))
    assert "/inputs/1/role" in advice(twice) and "/inputs/1/role" not in advice(heron)
    level = "low" if heron.inputs[0].level == "high" else "high"
    turned = read_setup(changed(demo("heron"), inputs__0__level=level))
    assert "/inputs/0/level" in advice(turned) and "/inputs/0/level" not in advice(heron)


def test_a_rack_off_the_travel_is_reported_with_its_furthest_pocket() -> None:
    least, pitch = of("heron").machine.axes["X"].soft_least, of("heron").changer.rack.pitch
    (found,) = reported("heron", {"/changer/rack/datum/x": least - pitch - 5}, "/changer/rack/datum/x")
    assert found.message.startswith("Pockets 1, 2 are beyond the travel of X: ")
    assert f"{abs(least - pitch - 5):g} mm is outside" in found.message
