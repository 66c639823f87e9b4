"""A setter, a probe or a tool added to a Setup, with numbers that go together: each is tried before it is given."""

from bisect import bisect
from dataclasses import dataclass
from itertools import count
from typing import Any, TypeVar

from orthotrope.calc.derived import derive
from orthotrope.calc.space import free_places
from orthotrope.calc.touch_devices import delay_of
from orthotrope.errors import InputError, OrthotropeError
from orthotrope.proof.case import findings_of
from orthotrope.proof.conflicts import conflicts
from orthotrope.proof.exchanges import ExchangeProof
from orthotrope.proof.measuring import measurable, measuring_case
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.keys import KEYS, at, placed
from orthotrope.setup.planned import with_planned
from orthotrope.setup.probes import PROBES, Probe
from orthotrope.setup.setters import SETTERS, NewSetter, Setter
from orthotrope.setup.signals import Input
from orthotrope.setup.templates import changer_template
from orthotrope.setup.tools import Tool, ToolType
from orthotrope.units import MM_PER_INCH
from orthotrope.validation import Record, listed, parts_of

Device = TypeVar("Device", bound=Record)

MOST_TRIED = 12
"""Places of a new setter that are tried."""


LATE = 0.0025
"""mm that a touch of a new probe may be late by, half of what a zero may be off: a size has it twice."""

FEED_STEP = 5.0
"""mm/min; a measuring feed that is worked out is a multiple of it."""


@dataclass(frozen=True, slots=True)
class Added:
    """The ``document`` with something more, its ``name`` there, and what else was made for it, in sentences."""

    document: Setup
    name: str
    says: tuple[str, ...] = ()


def added_setter(setup: Setup, kind: str, number: int | None = None) -> Added:
    """The Setup with a setter of a kind more, at a free place and at the input of this ``number`` (None: one is made for it).

    Raises:
        InputError: where there is no such kind, no such touch input, or no place where every tool can be measured.
    """
    model = SETTERS.find(kind, "/kind")
    base, entry, says = _with_touch_input(setup, model, number)
    names = [other.name for other in setup.setters]
    derived = derive(base)
    taken = {tool.pocket for tool in setup.tools} | {occupant.pocket for occupant in setup.occupants}
    pockets = range(1, setup.changer.pocket_count + 1) if setup.changer else ()
    new = NewSetter(
        machine=base.machine,
        name=_free_name(model.usual_name, names),
        input=entry.number,
        places=tuple(free_places(base, derived)),
        pockets=tuple(pocket for pocket in pockets if pocket not in taken),
        stored_top=derived.ladder.empty_z - setup.changer.margin if derived and setup.changer else None,
    )
    before = {conflict.message for conflict in conflicts(base, derived)}
    why = ""
    for _, template in zip(range(MOST_TRIED), model.templates(new), strict=False):
        setter = _rounded(template, base.machine.unit)
        try:
            made = _with(base, "setters", setter)
            why = _harm(made, setter, before)
        except InputError as bad:
            why = str(bad)
        if not why:
            return Added(made, new.name, says)
    if why:
        raise InputError.at("/kind", f"No place was found where it could stand with the usual numbers. {why}")
    what = (
        "No pocket is free: take a tool out of one" if new.places else "Nothing is free on the table: make room there"
    )
    if new.places and not pockets:
        what = "The machine has no changer with pockets: add one"
    raise InputError.at("/kind", f"{what}, or choose another kind of setter.")


def _harm(setup: Setup, setter: Setter, before: set[str]) -> str:
    """The first thing that would go wrong with a new setter: what contradicts, measuring the longest or shortest tool, an exchange past
    it; "": nothing."""
    new = [
        entry for entry in conflicts(setup, derive(setup)) if entry.message not in before and entry.severity != "note"
    ]
    if new:
        return new[0].message
    tools = sorted(map(setup.tool, measurable(setup)), key=lambda tool: tool.whole_length)
    for tool in () if setter.lies_on else dict.fromkeys(tool.number for tool in (*tools[-1:], *tools[:1])):
        try:
            _, case = measuring_case(setup, setup.profile, "measure", (tool,), setter.name)
        except OrthotropeError as bad:
            return str(bad)
        if found := [f for f in findings_of(case, "run") if f.severity == "stop"]:
            return found[0].message
    if setup.changer:
        proof = ExchangeProof(setup)
        for pair in proof.ways():
            if found := [f for f in findings_of(proof.case_of(*pair), "run") if f.severity == "stop"]:
                return found[0].message
    return ""


def added_probe(setup: Setup, kind: str, tool: int | None = None, number: int | None = None) -> Added:
    """The Setup with a probe of a kind more, in this ``tool`` and at the input of this ``number``; None: one is made for it.

    Raises:
        InputError: where there is no such kind, or the tool or input does not fit it.
    """
    model = PROBES.find(kind, "/kind")
    base, entry, says = _with_touch_input(setup, model, number)
    if tool is None:
        own = model.tool_type or "probe"
        made = _new_tool(setup, own, 6.0, 80.0, 40.0)
        base = _with(base, "tools", made)
        says = (
            *says,
            f"T{made.number} was made for it, of the type {own}. Its length and tip are planned values: enter them.",
        )
        tool = made.number
    found = base.tool(tool)
    if model.tool_type and found.type != model.tool_type:
        raise InputError.at(
            "/tool",
            f"T{tool} is a tool of the type {found.type}; choose one of the type {model.tool_type}, or let one be made.",
        )
    if other := next((probe for probe in setup.probes if probe.tool == tool and probe.tells_itself), None):
        raise InputError.at("/tool", f"T{tool} is {other.name} already; choose another tool, or let one be made.")
    name = _free_name(model.usual_name, [probe.name for probe in setup.probes])
    probe = _steady(base, model.template(name, tool, entry.number))
    return Added(_with(base, "probes", _rounded(probe, base.machine.unit)), name, says)


def _steady(setup: Setup, probe: Probe) -> Probe:
    """The probe with a measuring feed at which a touch is late by so little that no turn of the feed override puts a size off."""
    delay = delay_of(setup, probe)
    most = LATE / delay * 60 if delay > 0 else probe.measure_feed
    if probe.measure_feed <= most:
        return probe
    return probe.model_copy(update={"measure_feed": most // FEED_STEP * FEED_STEP or most})


def touch_input_made(setup: Setup, where: str) -> Added:
    """The Setup with a new input that a touch makes, and the setter or probe at ``where`` (JSON pointer) on it.

    Raises:
        InputError: where there is no setter or probe.
    """
    devices: dict[str, Setter | Probe] = {f"/setters/{n}": device for n, device in enumerate(setup.setters)}
    devices |= {f"/probes/{n}": device for n, device in enumerate(setup.probes)}
    if where not in devices:
        raise InputError.at("/where", "There is no such setter or probe.")
    base, entry, says = _with_touch_input(setup, type(devices[where]), None)
    return Added(read_setup(placed(base.as_json(), f"{where}/input", entry.number)), entry.name, says)


def _with_touch_input(
    setup: Setup, model: type[Setter] | type[Probe], number: int | None
) -> tuple[Setup, Input, tuple[str, ...]]:
    """The Setup with the input of this number, which a touch must make; None: with one more of the role that is usual."""
    if number is not None:
        known = next((entry for entry in setup.inputs if entry.number == number), None)
        if known is None or not known.touches:
            fit = [f"{entry.number} ({entry.name})" for entry in setup.inputs if entry.touches]
            what = (
                f"Input {number} is not there"
                if known is None
                else f"Input {number}, {known.name}, has the role {known.role}, which no touch makes"
            )
            raise InputError.at(
                "/input", f"{what}; choose {listed(fit)}." if fit else f"{what}; let a new one be made."
            )
        return setup, known, ()
    role = model.usual_roles[0]
    free = next(n for n in count(1) if n not in {entry.number for entry in setup.inputs})
    if free > 64:
        raise InputError.at("/input", "All 64 inputs are in use; free one on the Signals stage.")
    terminals = {entry.terminal for entry in setup.inputs}
    entry = Input(
        number=free,
        name=_free_name(role, [entry.name for entry in setup.inputs]),
        role=role,
        terminal=next(f"I{n}" for n in count(free) if f"I{n}" not in terminals),
        wiring="normally open",
        level="low",
    )
    says = f"Input {free}, {entry.name}, was made for it. Enter on the Signals stage how it is wired, and test it."
    return _with(setup, "inputs", entry), entry, (says,)


def added_changer(setup: Setup, style: str) -> Added:
    """The Setup with a changer of a style, in the place of the one that it may have.

    Raises:
        InputError: where there is no such style.
    """
    document = setup.as_json() | {"changer": changer_template(setup, style).model_dump(mode="json")}
    return Added(read_setup(with_planned(document, ("changer",))), style)


def added_tool(setup: Setup) -> Added:
    """The Setup with a tool more, of the next number, in no pocket."""
    made = _new_tool(setup, "flat end mill", 6.0, 60.0, 40.0)
    return Added(_with(setup, "tools", made), f"T{made.number}")


def added_entry(setup: Setup, where: str, entry: dict[str, Any]) -> Added:
    """The Setup with an entry more in the list at this JSON pointer, its numbers marked as planned. It comes last, or in a list that
    is in the order of its numbers, in its place.

    Raises:
        InputError: where the pointer leads to no list, or the entry is not valid.
    """
    document = setup.as_json()
    found = at(document, where)
    if not isinstance(found, list):
        raise InputError.at("/where", f"There is no list at {where}.")
    path = tuple(parts_of(where))
    key = KEYS.get(path[-1], "")
    numbers = [other[key] for other in found if isinstance(other, dict) and isinstance(other.get(key), int)]
    index, number = len(found), entry.get(key)
    if isinstance(number, int) and len(numbers) == len(found) and numbers == sorted(numbers):
        index = bisect(numbers, number)
    made = read_setup(placed(document, where, [*found[:index], entry, *found[index:]]))
    return Added(read_setup(with_planned(made.as_json(), (*_indexed(path), index))), str(entry.get("name", "")))


def _indexed(path: tuple[str, ...]) -> tuple[str | int, ...]:
    """The parts of a pointer with places in lists as numbers."""
    return tuple(int(part) if part.isdigit() else part for part in path)


def _new_tool(setup: Setup, kind: ToolType, diameter: float, length: float, stick_out: float) -> Tool:
    number = max((tool.number for tool in setup.tools), default=0) + 1
    if number > 9999:
        number = next(n for n in count(1) if n not in {tool.number for tool in setup.tools})
    made = Tool(
        number=number,
        name="" if kind != "probe" else "probe",
        type=kind,
        diameter=diameter,
        length=length,
        stick_out=stick_out,
    )
    return _rounded(made, setup.machine.unit)


def _with(setup: Setup, field: str, entry: Input | Tool | Probe | Setter) -> Setup:
    """The Setup with an entry more, whose numbers nobody has entered yet."""
    document = setup.as_json()
    added = document | {field: [*document[field], entry.model_dump(mode="json")]}
    return read_setup(with_planned(added, (field, len(document[field]))))


ROUND_FROM = 2.54
"""mm; what is longer is rounded to whole hundredths of an inch, what is shorter to two digits."""


def _rounded(entry: Device, unit: str) -> Device:
    """What begins with millimetre numbers, in numbers that an inch machine would have: 15 mm is 0.59 in."""
    if unit == "mm":
        return entry
    changed: dict[str, Any] = {}
    for name, field in type(entry).model_fields.items():
        value, extra = getattr(entry, name), field.json_schema_extra
        if isinstance(value, Record):
            changed[name] = _rounded(value, unit)
        elif isinstance(value, float) and isinstance(extra, dict) and extra.get("unit") in ("mm", "mm/min"):
            inches = value / MM_PER_INCH
            whole = extra["unit"] == "mm" and abs(value) >= ROUND_FROM
            changed[name] = (round(inches, 2) if whole else float(f"{inches:.2g}")) * MM_PER_INCH
    return entry.model_copy(update=changed)


def _free_name(name: str, taken: list[str]) -> str:
    return next(other for n in count(1) if (other := name if n == 1 else f"{name} {n}") not in taken)
