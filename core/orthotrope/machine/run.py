"""How a program is called, and what a run of it leaves behind."""

from dataclasses import dataclass, field
from typing import Literal, NamedTuple

from orthotrope.machine.motion import Vector
from orthotrope.machine.passing import Passing
from orthotrope.machine.trace import Trace
from orthotrope.program.faults import ProgramError

MOST_MOVES = 2_000_000
"""Moves, dwells among them, beside those that a text has once; what makes more by loops, calls and cycles has no
end."""

Active = Literal[
    "",
    "length",
    "offset",
    "shift",
    "compensation",
    "cycle",
    "rotation",
    "plane",
    "inverse time",
    "forwards",
    "backwards",
]


SHIFTED = (11.0, -7.0, 5.0)
"""The shift of the zero that a caller has active, mm."""


class ByHand(NamedTuple):
    """What a person sets while a program is stepped: after so many blocks were run (``after``) a ``parameter`` gets a value,
    or an ``input`` (its number) is made from then on (``value`` not 0) or idle; 0: not that."""

    after: int
    parameter: int = 0
    input: int = 0
    value: float = 0.0


@dataclass(frozen=True, slots=True)
class Call:
    """How and where a program is called: the gauge line's place, the caller's modes, the tools of an exchange.
    ``doubtful``: whether the record of the tool in the spindle is; ``override``: the feed override that is set, 1 is
    100 %; ``most_moves``: after so many it is taken for one without an end; ``active``: what the caller has left on;
    "forwards" and "backwards": the spindle turns at its greatest speed. ``named``: the tool that the call names as the one in the
    spindle where that is not ``from_tool``, which is there and on record. ``left``: what the working parameters hold from a
    call before, None: nothing; ``requested``: what is requested where that is no tool of the changer; ``block_delete``: whether blocks with a
    slash are left out; ``by_hand``: what is set while it is stepped."""

    at: Vector = (0.0, 0.0, 0.0)
    unit: Literal[20, 21] = 21
    distance: Literal[90, 91] = 90
    from_tool: int = 0
    to_tool: int = 0
    doubtful: bool = False
    override: float = 1.0
    active: Active = ""
    named: int | None = None
    left: float | None = None
    requested: float | None = None
    block_delete: bool = False
    by_hand: tuple[ByHand, ...] = ()
    most_moves: int = MOST_MOVES


@dataclass(frozen=True, slots=True)
class Endless:
    """A loop or calls without an end: the line it was noticed in, and how."""

    line: int
    what: str


@dataclass(frozen=True, slots=True)
class FinalState:
    """How a run leaves the machine: the ``speed`` that the spindle turns at or was last commanded to (rev/min), whether the override is
    ``locked``, the ``shift`` of the zero (mm), and the ``table`` that the control keeps of what is in which
    pocket (tool by pocket, 0: none); ``length_old``: why the length in force is not the one to go by, "": it is, or there is none;
    ``length``: whether one is in force."""

    speed: float = 0.0
    locked: bool = False
    shift: tuple[float, float, float] = (0.0, 0.0, 0.0)
    table: tuple[tuple[int, float], ...] = ()
    length_old: str = ""
    length: bool = False


@dataclass(slots=True)
class Run:
    """A run: its trace, and what the checks of the text want to know. ``modes`` are from before an end's reset;
    ``feed``: the last one that was given, with its line; ``nowhere``: whether its ``fault`` is a target that is not
    there; ``unit_first``: whether the unit was stated before anything depended on the caller's, ``states_unit``: and the
    caller's was not read afterwards either; ``tested``: the touches of which a condition tested whether they were made;
    ``z_absolute``: whether Z was sent to a place, and not only so much further; ``returned``: whether it went back to its
    caller, and not to an end of all; ``length_of``: the tool whose length is in force at the end, 0: of none;
    ``left``: how it leaves the machine; ``passed``: the closest that it passes each body (:attr:`World.passing`), the closest
    first."""

    call: Call
    trace: Trace
    modes: dict[str, float]
    modes_before: dict[str, float]
    lengths_under: dict[int, int] = field(default_factory=dict)
    feed: tuple[int, float] | None = None
    fault: ProgramError | None = None
    nowhere: bool = False
    endless: Endless | None = None
    read: set[int] = field(default_factory=set)
    request_used: bool = False
    unit_first: bool = False
    states_unit: bool = False
    tested: frozenset[int] = frozenset()
    z_absolute: bool = False
    returned: bool = False
    length_of: int = 0
    left: FinalState = FinalState()
    passed: tuple[Passing, ...] | None = None
