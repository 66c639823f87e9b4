"""The touches of a run, and the zeros and lengths that were set because of them; for the checks of probing."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any, NamedTuple

from orthotrope.machine.run import Run
from orthotrope.machine.trace import Event
from orthotrope.setup.machine import AXES

WIDEST = 30.0
"""mm; a radius, or a plate's thickness, is no more than this: what is further from a touch is no value of it."""

SAME = 1e-6

NOTHING = (0.0, 0.0, 0.0)


@dataclass(frozen=True, slots=True)
class Touch:
    """A touch that was made or missed: its way (of length 1), feed in mm/min, where it was latched and where the machine
    stood then (machine coordinates of the gauge line, mm; None where it missed)."""

    number: int
    event: Event
    way: tuple[float, float, float]
    feed: float
    stops: bool
    latched: tuple[float, float, float] | None
    stopped: tuple[float, float, float] | None

    @property
    def overrun(self) -> float:
        """From the latched place to where the machine stood, mm."""
        if self.latched is None or self.stopped is None:
            return 0.0
        return sum((b - a) * w for a, b, w in zip(self.latched, self.stopped, self.way, strict=True))


class Zero(NamedTuple):
    """A zero that was set on one axis: how ("value", or "place" where the machine stood), which work offset (0: the
    shift), the one that was active and how far that was off it, where the zero of the part was then, its machine
    coordinate; the touches it came of, and those of them that may have missed without being asked. mm."""

    event: Event
    how: str
    offset: int
    active: int
    between: float
    frame: float
    axis: int
    zero: float
    touches: tuple[Touch, ...]
    untested: tuple[Touch, ...]

    @property
    def name(self) -> str:
        """The axis and the offset, as a person says them."""
        where = f"work offset {self.offset}" if self.offset else "the shift"
        return f"{AXES[self.axis]} of {where}"


def touches_of(run: Run) -> list[Touch]:
    """Every touch of a run, by its number."""
    return [
        Touch(
            data["touch"],
            event,
            tuple(data["way"]),
            data["feed"],
            data["stops"],
            data.get("latched"),
            data.get("stopped"),
        )
        for event in run.trace.of_kind("touch", "missed-touch")
        for data in (event.data,)
    ]


def zeros_of(run: Run) -> Iterator[Zero]:
    """Every zero that was set, axis by axis; those among them that came of no touch as well."""
    touches = {touch.number: touch for touch in touches_of(run)}
    for event in run.trace.of_kind("zero-set"):
        data = event.data
        used = tuple(touches[number] for number in data["touches"])
        yield Zero(
            event,
            data["how"],
            data["offset"],
            data["active"],
            data["between"],
            data["frame"],
            data["axis"],
            data["zero"],
            used,
            untested(data, used),
        )


def untested(data: dict[str, Any], used: tuple[Touch, ...]) -> tuple[Touch, ...]:
    """Those touches that may have missed, and were not asked whether they did before this was set."""
    return tuple(touch for touch in used if not touch.stops and touch.number not in data["tested"])


def middle(touches: Iterable[Touch], axis: int) -> float | None:
    """The middle of the places that touches were latched at, machine coordinate, mm; of touches from two sides the
    middle between the sides."""
    sides: dict[bool, list[float]] = {}
    for touch in touches:
        if touch.latched is not None:
            sides.setdefault(touch.way[axis] > 0, []).append(touch.latched[axis])
    means = [sum(places) / len(places) for places in sides.values()]
    return sum(means) / len(means) if means else None


def as_placed(zero: Zero, readout: tuple[float, float, float]) -> Zero:
    """A zero as it would be where the readout showed zero at the place that was found, and not ``readout``, mm."""
    return zero._replace(zero=zero.zero + readout[zero.axis])


def radius_given(zero: Zero) -> float | None:
    """How far a sideways zero is from the middle of the tip at its touch, towards the surface positive, mm; None where
    that tells nothing: it came of no touch, of touches from two sides, or it is no radius."""
    ways = {touch.way[zero.axis] for touch in zero.touches}
    if zero.axis == 2 or not ways or min(abs(way) for way in ways) < 0.5 or min(ways) * max(ways) < 0:
        return None
    places = [
        place[zero.axis]
        for touch in zero.touches
        if (place := touch.latched if zero.how == "value" else touch.stopped) is not None
    ]
    given = (zero.zero - sum(places) / len(places)) * (1 if min(ways) > 0 else -1) if places else None
    return given if given is not None and abs(given) <= WIDEST else None
