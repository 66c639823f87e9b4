"""Style of changer → its planner."""

from abc import ABC, abstractmethod
from dataclasses import dataclass

from orthotrope.calc.derived import DerivedChanger, derive
from orthotrope.errors import InputError
from orthotrope.registry import Registry
from orthotrope.sequence.steps import Sequence, Step
from orthotrope.sequence.values import Value
from orthotrope.setup import Setup
from orthotrope.setup.control import ControlProfile

IN_THE_CHANGER = "The spindle stands low in the changer. Move it out along the mouth, then up. Nothing has moved"
"""What a program says that was called at such a place."""

EMPTY = 0
"""The number that stands for the empty spindle."""


@dataclass(frozen=True, slots=True)
class Descent:
    """The way down into a pocket, to be gone in small steps: from machine Z ``begin``, mm, after the steps that come
    ``before``."""

    begin: float
    before: tuple[Step, ...] = ()


@dataclass(frozen=True, slots=True)
class Exchange:
    """From the tool in the spindle to the requested one, by tool number; 0 is the empty spindle. ``called_at``: machine
    X, Y of the place that the spindle goes back to, mm; ``part``: of a program that measures by itself."""

    from_tool: int
    to_tool: int
    called_at: tuple[float, float]
    part: bool = False


class Planner(ABC):
    """What a style of changer offers: one exchange with numbers, the one program that serves every pair, and where it
    has such a thing the way down into a pocket, and what readies a tool while the job cuts."""

    @abstractmethod
    def one(self, setup: Setup, derived: DerivedChanger, exchange: Exchange) -> Sequence:
        """One exchange, with numbers."""

    @abstractmethod
    def every(self, setup: Setup, derived: DerivedChanger, part: bool = False) -> Sequence:
        """The one program of all pairs."""

    def descent(self, setup: Setup, derived: DerivedChanger) -> Descent:
        """How the empty spindle comes down into a pocket for the first time.

        Raises:
            InputError: where the spindle goes to no pocket.
        """
        raise InputError.at("/changer", "The spindle goes to no pocket here; there is none to be approached.")

    def held_where(self, setup: Setup, derived: DerivedChanger, profile: ControlProfile) -> Value | None:
        """Whether the spindle was called where the changer holds what it has gripped, so that straight up would pull at it, as a
        condition of the control; None: there is no such place."""
        return None

    def ready(self, setup: Setup) -> Sequence:
        """The program that readies a tool while the job cuts.

        Raises:
            InputError: where the style has none.
        """
        raise InputError.at("/changer", "Only a disc with an arm readies a tool while the job cuts.")


PLANNERS: Registry[Planner] = Registry("style of changer", "orthotrope.kinds.*.plan")


def planner_of(setup: Setup) -> tuple[Planner, DerivedChanger]:
    """The planner of the Setup's changer, and what follows from it.

    Raises:
        InputError: where there is no changer.
    """
    derived = derive(setup)
    if setup.changer is None or derived is None:
        raise InputError.at("/changer", "The Setup has no changer yet; add one on the Changer stage.")
    return PLANNERS[setup.changer.style], derived


def plan_one(setup: Setup, exchange: Exchange) -> Sequence:
    """One exchange, with numbers.

    Raises:
        InputError: where there is no changer, no such tool, or a tool without a pocket.
    """
    found, derived = planner_of(setup)
    for field, number in (("from", exchange.from_tool), ("to", exchange.to_tool)):
        if number != EMPTY and setup.tool(number) not in setup.exchangeable():
            raise InputError.at(f"/{field}", f"T{number} has no pocket; give it one on the Tools stage.")
    return found.one(setup, derived, exchange)


def plan_every(setup: Setup, part: bool = False) -> Sequence:
    """The one program that serves every pair: called with the tool in the spindle and the requested one.

    Raises:
        InputError: where there is no changer.
    """
    found, derived = planner_of(setup)
    return found.every(setup, derived, part)


def plan_ready(setup: Setup) -> Sequence:
    """The program that readies a tool while the job cuts.

    Raises:
        InputError: where there is no changer, or its style has none.
    """
    return planner_of(setup)[0].ready(setup)
