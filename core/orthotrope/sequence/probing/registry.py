"""Routine → its plan: what it touches, and what it works out of that."""

import math
from abc import ABC, abstractmethod
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Generic, TypeVar

from orthotrope.errors import InputError
from orthotrope.registry import Registry
from orthotrope.sequence.probing.formulas import FormulaBackend, Scalar
from orthotrope.setup import Setup
from orthotrope.setup.control import ControlProfile
from orthotrope.setup.probes import Probe
from orthotrope.setup.routines import Routine
from orthotrope.setup.tools import Tool

if TYPE_CHECKING:
    from orthotrope.sequence.probing.writing import Probing
    from orthotrope.sequence.steps import Step

Vector = tuple[float, float, float]
R = TypeVar("R", bound=Routine)


@dataclass(frozen=True, slots=True)
class Tip:
    """The tip that touches: the probe and its tool."""

    probe: Probe
    tool: Tool

    def radius(self, x: float, y: float) -> float:
        """Its effective radius towards a side (a way of length 1 in the plan), mm; between the axes as an ellipse has
        it."""
        usual = self.probe.effective_diameter or self.tool.diameter
        along_x, along_y = self.probe.effective_x or usual, self.probe.effective_y or usual
        return (along_x * x * x + along_y * y * y) / 2

    @property
    def widest(self) -> float:
        """Its greatest effective radius, mm."""
        return max(self.radius(1.0, 0.0), self.radius(0.0, 1.0))

    def reach(self, way: Vector) -> float:
        """From its middle (upright: from its lowest point) to the surface of the part that it touches, mm: its radius, and what
        a plate stands off."""
        off = self.probe.stand_off
        if abs(way[2]) > 0.5:
            return off.z
        return self.radius(way[0], way[1]) + abs(way[0]) * off.x + abs(way[1]) * off.y


@dataclass(frozen=True, slots=True)
class Aim:
    """A touch that is to be made. ``at``: where the tip stands when its search begins, from the place where the feature is
    expected: its middle in X and Y, its lowest point in Z, mm. ``way`` it goes, of length 1; ``gap``: how far to where it
    should touch; ``level``: whether the tip comes there from the touch before at the same height, inside the feature.
    ``waypoint``: where it goes by on that way."""

    name: str
    at: Vector
    way: Vector
    gap: float
    level: bool = False
    waypoint: Vector | None = None

    @property
    def meets(self) -> Vector:
        """Where the tip stands when it touches as expected."""
        x, y, z = (a + w * self.gap for a, w in zip(self.at, self.way, strict=True))
        return x, y, z


@dataclass(frozen=True, slots=True)
class Touched:
    """A touch that was made: ``c`` is how far along its way the tip stood, from the place where the feature is expected;
    ``reach``: from there to the surface, ``across``: how far to the left of its way it stood, mm."""

    aim: Aim
    c: Scalar
    reach: Scalar
    across: Scalar

    @property
    def surface(self) -> Scalar:
        """How far along its way the surface is."""
        return self.c + self.reach


Found = dict[str, Scalar]
"""What a routine has found, by name: "x", "y", "z": how far off the expected place, mm; sizes, mm; "turn": degrees."""


class Plan(ABC, Generic[R]):
    """What a kind of routine touches, and what it works out of that. One of each kind is registered."""

    @abstractmethod
    def aims(self, routine: R, tip: Tip) -> Sequence[Aim]:
        """The touches in their order, as expected."""

    @abstractmethod
    def found(self, routine: R, touched: Sequence[Touched], sums: FormulaBackend) -> Found:
        """What follows from the touches, in the order of the aims."""

    def expected(self, routine: R) -> dict[str, float]:
        """The sizes that are expected, by name, mm."""
        return {}

    def steps(self, routine: R, p: "Probing") -> Iterator["Step"]:
        """The touches as a control that does the sums itself makes them, and what is found of them, kept by name."""
        yield from p.touch_all(self.aims(routine, p.tip))
        yield from p.keep(self.found(routine, p.touched(), p.sums))

    def fits(self, routine: R, tip: Tip) -> str:
        """Why a tip can't make it, "": it can."""
        return ""


PLANS: Registry[Plan[Any]] = Registry("kind of routine", "orthotrope.kinds.*.touches", sort=False)
"""Kind of routine → its plan."""


@dataclass(frozen=True, slots=True)
class RoutineRequest:
    """A routine that is to be written: its tip, the control, and machine X, Y that a control without parameters goes back to,
    mm."""

    setup: Setup
    routine: Routine
    tip: Tip | None
    profile: ControlProfile
    called_at: tuple[float, float]


def tip_of(setup: Setup, routine: Routine) -> Tip | None:
    """The tip that a routine is made with; None: it touches nothing.

    Raises:
        InputError: where its probe, or that one's tool, is not there, or it can't make this routine.
    """
    if not routine.touches_part:
        return None
    own = [index for index, entry in enumerate(setup.routines) if entry is routine]
    where = f"/routines/{own[0]}/probe" if own else "/probes"
    probe = next((probe for probe in setup.probes if probe.name == routine.probe), None)
    if probe is None:
        known = ", ".join(probe.name for probe in setup.probes) or "none yet; add one on the Probes stage"
        raise InputError.at(where, f'`probe` must name one that is there ({known}); got "{routine.probe or ""}".')
    if probe.stand_off != (0.0, 0.0, 0.0) and not routine.takes_plate:
        raise InputError.at(
            where, f"{routine.name} can't be made on {probe.name}: take a probe that touches the part itself."
        )
    tip = Tip(probe, setup.tool(probe.tool))
    if why := PLANS[routine.kind].fits(routine, tip):
        raise InputError.at(where, f"{routine.name} can't be made with {probe.name}: {why}")
    return tip


def clear_above(routine: Routine, tip: Tip, aims: Sequence[Aim]) -> float:
    """How far above the upper face of the part a tip moves across, mm: its clearance above that or a plate on it, and no lower
    than where a search from above begins."""
    return max([routine.clearance + tip.probe.stand_off.z, *(aim.at[2] for aim in aims if not aim.level)])


def around(count: int, first_deg: float = 0.0) -> list[tuple[float, float]]:
    """Ways at equal steps round the clock, of length 1; those along an axis exactly so."""
    found = []
    for index in range(count):
        angle = math.radians(first_deg + 360.0 * index / count)
        found.append((round(math.cos(angle), 12) + 0.0, round(math.sin(angle), 12) + 0.0))
    return found
