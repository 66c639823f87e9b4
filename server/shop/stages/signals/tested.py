"""A test of an input, as it is reported."""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from orthotrope.calc.wiring import Level, Seen, Wiring


@dataclass(frozen=True, slots=True)
class Edge:
    """An input's change: milliseconds after the first, and whether it was made then."""

    after: float
    made: bool


@dataclass(frozen=True, slots=True)
class TestedInput:
    """The newest test of an input, and whether it holds for the wiring of now. ``wiring`` and ``level``: as the test
    shows them."""

    number: int
    wiring: Wiring
    level: Level
    seen: list[Seen]
    outcome: Literal["passed", "reversed", "dead", "stuck", "unsteady"]
    edges: list[Edge]
    by_hand: bool
    author: str
    when: datetime
    stale: bool
    why: str
