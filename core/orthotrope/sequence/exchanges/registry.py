"""Style of changer → its planner."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

from orthotrope.calc.derived import DerivedChanger, derive
from orthotrope.errors import InputError
from orthotrope.sequence.steps import Sequence
from orthotrope.setup import Setup

EMPTY = 0
"""The number that stands for the empty spindle."""


@dataclass(frozen=True, slots=True)
class Exchange:
    """From the tool in the spindle to the requested one, by tool number; 0 is the empty spindle. ``called_at``: machine
    X, Y of the place that the spindle goes back to, mm."""

    from_tool: int
    to_tool: int
    called_at: tuple[float, float]


class Planner(Protocol):
    """What a style of changer offers: one exchange with numbers, and the one program that serves every pair."""

    def one(self, setup: Setup, derived: DerivedChanger, exchange: Exchange) -> Sequence: ...

    def every(self, setup: Setup, derived: DerivedChanger) -> Sequence: ...


PLANNERS: dict[str, Planner] = {}


def planner(style: str) -> Callable[[type[Planner]], type[Planner]]:
    """Register the planner of a style of changer."""

    def register(kind: type[Planner]) -> type[Planner]:
        PLANNERS[style] = kind()
        return kind

    return register


def _changer(setup: Setup) -> tuple[Planner, DerivedChanger]:
    derived = derive(setup)
    if setup.changer is None or derived is None:
        raise InputError.at("/changer", "The Setup has no changer yet; add one on the Changer stage.")
    return PLANNERS[setup.changer.style], derived


def plan_one(setup: Setup, exchange: Exchange) -> Sequence:
    """One exchange, with numbers.

    Raises:
        InputError: where there is no changer, no such tool, or a tool without a pocket.
    """
    found, derived = _changer(setup)
    for field, number in (("from", exchange.from_tool), ("to", exchange.to_tool)):
        if number != EMPTY and setup.tool(number) not in setup.exchangeable():
            raise InputError.at(f"/{field}", f"T{number} has no pocket; give it one on the Tools stage.")
    return found.one(setup, derived, exchange)


def plan_every(setup: Setup) -> Sequence:
    """The one program that serves every pair: called with the tool in the spindle and the requested one.

    Raises:
        InputError: where there is no changer.
    """
    found, derived = _changer(setup)
    return found.every(setup, derived)
