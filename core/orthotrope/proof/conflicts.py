"""Where a Setup contradicts itself."""

from collections.abc import Iterator
from dataclasses import dataclass

from orthotrope.calc.derived import DerivedChanger
from orthotrope.calc.derived_machine import crossing
from orthotrope.calc.wiring import InputStatesInput, Level, input_states
from orthotrope.proof.findings import Cure, Severity, mm
from orthotrope.setup import Setup
from orthotrope.setup.changer import Changer
from orthotrope.units import MM_PER_INCH


@dataclass(frozen=True, slots=True)
class Conflict:
    """A sentence, the value it is about (JSON pointer), and one value that would mend it where that is plain."""

    message: str
    where: str
    cure: Cure | None = None
    severity: Severity = "stop"


def conflicts(setup: Setup, derived: DerivedChanger | None) -> Iterator[Conflict]:
    """All contradictions of the Setup: of its signals, then those of the rack."""
    yield from signal_conflicts(setup)
    if setup.changer is None or derived is None:
        return
    yield from _rack(setup, setup.changer, derived)
    yield from _heights(setup, setup.changer, derived)
    yield from _coupling(setup, setup.changer, derived)
    yield from _tools(setup, setup.changer)


def _listed(numbers: list[int]) -> str:
    return f"Pocket {numbers[0]} is" if len(numbers) == 1 else f"Pockets {', '.join(map(str, numbers))} are"


def _rack(setup: Setup, changer: Changer, derived: DerivedChanger) -> Iterator[Conflict]:
    axes = setup.machine.axes
    for name, axis, places in (("X", axes.X, {p.pocket: p.x for p in derived.pockets}),
                               ("Y", axes.Y, {p.pocket: p.y for p in derived.pockets})):  # fmt: skip
        beyond = [pocket for pocket, at in places.items() if not axis.soft_least <= at <= axis.soft_greatest]
        if beyond:
            worst = max((places[p] for p in beyond), key=lambda at: max(axis.soft_least - at, at - axis.soft_greatest))
            yield Conflict(f"{_listed(beyond)} beyond the travel of {name}: {mm(worst)} mm is outside {mm(axis.soft_least)} to "
                           f"{mm(axis.soft_greatest)}. Move the rack, or take pockets off it.",
                           f"/changer/rack/datum/{name.lower()}")  # fmt: skip
    nut = changer.coupling.nut_diameter
    if changer.rack.count > 1 and changer.rack.pitch < nut:
        yield Conflict(f"The pitch, {mm(changer.rack.pitch)} mm, is smaller than the nuts, {mm(nut)} mm; they overlap by "
                       f"{mm(nut - changer.rack.pitch)}.", "/changer/rack/pitch")  # fmt: skip


def _heights(setup: Setup, changer: Changer, derived: DerivedChanger) -> Iterator[Conflict]:
    ladder, z_axis, heights = derived.ladder, setup.machine.axes.Z, changer.heights
    if ladder.couple_z < z_axis.soft_least:
        yield Conflict(f"Couple height, {mm(ladder.couple_z)} mm, is below the travel of Z, {mm(z_axis.soft_least)}; raise the "
                       "rack.",
                       "/changer/heights/touch_z")  # fmt: skip
    if not ladder.carry_possible:
        yield Conflict(f"Carry height, {mm(ladder.carry_z)} mm, is above the top of travel, {mm(z_axis.soft_greatest)}; with "
                       f"{_longest(derived)} the stored top must be {mm(ladder.carry_z - z_axis.soft_greatest)} mm lower, or the "
                       f"tool shorter.", "/changer/heights/stored_top_z")  # fmt: skip
    elif derived.park_z < ladder.carry_z:
        wanted = round(ladder.carry_z, 3)
        yield Conflict(f"Park height, {mm(derived.park_z)} mm, is below carry height, {mm(ladder.carry_z)}.",
                       "/changer/heights/park_z", Cure(f"Set park to {mm(wanted)}", "/changer/heights/park_z", wanted))  # fmt: skip
    if not z_axis.soft_least <= derived.park_z <= z_axis.soft_greatest:
        yield Conflict(f"Park height, {mm(derived.park_z)} mm, is beyond the travel of Z, {mm(z_axis.soft_least)} to "
                       f"{mm(z_axis.soft_greatest)}.", "/changer/heights/park_z")  # fmt: skip
    if ladder.riser > 0:
        yield Conflict(f"{_longest(derived)} does not fit into its pocket: {mm(ladder.riser)} mm are missing below a coupled "
                       f"nose. Raise the rack by as much, or make the room deeper.", "/changer/heights/pocket_depth")  # fmt: skip
    if derived.approach_gap <= 0:
        wanted = changer.coupling.engaged_length + max(2.0, derived.coupling.ramp_distance)
        wanted = round(wanted + 0.5)
        yield Conflict(f"Hover is {mm(heights.hover_gap)} mm above couple and the thread is engaged over "
                       f"{mm(changer.coupling.engaged_length)}; the nose hovers inside the nut.", "/changer/heights/hover_gap",
                       Cure(f"Set the hover gap to {mm(wanted)}", "/changer/heights/hover_gap", float(wanted)))  # fmt: skip


def _longest(derived: DerivedChanger) -> str:
    name = f"T{derived.longest.number}" if derived.longest else "the planned longest tool"
    return f"{name} ({mm(derived.longest_length)} mm long)"


def _coupling(setup: Setup, changer: Changer, derived: DerivedChanger) -> Iterator[Conflict]:
    speed, spindle, where = changer.coupling.speed, setup.machine.spindle, "/changer/coupling/speed"
    if not derived.coupling.speed_allowed:
        cap = changer.coupling.speed_cap
        yield Conflict(f"The coupling speed, {speed:g} rev/min, is above its cap, {cap:g}.", where,
                       Cure(f"Use {cap:g} rev/min", where, cap))  # fmt: skip
    if not spindle.least_speed <= speed <= spindle.greatest_speed:
        yield Conflict(f"The coupling speed, {speed:g} rev/min, is outside the spindle's {spindle.least_speed:g} to "
                       f"{spindle.greatest_speed:g}.", where)  # fmt: skip


def _tools(setup: Setup, changer: Changer) -> Iterator[Conflict]:
    reserved = {entry.pocket: entry.what for entry in changer.reserved}
    seen: dict[int, int] = {}
    neighbours = {tool.pocket: tool for tool in setup.stored()}
    for index, tool in enumerate(setup.tools):
        pocket, where = tool.pocket, f"/tools/{index}"
        if pocket is None:
            continue
        if pocket in reserved:
            yield Conflict(f"T{tool.number} is in pocket {pocket}, where the {reserved[pocket]} stands; give it another.",
                           f"{where}/pocket")  # fmt: skip
        if pocket in seen:
            yield Conflict(f"T{seen[pocket]} and T{tool.number} are both in pocket {pocket}; give one of them another.",
                           f"{where}/pocket")  # fmt: skip
        seen.setdefault(pocket, tool.number)
        if tool.diameter > changer.coupling.hole_diameter:
            yield Conflict(f"T{tool.number} does not pass the hole of nut and pocket: {mm(tool.diameter)} mm in "
                           f"{mm(changer.coupling.hole_diameter)}.", f"{where}/diameter")  # fmt: skip
        over = tool.diameter / 2 + changer.coupling.nut_diameter / 2 - changer.rack.pitch
        for beside in (pocket - 1, pocket + 1):
            if over > 0 and beside in neighbours:
                yield Conflict(f"T{tool.number} in pocket {pocket} reaches {mm(over)} mm over the nut of "
                               f"T{neighbours[beside].number} beside it.", f"{where}/pocket")  # fmt: skip


def signal_conflicts(setup: Setup) -> Iterator[Conflict]:
    """Two signals on one terminal; inputs that nothing tells apart; a sequence's need that no input serves."""
    for field, what in (("inputs", "Input"), ("outputs", "Output")):
        seen: dict[str, str] = {}
        for index, entry in enumerate(getattr(setup, field)):
            if entry.terminal in seen:
                yield Conflict(f"{what}s {seen[entry.terminal]} and {entry.name} are both on terminal {entry.terminal}; give "
                               f"{entry.name} the terminal that it is wired to.", f"/{field}/{index}/terminal")  # fmt: skip
            seen.setdefault(entry.terminal, entry.name)


def margin_advice(setup: Setup) -> Iterator[Conflict]:
    """Axes that do not stop from rapid between soft limit and hard stop."""
    inch = setup.machine.unit == "inch"
    for name, axis in setup.machine.axes.items():
        across = crossing(setup, axis)
        if across and not across.stops_in_margin:
            way = f"{across.stopping / MM_PER_INCH:.2f} in" if inch else f"{across.stopping:.1f} mm"
            yield Conflict(f"{name} at rapid needs {way} to stop, more than its margin: if it runs on at a soft limit, it meets "
                           "the hard stop.", f"/machine/axes/{name}/margin", severity="note")  # fmt: skip


def signal_advice(setup: Setup) -> Iterator[Conflict]:
    """What the signals leave unconfirmed: no contradiction, but worth an input."""
    roles = {entry.role for entry in setup.inputs}
    seen: dict[str, str] = {}
    for index, entry in enumerate(setup.inputs):
        if entry.role in seen and entry.role != "other":
            yield Conflict(f"Inputs {seen[entry.role]} and {entry.name} both have the role {entry.role}; a sequence asks for one. "
                           "Give one of them another role.", f"/inputs/{index}/role", severity="warn")  # fmt: skip
        seen.setdefault(entry.role, entry.name)
        states = input_states(InputStatesInput(role=entry.role, wiring=entry.wiring, level=entry.level))
        if states.reversed:
            other: Level = "low" if entry.level == "high" else "high"
            yield Conflict(f"{entry.name} is reversed by its wiring and level: the control takes it as made while it is idle.",
                           f"/inputs/{index}/level", Cure(f"Take it as made when {other}", f"/inputs/{index}/level", other),
                           "warn")  # fmt: skip
        elif not states.broken_noticed:
            says = states.says[0].lower() + states.says[1:]
            yield Conflict(f"{entry.name}: {says}", f"/inputs/{index}/wiring", severity="note")
    for output, wanted in (("grip", ("grip open", "grip closed")), ("magazine", ("magazine out", "magazine home"))):
        missing = [role for role in wanted if role not in roles]
        if missing and any(entry.role == output for entry in setup.outputs):
            yield Conflict(f"The {output} is switched and no input tells {' or '.join(missing)}: its sequence can only wait a "
                           "fixed time. Add an input of that role.", "/inputs", severity="warn")  # fmt: skip
    if setup.changer and "tool present" not in roles:
        yield Conflict("The record of the tool in the spindle is confirmed by no input: what is there after a stop has to be "
                       "looked at. An input with the role tool present would confirm it.", "/inputs", severity="note")  # fmt: skip
