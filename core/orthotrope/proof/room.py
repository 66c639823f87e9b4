"""How wrong each quantity of a Setup may be before something of its proof fails.

The texts are written from the Setup as it is, and run where one quantity is really another: by ever more, first one way and then the
other, until a sequence does harm or is not completed any more; then the limit is halved down to. What the texts and the control believe
(records, work offsets, margins and heights that were chosen) stays; a quantity that nothing real depends on has no room to be reported."""

import json
import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, NamedTuple

from pydantic import TypeAdapter

from orthotrope.errors import OrthotropeError
from orthotrope.machine.world import World
from orthotrope.proof.case import Case
from orthotrope.proof.completing import completed
from orthotrope.proof.fault_runs import SharedRun
from orthotrope.proof.findings import Finding
from orthotrope.proof.judging import judge
from orthotrope.proof.sequences.registry import SEQUENCE, SEQUENCES, AnySequence, SequenceRef, kind_of
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.keys import KEYS, at, keyed, numbers_in, placed
from orthotrope.setup.quantities import quantity_at
from orthotrope.units import shown_in, with_unit
from orthotrope.validation import parts_of, unit_at


@dataclass(frozen=True, slots=True)
class Span:
    """The ``first`` error that is tried and the ``last``, in the quantity's unit or, where it is ``of_value``, as a part of its value;
    ``fine``: how closely the limit is found."""

    first: float
    last: float
    fine: float
    of_value: bool = False

    def scale(self, value: float) -> float:
        """By what they are multiplied for a quantity of this value."""
        return abs(value) if self.of_value else 1.0


SPANS = {
    "mm": Span(0.05, 50.0, 0.01),
    "°": Span(0.05, 20.0, 0.01),
    "s": Span(0.05, 20.0, 0.01),
    "mm/s²": Span(0.05, 0.8, 0.01, of_value=True),
    "rev/min": Span(0.05, 0.8, 0.01, of_value=True),
}
"""By the unit of a quantity; those of other units are commanded, and nothing real depends on them."""

CHOSEN = frozenset({"wear", "readout_x", "readout_y", "readout_z", "resolution", "placing_tolerance", "lift_allowed"})
"""Names of quantities that are no measure of anything that stands there: what follows a length, what is chosen, what is allowed."""

RESULTS = frozenset({"offset-off"})
"""Checks of what a measured value comes to: it follows a wrong one step by step, and has no limit of its own."""

TIMES = 10.0
"""By what an error that nothing fails at is multiplied to be tried next."""

FINE = 0.01
"""A limit is found to this part of it, if that is coarser."""


@dataclass(frozen=True, slots=True)
class Limit:
    """How far a quantity may be off one way: ``by`` so much (in its unit) nothing fails. Then ``check`` tells what does, in words
    ``says``, of which ``sequence``, where in its text and when; ``fails``: whether it does, else no more than ``by`` was tried, or can be."""

    by: float
    fails: bool = False
    sequence: AnySequence | None = None
    check: str | None = None
    says: str = ""
    line: int | None = None
    at_seconds: float | None = None


@dataclass(frozen=True, slots=True)
class Room:
    """The room of one quantity: its place in the Setup (``where``, a JSON pointer; ``key``: the same with entries of lists by their
    key), its value and unit, and how much ``less`` and ``more`` it may really be."""

    where: str
    key: str
    value: float
    unit: str
    less: Limit
    more: Limit

    @property
    def tightest(self) -> float:
        """The smaller limit, infinite where nothing fails either way."""
        return min((limit.by for limit in (self.less, self.more) if limit.fails), default=math.inf)


ROOM: TypeAdapter[Room] = TypeAdapter(Room)


def quantities(setup: Setup) -> list[str]:
    """The places of all numbers of a Setup that something real can depend on."""
    numbers = (where for where, value in numbers_in(setup.as_json()) if isinstance(value, float))
    every = (where for where in numbers if where.rpartition("/")[2] not in CHOSEN)
    return [where for where in every if unit_at(Setup, where) in SPANS]


class Cases:
    """The cases of a Setup's sequences where all goes as it should, made when they are asked for."""

    def __init__(self, setup: Setup):
        self.setup = setup
        self._of_kind: dict[str, Callable[[Any], Case | None]] = {}

    def of(self, sequence: SequenceRef) -> Case | None:
        """The case of a sequence; None: there is no text for it (the proof tells why), or each touch has its own."""
        try:
            if sequence.kind not in self._of_kind:
                self._of_kind[sequence.kind] = kind_of(sequence).cases(self.setup)
            return self._of_kind[sequence.kind](sequence)
        except OrthotropeError:
            return None


@dataclass(frozen=True, slots=True)
class _Tried:
    """A sequence that is safe and completed where all is as the Setup says; ``asked``: what of the world it depends on."""

    sequence: SequenceRef
    case: Case
    dependencies: frozenset[str]


class AssumedAndTrue(NamedTuple):
    """A sequence as it is ``believed`` and as it is in a world that is ``really`` another; ``fails``: what fails there."""

    believed: Case
    really: Case
    fails: Limit | None


class Rooms:
    """The rooms of one Setup's quantities. Each sequence is read once: each tool is fetched and put away once, measured, and each
    routine is made."""

    def __init__(self, setup: Setup):
        self.setup, self.document = setup, setup.as_json()
        cases = Cases(setup)
        once = [ref for kind in SEQUENCES.values() for ref in kind.once(setup)]
        self.tried = [tried for sequence in once if (tried := _tried(sequence, cases.of(sequence))) is not None]

    def of(self, where: str) -> Room | None:
        """The room of the quantity at a place; None: nothing real depends on it."""
        value: float = at(self.document, where)
        unit = unit_at(Setup, where)
        span = SPANS[unit]
        tried = [entry for entry in self.tried if self._concerns(where, entry)]
        if not self._is_real(where, value, span, tried):
            return None
        less, more = (self._limit(where, value, span, sign, tried) for sign in (-1, 1))
        return Room(where, keyed(self.document, where), value, unit, less, more)

    def really(self, where: str, value: Any) -> list["AssumedAndTrue"] | None:
        """What becomes of the sequences that depend on a quantity where it is really ``value``: none where nothing real depends on it;
        None: it can't be that."""
        changed = self._changed(where, value)
        tried = [entry for entry in self.tried if self._concerns(where, entry)]
        cases = None if changed is None else self._again(changed, tried)
        if cases is None:
            return None
        return [AssumedAndTrue(entry.case, case, _fails(entry.sequence, case)) for entry, case in cases]

    def _concerns(self, where: str, tried: _Tried) -> bool:
        """Whether a sequence can depend on a quantity: on a tool only where it is in the spindle or comes near its pocket."""
        section, *rest = parts_of(where)
        kind = kind_of(tried.sequence)
        index = int(rest[0]) if rest and rest[0].isdigit() else 0
        if not kind.concerns(self.setup, tried.sequence, section, index):
            return False
        if section != "tools":
            return True
        tool = self.setup.tools[index]
        held = {*kind.tools(tried.sequence), tried.case.call.from_tool}
        return tool.number in held or not tried.dependencies.isdisjoint({"stored", f"pocket {tool.pocket}"})

    def _is_real(self, where: str, value: float, span: Span, tried: list[_Tried]) -> bool:
        """Whether anything is another where the quantity really is; one that can't be another is not."""
        for sign in (1, -1):
            changed = self._changed(where, value + sign * span.scale(value) * span.first)
            cases = None if changed is None else self._again(changed, tried)
            if cases is not None:
                return bool(cases)
        return False

    def _changed(self, where: str, value: Any) -> Setup | None:
        """The Setup with another value; None: it can't be that."""
        try:
            return read_setup(placed(self.document, where, value))
        except OrthotropeError:
            return None

    def _again(self, changed: Setup, tried: list[_Tried]) -> list[tuple[_Tried, Case]] | None:
        """The sequences for which a really changed Setup is another world, with their cases in it; None: there is none such."""
        try:
            world = nominal_world(changed)
            worlds = [(entry, self._in(changed, world, entry)) for entry in tried]
        except OrthotropeError:
            return None
        return [
            (entry, case)
            for entry, case in worlds
            if case.routine != entry.case.routine or case.world != entry.case.world
        ]

    def _in(self, changed: Setup, world: World, entry: _Tried) -> Case:
        routine = entry.case.routine
        if there := kind_of(entry.sequence).there(changed, entry.sequence):
            world, routine = there.world, there.routine
        return replace(entry.case, world=as_it_is(entry.case.world, world), routine=routine, _runs={})

    def _limit(self, where: str, value: float, span: Span, sign: int, tried: list[_Tried]) -> Limit:
        scale = span.scale(value)
        passed, error, last = 0.0, span.first * scale, span.last * scale
        failing = self._failing(where, value, sign * error, tried)
        while failing == [] and error < last:
            passed, error = error, min(error * TIMES, last)
            failing = self._failing(where, value, sign * error, tried)
        if failing == []:
            return Limit(error)
        found = None
        while True:
            if failing:  # those that fail there are tried first from now on, and alone
                found, tried = failing[0][1], [entry for entry, _ in failing]
            if error - passed <= max(span.fine * scale, FINE * error):
                return replace(found, by=passed) if found else Limit(passed)
            middle = (passed + error) / 2
            failing = self._failing(where, value, sign * middle, tried)
            if failing == []:
                passed = middle
            else:
                error = middle

    def _failing(self, where: str, value: float, by: float, tried: list[_Tried]) -> list[tuple[_Tried, Limit]] | None:
        """The sequences that fail where the quantity really is off ``by`` so much, each with what fails; None: it can't be."""
        changed = self._changed(where, value + by)
        cases = None if changed is None else self._again(changed, tried)
        if cases is None:
            return None
        limits = ((entry, _fails(entry.sequence, case)) for entry, case in cases)
        return [(entry, limit) for entry, limit in limits if limit]


def _tried(sequence: SequenceRef, case: Case | None) -> _Tried | None:
    """One whose limits can be stated: it is safe and completed where all is as the Setup says."""
    if case is None or not case.program.readable:
        return None
    shared = SharedRun(case)
    if case.main.endless or _fails(sequence, case):
        return None
    return _Tried(sequence, case, frozenset(shared.run.machine.journal.dependencies))


def as_it_is(believed: World, real: World) -> World:
    """A world that is really another than the text and the control believe: what they were given stays as they assume it."""
    magazine, known = real.magazine, believed.magazine
    if magazine and known:
        magazine = replace(
            magazine, margin=known.margin, hover_z=known.hover_z, park_z=known.park_z, recorded=known.recorded
        )
    tools = {number: replace(tool, recorded=believed.tools[number].recorded) for number, tool in real.tools.items()}
    return replace(real, tools=tools, magazine=magazine, work_offsets=believed.work_offsets)


def _fails(sequence: SequenceRef, case: Case) -> Limit | None:
    """What fails in a case; None: nothing, it is completed without harm."""
    found = judge(case, "none", None)
    reported = found.finding
    off = reported is not None and reported.check in RESULTS
    if (found.verdict == "safe" or off) and completed(case):
        return None
    return Limit(
        0.0,
        True,
        sequence,
        reported.check if reported else None,
        found.says,
        reported.line if reported else None,
        reported.at_seconds if reported else case.main.trace.seconds,
    )


def rooms_of(document: dict[str, Any], wheres: list[str]) -> list[dict[str, Any]]:
    """The rooms of these quantities, as plain values: what a process of a pool is given and returns."""
    rooms = _rooms(json.dumps(document))
    with shown_in(rooms.setup.machine.unit):
        return [ROOM.dump_python(room, mode="json") for where in wheres if (room := rooms.of(where))]


@lru_cache(1)
def _rooms(document: str) -> Rooms:
    """A process gets many parts of one Setup, one after the other."""
    return Rooms(read_setup(document.encode()))


def closest_of(document: dict[str, Any], wanted: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """What each of these sequences passes closest (None: nothing that it comes near), as plain values."""
    setup = read_setup(document)
    cases = Cases(setup)
    found = [(sequence, cases.of(sequence)) for sequence in map(SEQUENCE.validate_python, wanted)]
    return [
        {
            "sequence": sequence.model_dump(mode="json"),
            "closest": case.closest.as_json() if case.closest else None,
        }
        for sequence, case in found
        if case is not None and case.program.readable
    ]


def known_of(setup: Setup) -> dict[str, float]:
    """What the Setup itself says of how well some of its quantities are known: half widths (mm) by JSON pointer. A tool's length may
    be off by its wear, or by the scatter of its collar."""
    places = {tool.number: index for index, tool in enumerate(setup.tools)}
    known: dict[str, float] = {}
    for index, tool in enumerate(setup.tools):
        known[f"/tools/{index}/length"] = max(tool.greatest_wear or 0.0, tool.collar_scatter or 0.0)
    for index, setter in enumerate(setup.setters):
        known[f"/setters/{index}/plane_z"] = setter.repeatability
    for index, probe in enumerate(setup.probes):
        known[f"/probes/{index}/effective_diameter"] = probe.effective_uncertainty
        if probe.tool in places:
            where = f"/tools/{places[probe.tool]}/length"
            known[where] = max(known[where], probe.length_uncertainty)
    return {where: half for where, half in known.items() if half > 0}


def too_tight(setup: Setup, rooms: list[Room], known: dict[str, float]) -> list[Finding]:
    """Quantities that may be further off than they have room: ``known`` to a half width, by JSON pointer."""
    found = []
    for room in rooms:
        half = known.get(room.where, 0.0)
        limit = min((room.less, room.more), key=lambda one: one.by if one.fails else math.inf)
        if limit.fails and half > limit.by:
            way = "less" if limit is room.less else "more"
            message = (
                f"{in_words(room.key)} is known to ± {_shown(half, room.unit)} and has room for {_shown(limit.by, room.unit)} {way}. {limit.says} "
                "Measure it more closely, or make room."
            )
            found.append(Finding("room", "warn", message, limit.line, limit.at_seconds, quantity=room.where))
    return found


def in_words(key: str) -> str:
    """The name of a quantity as a person reads it: "T2, length", "Pitch", "touch probe, search feed"."""
    section, *rest = (part.replace("_", " ") for part in parts_of(key))
    known = quantity_at(key)
    if known is None:
        said = ", ".join([f"T{rest[0]}", *rest[1:]] if section == "tools" and rest else [section, *rest])
        return said[0].upper() + said[1:]
    entry = (
        f"T{rest[0]}" if section == "tools" else rest[1] if rest[:1] == ["axes"] else rest[0] if section in KEYS else ""
    )
    return f"{entry}, {known.name[0].lower()}{known.name[1:]}" if entry else known.name


def _shown(value: float, unit: str) -> str:
    return with_unit(round(value, 3)) if unit == "mm" else f"{value:.3g} {unit}"


def tightest_first(rooms: Iterable[Room]) -> list[Room]:
    """Rooms in the order of how little it takes for something to fail, as a part of what is tried of their unit; those at which
    nothing fails last."""

    def order(room: Room) -> tuple[float, str]:
        span = SPANS[room.unit]
        return room.tightest / (span.last * span.scale(room.value) or 1.0), room.where

    return sorted(rooms, key=order)
