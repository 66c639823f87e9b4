"""Where a Setup contradicts itself: what styles share. A style puts its own together from it, registered in
:data:`CONFLICTS`."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Any

from orthotrope.calc.derived import DerivedChanger, derive
from orthotrope.calc.derived_machine import crossing
from orthotrope.calc.probes import derive_probe
from orthotrope.calc.setters import derive_setter
from orthotrope.calc.touch_devices import DerivedSearch
from orthotrope.calc.wiring import InputStatesInput, Level, input_states
from orthotrope.errors import InputError
from orthotrope.proof.findings import Finding, SetupFix, Severity
from orthotrope.registry import Registry
from orthotrope.sequence.probing import PLANS, tip_of
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.changer import PocketChanger, RackChanger
from orthotrope.setup.disc import DiscChanger
from orthotrope.setup.gripping import Grip
from orthotrope.setup.keys import placed
from orthotrope.setup.machine import AxisName
from orthotrope.setup.probes import Probe
from orthotrope.setup.roles import OUTPUT_ROLES
from orthotrope.setup.touch_device import TouchDevice
from orthotrope.units import feed_with_unit, in_unit, with_unit
from orthotrope.validation import listed


@dataclass(frozen=True, slots=True)
class Conflict:
    """A sentence, the value it is about (JSON pointer), and one value that would fix it where that is plain."""

    message: str
    where: str
    fix: SetupFix | None = None
    severity: Severity = "stop"


CONFLICTS: Registry[Callable[[Setup, Any, Any], Iterator[Conflict]]] = Registry(
    "style of changer", "orthotrope.kinds.*.conflicts"
)
"""Style of changer → its contradictions, from the Setup, the changer and what follows from it."""


def conflicts(setup: Setup, derived: DerivedChanger | None) -> Iterator[Conflict]:
    """All contradictions of the Setup: of its signals, then those of the rack. A fix was tried on a copy: it is gone
    there, and no other one is new."""
    found = list(_contradictions(setup, derived))
    known = {conflict.where for conflict in found}
    for conflict in found:
        if conflict.fix and not _fixes(setup, conflict.fix, conflict.where, known):
            conflict = replace(conflict, fix=None)
        yield conflict


def _fixes(setup: Setup, fix: SetupFix, where: str, known: set[str]) -> bool:
    try:
        changed = read_setup(placed(setup.as_json(), fix.where, fix.value))
    except InputError:
        return False
    left = {conflict.where for conflict in _contradictions(changed, derive(changed))}
    return where not in left and left <= known


def _contradictions(setup: Setup, derived: DerivedChanger | None) -> Iterator[Conflict]:
    yield from signal_conflicts(setup)
    changer = setup.changer
    if changer is not None and derived is not None:
        yield from CONFLICTS[changer.style](setup, changer, derived)
    yield from setter_conflicts(setup, derived)
    yield from probe_conflicts(setup)
    yield from routine_conflicts(setup)


def probe_conflicts(setup: Setup) -> Iterator[Conflict]:
    """Probes that a search pushes too far, that a back-off does not clear, that measure at another feed than they were qualified
    at, or whose input no touch makes."""
    for index, probe in enumerate(setup.probes):
        found, where = derive_probe(setup, index), f"/probes/{index}"
        yield from _search_conflicts(probe, found.search, found.search.within, where)
        if probe.qualified_feed is not None and probe.qualified_feed != probe.measure_feed:
            yield Conflict(
                f"{probe.name}: it was qualified at {feed_with_unit(probe.qualified_feed)} and measures at "
                f"{feed_with_unit(probe.measure_feed)}: every surface is off by {with_unit(abs(found.feed_error))}. Qualify it at "
                "this feed.",
                f"{where}/measure_feed",
                SetupFix(
                    f"Measure at {feed_with_unit(probe.qualified_feed)}", f"{where}/measure_feed", probe.qualified_feed
                ),
                severity="warn",
            )
        yield from touch_input_conflicts(setup, probe, where)
        yield from _of_its_type(setup, probe, where)


def _search_conflicts(device: TouchDevice, search: DerivedSearch, allowed: float, where: str) -> Iterator[Conflict]:
    """A search that pushes a device too far, ``allowed`` being its overtravel (mm), or that its back-off does not undo."""
    fastest, fix = search.fastest, None
    if fastest is not None:
        fix = SetupFix(f"Search at {feed_with_unit(fastest)}", f"{where}/search_feed", fastest)
    if search.push > search.within:
        yield Conflict(
            f"{device.name}: the search at {feed_with_unit(device.search_feed)} pushes it {with_unit(search.push)}, more than "
            f"the overtravel allowed, {with_unit(allowed)}.",
            f"{where}/search_feed",
            fix,
        )
    elif search.push >= device.back_off:
        yield Conflict(
            f"{device.name}: the back-off, {with_unit(device.back_off)}, does not undo what the search pushes it, "
            f"{with_unit(search.push)}; it must be longer.",
            f"{where}/back_off",
            fix,
        )


def _of_its_type(setup: Setup, probe: Probe, where: str) -> Iterator[Conflict]:
    """A probe that is put on a tool of another type: it would be proven as a cutter and as a probe at once."""
    tool = setup.tool(probe.tool)
    if probe.tool_type is None or tool.type == probe.tool_type:
        return
    fit = [other.number for other in setup.tools if other.type == probe.tool_type]
    fix = SetupFix(f"Put it on T{fit[0]}", f"{where}/tool", fit[0]) if fit else None
    yield Conflict(
        f"{probe.name}: T{tool.number} is a tool of the type {tool.type}, not of the type {probe.tool_type}. Choose the tool that "
        "it is in the spindle, or let one be made for it.",
        f"{where}/tool",
        fix,
    )


def touch_input_conflicts(setup: Setup, device: TouchDevice, where: str) -> Iterator[Conflict]:
    """A touch device whose input no touch makes: a dead one would never be noticed."""
    entry = next(entry for entry in setup.inputs if entry.number == device.input)
    if entry.touches:
        return
    roles = device.usual_roles
    fit = sorted((other for other in setup.inputs if other.role in roles), key=lambda other: roles.index(other.role))
    fix = SetupFix(f"Use input {fit[0].number}, {fit[0].name}", f"{where}/input", fit[0].number) if fit else None
    yield Conflict(
        f"{device.name}: its input, {entry.name}, has the role {entry.role}, which no touch makes. Choose one of the role "
        f"{listed(roles)}, or let a new one be made.",
        f"{where}/input",
        fix,
    )


def device_findings(setup: Setup, where: str) -> list[Finding]:
    """What the Setup's contradictions of severity stop say of one setter or probe (JSON pointer ``where``), for the proof of what
    is done with it."""
    found = (*setter_conflicts(setup, derive(setup)), *probe_conflicts(setup))
    return [
        Finding("setup-conflict", conflict.severity, conflict.message, quantity=conflict.where, fix=conflict.fix)
        for conflict in found
        if conflict.severity == "stop" and conflict.where.startswith(f"{where}/")
    ]


def routine_conflicts(setup: Setup) -> Iterator[Conflict]:
    """Routines whose probe can't make them, or whose searches go further than a probe with a dead input would give."""
    for index, routine in enumerate(setup.routines):
        where = f"/routines/{index}"
        try:
            tip = tip_of(setup, routine)
        except InputError as bad:
            yield Conflict(bad.faults[0].what, bad.faults[0].where)
            continue
        if tip is None:
            continue
        upright = any(aim.way[2] for aim in PLANS[routine.kind].aims(routine, tip))
        sideways = any(not aim.way[2] for aim in PLANS[routine.kind].aims(routine, tip))
        gives = [tip.probe.overtravel_up] * upright + [tip.probe.overtravel_across] * sideways
        if routine.beyond > min(gives):
            yield Conflict(
                f"{routine.name}: a search ends {with_unit(routine.beyond)} beyond where the surface is expected, and "
                f"{tip.probe.name} gives {with_unit(min(gives))}: with a dead input it would break.",
                f"{where}/beyond",
                SetupFix(f"End it {with_unit(min(gives))} beyond", f"{where}/beyond", min(gives)),
            )


def setter_conflicts(setup: Setup, derived: DerivedChanger | None) -> Iterator[Conflict]:
    """Setters that a search pushes too far, that a back-off does not clear, that are out of reach, or that no tool
    fits."""
    for index, setter in enumerate(setup.setters):
        found, where = derive_setter(setup, derived, index), f"/setters/{index}"
        yield from _search_conflicts(setter, found.search, setter.overtravel, where)
        if setter.plane_feed is not None and setter.plane_feed != setter.measure_feed:
            late = abs(setter.measure_feed - setter.plane_feed) / 60 * found.search.delay
            yield Conflict(
                f"{setter.name}: the plane was calibrated at {feed_with_unit(setter.plane_feed)} and tools are measured at "
                f"{feed_with_unit(setter.measure_feed)}: every length is off by {with_unit(late)}. Calibrate it at this feed.",
                f"{where}/measure_feed",
                SetupFix(f"Measure at {feed_with_unit(setter.plane_feed)}", f"{where}/measure_feed", setter.plane_feed),
                severity="warn",
            )
        yield from touch_input_conflicts(setup, setter, where)
        if found.place is not None:
            places: dict[AxisName, float] = {"X": found.place[0], "Y": found.place[1]}
            yield from off_the_travel(setup, places, setter.name, where)
        for tool in found.tools:
            if not tool.fits:
                yield Conflict(f"{setter.name}: {tool.says}", f"{where}/plane_z", severity="warn")


def off_the_travel(setup: Setup, places: dict[AxisName, float], what: str, where: str) -> Iterator[Conflict]:
    """A place that the axes can't go to; ``where`` its coordinates stand."""
    for name, value in places.items():
        axis = setup.machine.axes[name]
        if not axis.soft_least <= value <= axis.soft_greatest:
            yield Conflict(
                f"{what} is beyond the travel of {name}: {with_unit(value)} is outside {in_unit(axis.soft_least)} to "
                f"{in_unit(axis.soft_greatest)}.",
                f"{where}/{name.lower()}",
            )


def _listed(numbers: list[int]) -> str:
    return f"Pocket {numbers[0]} is" if len(numbers) == 1 else f"Pockets {', '.join(map(str, numbers))} are"


def rack_conflicts(setup: Setup, changer: RackChanger, derived: DerivedChanger) -> Iterator[Conflict]:
    """Pockets beyond the travel, or nearer together than what stands in them is wide."""
    plan = ({p.pocket: p.x for p in derived.pockets}, {p.pocket: p.y for p in derived.pockets})
    for (letter, axis), places in zip(setup.machine.axes.items(), plan, strict=False):
        beyond = [pocket for pocket, at in places.items() if not axis.soft_least <= at <= axis.soft_greatest]
        if beyond:
            worst = max((places[p] for p in beyond), key=lambda at: max(axis.soft_least - at, at - axis.soft_greatest))
            yield Conflict(
                f"{_listed(beyond)} beyond the travel of {letter}: {with_unit(worst)} is outside "
                f"{in_unit(axis.soft_least)} to "
                f"{in_unit(axis.soft_greatest)}. Move the rack, or take pockets off it.",
                f"/changer/rack/datum/{letter.lower()}",
            )
    near = derived.storage
    assert near is not None
    rows = (("pitch", "pitch", changer.rack.count), ("row pitch", "row_pitch", changer.rack.rows))
    for name, key, count in rows:
        value = getattr(changer.rack, key)
        if count > 1 and value < near.diameter:
            yield Conflict(
                f"The {name}, {with_unit(value)}, is smaller than the {near.what}s, {with_unit(near.diameter)}; they "
                "overlap "
                f"by {in_unit(near.diameter - value)}.",
                f"/changer/rack/{key}",
            )


def height_conflicts(
    setup: Setup, changer: PocketChanger, derived: DerivedChanger, over: bool = True
) -> Iterator[Conflict]:
    """Heights beyond the travel or out of their order; ``over``: whether what is carried goes over what is stored."""
    ladder, z_axis = derived.ladder, setup.machine.axes.upright
    if ladder.couple_z < z_axis.soft_least:
        yield Conflict(
            f"Couple height, {with_unit(ladder.couple_z)}, is below the travel of Z, {in_unit(z_axis.soft_least)}; "
            "raise the "
            "rack.",
            "/changer/heights/touch_z",
        )
    if over and not ladder.carry_possible:
        yield Conflict(
            f"Carry height, {with_unit(ladder.carry_z)}, is above the top of travel, {in_unit(z_axis.soft_greatest)}; "
            "with "
            f"{longest_named(derived)} the stored top must be {with_unit(ladder.carry_z - z_axis.soft_greatest)} "
            "lower, or the "
            f"tool shorter.",
            "/changer/heights/stored_top_z",
        )
    elif over and derived.park_z < ladder.carry_z:
        wanted = round(ladder.carry_z, 3)
        yield Conflict(
            f"Park height, {with_unit(derived.park_z)}, is below carry height, {in_unit(ladder.carry_z)}.",
            "/changer/heights/park_z",
            SetupFix(f"Set park to {in_unit(wanted)}", "/changer/heights/park_z", wanted),
        )
    if not z_axis.soft_least <= derived.park_z <= z_axis.soft_greatest:
        yield Conflict(
            f"Park height, {with_unit(derived.park_z)}, is beyond the travel of Z, {in_unit(z_axis.soft_least)} to "
            f"{in_unit(z_axis.soft_greatest)}.",
            "/changer/heights/park_z",
        )
    if ladder.riser > 0:
        yield Conflict(
            f"{longest_named(derived)} does not fit into its pocket: it is {with_unit(ladder.riser)} too shallow below a "
            "coupled "
            f"nose. Raise the rack by as much, or make the room deeper.",
            "/changer/heights/pocket_depth",
        )


def knob_conflicts(changer: PocketChanger, derived: DerivedChanger, grip: Grip) -> Iterator[Conflict]:
    """The spindle hovers with the knob of the stored holder still in it."""
    if derived.approach_gap <= 0:
        wanted = round(grip.knob_height + 5.0)
        yield Conflict(
            f"Hover is {with_unit(changer.heights.hover_gap)} above couple and the knob stands "
            f"{with_unit(grip.knob_height)} above the gauge line; the spindle is not clear of it.",
            "/changer/heights/hover_gap",
            SetupFix(f"Set the hover gap to {in_unit(wanted)}", "/changer/heights/hover_gap", float(wanted)),
        )


def gripped_conflicts(
    setup: Setup, changer: PocketChanger, derived: DerivedChanger, grip: Grip, over: bool = True
) -> Iterator[Conflict]:
    """Of the heights and the grip, where a drawbar grips what is stored; ``over``: whether tools are carried over
    it."""
    yield from height_conflicts(setup, changer, derived, over=over)
    yield from knob_conflicts(changer, derived, grip)
    yield from grip_conflicts(setup, grip)


def longest_named(derived: DerivedChanger) -> str:
    """The longest tool, in words."""
    name = f"T{derived.longest.number}" if derived.longest else "the planned longest tool"
    return f"{name} ({with_unit(derived.longest_length)} long)"


def disc_conflicts(setup: Setup, changer: DiscChanger, derived: DerivedChanger) -> Iterator[Conflict]:
    """The exchange place beyond the travel, holders that overlap, a word that the control does not have."""
    place, disc, near = changer.exchange, changer.disc, derived.storage
    assert near is not None
    yield from off_the_travel(setup, {"X": place.x, "Y": place.y}, "The exchange place", "/changer/exchange")
    if near.pitch < near.diameter:
        yield Conflict(
            f"The pockets of the disc are {with_unit(near.pitch)} apart and the holders {with_unit(near.diameter)} "
            f"wide; they overlap by {in_unit(near.diameter - near.pitch)}.",
            "/changer/disc/radius",
        )
    word = int(float(disc.turn_word[1:]))
    if disc.turn_word[0] != "M" or word not in setup.profile.m_words:
        yield Conflict(
            f"The word that turns the disc, {disc.turn_word}, is not among the M words of the control profile.",
            "/changer/disc/turn_word",
        )


def outputs_missing(setup: Setup, needed: dict[str, str]) -> Iterator[Conflict]:
    """Roles of outputs without which the style can't work, with what each does."""
    for role, does in needed.items():
        if setup.output_of(role) is None:
            yield Conflict(f"No output has the role {role}, which {does}; add it on the Signals stage.", "/outputs")


def grip_conflicts(setup: Setup, grip: Grip) -> Iterator[Conflict]:
    """A grip that pushes too far, or that does not fit the nose."""
    if grip.push_out > grip.push_out_allowed:
        yield Conflict(
            f"Opening pushes the tool {with_unit(grip.push_out)} out and the pocket allows "
            f"{in_unit(grip.push_out_allowed)}: it "
            "would be pressed against its seat. Raise the couple height, or make the pocket give.",
            "/changer/grip/push_out",
        )
    if setup.machine.spindle.nose_diameter < 0.5 * grip.holder_diameter:
        yield Conflict(
            "The nose is less than half as wide as the holders; look at both diameters.",
            "/changer/grip/holder_diameter",
        )


def signal_conflicts(setup: Setup) -> Iterator[Conflict]:
    """Two signals on one terminal; inputs that nothing tells apart; a sequence's need that no input serves."""
    for field, what in (("inputs", "Input"), ("outputs", "Output")):
        seen: dict[str, str] = {}
        for index, entry in enumerate(getattr(setup, field)):
            if entry.terminal in seen:
                yield Conflict(
                    f"{what}s {seen[entry.terminal]} and {entry.name} are both on terminal {entry.terminal}; give "
                    f"{entry.name} the terminal that it is wired to.",
                    f"/{field}/{index}/terminal",
                )
            seen.setdefault(entry.terminal, entry.name)


def margin_advice(setup: Setup) -> Iterator[Conflict]:
    """Axes that do not stop from rapid between soft limit and hard stop."""
    for name, axis in setup.machine.axes.items():
        across = crossing(setup, axis)
        if across and not across.stops_in_margin:
            yield Conflict(
                f"{name} at rapid needs {with_unit(across.stopping)} to stop, more than its margin: if it runs on at a "
                "soft limit, it meets "
                "the hard stop.",
                f"/machine/axes/{name}/margin",
                severity="note",
            )


def signal_advice(setup: Setup) -> Iterator[Conflict]:
    """What the signals leave unconfirmed: no contradiction, but worth an input."""
    roles = {entry.role for entry in setup.inputs}
    seen: dict[str, str] = {}
    for index, entry in enumerate(setup.inputs):
        if entry.role in seen and entry.role != "other":
            yield Conflict(
                f"Inputs {seen[entry.role]} and {entry.name} both have the role {entry.role}; a sequence asks for one. "
                "Give one of them another role.",
                f"/inputs/{index}/role",
                severity="warn",
            )
        seen.setdefault(entry.role, entry.name)
        states = input_states(InputStatesInput(role=entry.role, wiring=entry.wiring, level=entry.level))
        if states.reversed:
            other: Level = "low" if entry.level == "high" else "high"
            yield Conflict(
                f"{entry.name} is reversed by its wiring and level: the control takes it as made while it is idle.",
                f"/inputs/{index}/level",
                SetupFix(f"Take it as made when {other}", f"/inputs/{index}/level", other),
                "warn",
            )
        elif not states.broken_noticed:
            says = states.says[0].lower() + states.says[1:]
            yield Conflict(f"{entry.name}: {says}", f"/inputs/{index}/wiring", severity="note")
    for name in dict.fromkeys(entry.role for entry in setup.outputs):
        missing = [role for role in OUTPUT_ROLES[name].detected_by if role not in roles]
        if missing:
            yield Conflict(
                f"The {name} is switched and no input shows {' or '.join(missing)}: its sequence can only wait a "
                "fixed time. Add an input of that role.",
                "/inputs",
                severity="warn",
            )
    if setup.changer and "tool present" not in roles:
        yield Conflict(
            "The record of the tool in the spindle is confirmed by no input: what is there after a stop has to be "
            "looked at. An input with the role tool present would confirm it.",
            "/inputs",
            severity="note",
        )
