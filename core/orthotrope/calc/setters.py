"""What follows from a tool setter: where it is, how far a touch pushes it, and how fast a search may be."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Protocol

from orthotrope.calc.derived import Derivation, DerivedChanger, Term
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

FEED_STEP = 10.0
"""mm/min; offered feeds are whole multiples of it."""

CLEAR = 0.2
"""mm; a back-off is at least this much longer than what it has to undo, for the switch's hysteresis."""

BEYOND = 1.0
"""mm; how far beyond its back-off a measuring touch ends."""


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
    ``push``: how far the search pushes it from there; ``within``: how far it may; mm. ``fastest``: the fastest search
    that stays within, mm/min, None where none does."""

    setter: Setter
    index: int
    place: tuple[float, float] | None
    delay: float
    contact_z: float
    push: float
    within: float
    fastest: float | None
    beyond: float
    tools: tuple[ToolAtSetter, ...]
    workings: dict[str, Derivation]


class Touched(Protocol):
    """What setters and probes share: what a touch at one takes."""

    @property
    def input(self) -> int: ...

    @property
    def latency(self) -> float: ...

    @property
    def trigger_travel(self) -> float: ...

    @property
    def measure_feed(self) -> float: ...

    @property
    def back_off(self) -> float: ...


def delay_of(setup: Setup, setter: Touched) -> float:
    """Seconds from the switching of a setter or probe to the latch: its own latency, the input's filter and the control's."""
    entry = next((entry for entry in setup.inputs if entry.number == setter.input), None)
    return setter.latency + setup.machine.latency + (entry.filter if entry else 0.0)


def rise_of(setup: Setup, setter: Touched) -> float:
    """How far above its plane height a setter is first touched, mm: the plane holds its travel and the delay, since it
    was calibrated at the measuring feed (hardware.md, Touching)."""
    return setter.trigger_travel + setter.measure_feed / 60 * delay_of(setup, setter)


def pushed(setter: Touched, feed: float, delay: float, acceleration: float) -> float:
    """How far a touch at ``feed`` (mm/min) pushes a setter from its contact until the axis stands, mm: its travel,
    v·delay, and v²/(2a) of stopping."""
    speed = feed / 60
    return setter.trigger_travel + speed * delay + speed * speed / (2 * acceleration)


def fastest_search(setter: Touched, overtravel: float, delay: float, acceleration: float, rapid: float) -> float | None:
    """The fastest search, mm/min, that stays within the overtravel allowed and that the back-off can undo; down to
    whole steps of :data:`FEED_STEP`. None where even a slow one does not.

    From v·delay + v²/(2a) = what is left: v = a·(√(delay² + 2·left/a) − delay)."""
    left = min(overtravel, setter.back_off - CLEAR) - setter.trigger_travel
    if left <= 0:
        return None
    speed = acceleration * (math.sqrt(delay * delay + 2 * left / acceleration) - delay)
    feed = math.floor(min(speed * 60, rapid) / FEED_STEP) * FEED_STEP
    return feed or None


def derive_setter(setup: Setup, derived: DerivedChanger | None, index: int) -> DerivedSetter:
    """All that follows from the setter of this index."""
    setter, upright = setup.setters[index], setup.machine.axes.upright
    delay, rise = delay_of(setup, setter), rise_of(setup, setter)
    push = pushed(setter, setter.search_feed, delay, upright.acceleration)
    within = setter.overtravel + rise
    fastest = fastest_search(setter, setter.overtravel, delay, upright.acceleration, upright.rapid)
    beyond = min(BEYOND, max(0.0, setter.overtravel - pushed(setter, setter.measure_feed, delay, upright.acceleration)))
    longest = max((tool.whole_length for tool in setup.measured()), default=0.0)
    tools = tuple(tool_at(setup, setter, tool, longest) for tool in setup.measured())
    place = PLACES[setter.kind](setter, derived)
    return DerivedSetter(
        setter,
        index,
        place,
        delay,
        setter.plane_z + rise,
        push,
        within,
        fastest,
        beyond,
        tools,
        _derivations(setup, setter, index, delay, push, fastest),
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


def _derivations(
    setup: Setup, setter: Setter, index: int, delay: float, push: float, fastest: float | None
) -> dict[str, Derivation]:
    base, upright = f"/setters/{index}", setup.machine.axes.upright
    feed = Term("search feed", setter.search_feed, "mm/min", f"{base}/search_feed")
    measuring = Term("measuring feed", setter.measure_feed, "mm/min", f"{base}/measure_feed")
    wait = Term("delay: filter and latency", delay, "s", "/machine/latency")
    slows = Term("Z acceleration", upright.acceleration, "mm/s²", "/machine/axes/Z/acceleration")
    travel = Term("trigger travel", setter.trigger_travel, "mm", f"{base}/trigger_travel")
    over = Term("overtravel allowed", setter.overtravel, "mm", f"{base}/overtravel")
    back = Term("back-off", setter.back_off, "mm", f"{base}/back_off")
    formula = "trigger travel + v·delay + v²/(2·acceleration)"
    return {
        "push": Derivation("The search pushes it", push, "mm", formula, (travel, feed, wait, slows)),
        "lag": Derivation(
            "In the plane height already",
            setter.measure_feed / 60 * delay + setter.trigger_travel,
            "mm",
            "trigger travel + v·delay at the measuring feed; it repeats, and calibrating at the same feed takes it out",
            (travel, measuring, wait),
        ),
        "fastest": Derivation(
            "Fastest search",
            fastest,
            "mm/min",
            "the feed at which it is pushed by the overtravel allowed, or by the back-off less 0.2 mm"
            if fastest
            else "none: the trigger travel alone is more than the overtravel allowed or the back-off",
            (over, back, travel, wait, slows),
            f"down to steps of {FEED_STEP:g} mm/min",
        ),
    }


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
