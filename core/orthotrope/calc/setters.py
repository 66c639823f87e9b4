"""What follows from a tool setter: where it is, how far a touch pushes it, and how fast a search may be."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from orthotrope.calc.derived import Derivation, DerivedChanger, Term
from orthotrope.calc.touch_devices import (
    DerivedSearch,
    delay_of,
    fastest_search,
    measuring_beyond,
    pushed,
    rise_of,
    search_derivations,
)
from orthotrope.errors import InputError
from orthotrope.registry import Registry
from orthotrope.setup import Setup
from orthotrope.setup.setters import Setter
from orthotrope.setup.tools import Tool
from orthotrope.units import with_unit

PLACES: Registry[Callable[[Any, DerivedChanger | None], tuple[float, float] | None]] = Registry(
    "kind of setter", "orthotrope.kinds.*.place"
)
"""Kind of setter → where it is: machine X, Y, mm; None where that does not follow from the Setup."""


@dataclass(frozen=True, slots=True)
class ToolAtSetter:
    """A tool at a setter: machine Z at which its search begins and ends, whether the travel has room for that, and the
    seconds of its touches with its length known, and not known (from where the longest begins)."""

    number: int
    begin_z: float
    end_z: float
    fits: bool
    seconds: float
    seconds_unknown: float
    says: str


@dataclass(frozen=True, slots=True)
class DerivedSetter:
    """What follows from a setter. ``place``: machine X, Y; ``contact_z``: machine Z of a tip at its first contact;
    ``beyond``: how far beyond its back-off a measuring touch ends; mm."""

    setter: Setter
    index: int
    place: tuple[float, float] | None
    search: DerivedSearch
    contact_z: float
    beyond: float
    tools: tuple[ToolAtSetter, ...]
    workings: dict[str, Derivation]


def derive_setter(setup: Setup, derived: DerivedChanger | None, index: int) -> DerivedSetter:
    """All that follows from the setter of this index."""
    setter, upright = setup.setters[index], setup.machine.axes.upright
    delay, rise = delay_of(setup, setter), rise_of(setup, setter)
    search = DerivedSearch(
        delay,
        pushed(setter, setter.search_feed, delay, upright.acceleration),
        setter.overtravel + rise,
        fastest_search(setter, setter.overtravel, delay, upright.acceleration, upright.rapid),
    )
    beyond = measuring_beyond(setter, setter.overtravel, delay, upright.acceleration)
    longest = max((tool.whole_length for tool in setup.measured()), default=0.0)
    tools = tuple(tool_at(setup, setter, tool, longest) for tool in setup.measured())
    place = PLACES[setter.kind](setter, derived)
    return DerivedSetter(
        setter,
        index,
        place,
        search,
        setter.plane_z + rise,
        beyond,
        tools,
        search_derivations(
            setter,
            f"/setters/{index}",
            search,
            Term("Z acceleration", upright.acceleration, "mm/s²", "/machine/axes/Z/acceleration"),
            ("plane height", "calibrating"),
            (Term("overtravel allowed", setter.overtravel, "mm", f"/setters/{index}/overtravel"),),
        ),
    )


def tool_at(setup: Setup, setter: Setter, tool: Tool, longest: float) -> ToolAtSetter:
    """A tool's search: it begins its margin above its expected trigger, and ends the overtravel allowed below it, so
    that a dead input can't drive it further into the setter."""
    upright = setup.machine.axes.upright
    trigger = setter.plane_z + tool.whole_length
    begin, end = trigger + setter.margin, trigger - setter.overtravel
    counted = setter.touches * 60 * (setter.back_off / setter.measure_feed + setter.back_off / upright.rapid)
    says = ""
    if begin > upright.soft_greatest:
        over = begin - upright.soft_greatest
        says = (
            f"T{tool.number} is {with_unit(over)} too long for this setter: its search would begin above the top of "
            f"travel. A setter lower by as much, or a smaller margin, would do."
        )
    elif end < upright.soft_least:
        says = (
            f"T{tool.number} is {with_unit(upright.soft_least - end)} too short for this setter: its search would end "
            f"below the travel. A setter higher by as much would do."
        )
    return ToolAtSetter(
        tool.number,
        begin,
        end,
        not says,
        60 * setter.margin / setter.search_feed + counted,
        60 * (setter.margin + longest - tool.whole_length) / setter.search_feed + counted,
        says,
    )


def measuring_setter(setup: Setup, derived: DerivedChanger | None) -> DerivedSetter | None:
    """The setter at which tools are measured: the first that stays where it is, and has a place; None: there is none."""
    found = (derive_setter(setup, derived, n) for n, setter in enumerate(setup.setters) if not setter.lies_on)
    return next((entry for entry in found if entry.place), None)


def setter_for(
    setup: Setup, derived: DerivedChanger | None, name: str | None = None, laid: bool = False
) -> DerivedSetter:
    """The setter of this name, or the first that has a place; with ``laid`` a plate that is laid on a part.

    Raises:
        InputError: where there is none, or its place is not known.
    """
    what = "touch plate" if laid else "setter"
    found = [derive_setter(setup, derived, index) for index in range(len(setup.setters))]
    found = [entry for entry in found if bool(entry.setter.lies_on) is laid]
    if not found:
        raise InputError.at("/setters", f"The Setup has no {what} yet; add one on the Setter stage.")
    named = [entry for entry in found if name is None or entry.setter.name == name]
    if not named:
        known = ", ".join(entry.setter.name for entry in found)
        raise InputError.at("/name", f'There is no {what} "{name}"; there are {known}.')
    placed = [entry for entry in named if entry.place is not None]
    if not placed:
        raise InputError.at("/setters", f"Where {named[0].setter.name} stands is not known; a place is needed.")
    return placed[0]
