"""The typed steps of a sequence. Lengths in mm, machine coordinates; feeds mm/min; speeds rev/min; time in seconds."""

from dataclasses import dataclass
from typing import Literal

from orthotrope.sequence.values import Value

AxisName = Literal["X", "Y", "Z"]


class Step:
    """One step of a sequence. Each type says in the writer what its words are
    (:func:`orthotrope.program.writer.written`)."""

    __slots__ = ()


@dataclass(frozen=True, slots=True)
class Move(Step):
    """A straight move in machine coordinates; rapid where ``feed`` is None."""

    axes: tuple[tuple[AxisName, Value], ...]
    feed: Value | None = None
    note: str = ""


@dataclass(frozen=True, slots=True)
class Spindle(Step):
    """Turn forwards or backwards at ``speed``, or stop (speed None)."""

    turn: Literal["forwards", "backwards", "stop"]
    speed: Value | None = None
    note: str = ""


@dataclass(frozen=True, slots=True)
class Dwell(Step):
    """Stay for ``seconds``."""

    seconds: Value
    note: str = ""


@dataclass(frozen=True, slots=True)
class Touch(Step):
    """A touching move in part coordinates, or with ``relative`` so much further, straight, at ``feed``; ``stops`` the
    control where it misses, else it goes on."""

    axes: tuple[tuple[AxisName, Value], ...]
    feed: Value
    stops: bool = True
    note: str = ""
    relative: bool = False


@dataclass(frozen=True, slots=True)
class RelativeMove(Step):
    """A straight move by so much, rapid where ``feed`` is None."""

    axes: tuple[tuple[AxisName, Value], ...]
    feed: Value | None = None
    note: str = ""


@dataclass(frozen=True, slots=True)
class UseLength(Step):
    """Use the length on record of tool ``number``; 0: of none."""

    number: Value
    note: str = ""


@dataclass(frozen=True, slots=True)
class CallProgram(Step):
    """Call program ``number`` with arguments by their letters."""

    number: int
    arguments: tuple[tuple[str, Value], ...]
    note: str = ""


@dataclass(frozen=True, slots=True)
class Begin(Step):
    """Program ``number`` begins here."""

    number: int


@dataclass(frozen=True, slots=True)
class SetOffset(Step):
    """Set work offset ``number``: the machine coordinates of its zero on these axes, or with ``here`` what the readout
    shall show at the place where the machine stands."""

    number: int
    axes: tuple[tuple[AxisName, Value], ...]
    here: bool = False
    note: str = ""


@dataclass(frozen=True, slots=True)
class SetTurn(Step):
    """Turn the part coordinates about their zero, degrees, counter-clockwise positive."""

    turn: Value
    note: str = ""


@dataclass(frozen=True, slots=True)
class SetLength(Step):
    """Set the length on record of tool ``number``."""

    number: Value
    length: Value
    note: str = ""


@dataclass(frozen=True, slots=True)
class Switch(Step):
    """Switch a device of the control by the words it has for it."""

    device: Literal["close the grip", "open the grip", "orient the spindle"]
    note: str = ""


@dataclass(frozen=True, slots=True)
class Words(Step):
    """Words that a Setup has for a device: an output's, or with ``pocket`` those that turn a disc to it."""

    text: str
    pocket: Value | None = None
    note: str = ""


@dataclass(frozen=True, slots=True)
class Wait(Step):
    """Wait until ``input`` is made; go on at ``missing`` where it is not within ``limit`` seconds, counted in the
    parameter ``timer``. Where there is no input, or the control can't wait, stay for ``usual`` seconds."""

    input: int | None
    usual: Value
    limit: float
    missing: int
    timer: int
    note: str = ""


@dataclass(frozen=True, slots=True)
class While(Step):
    """Repeat what stands before :class:`EndWhile` as long as ``condition`` holds."""

    condition: Value


@dataclass(frozen=True, slots=True)
class EndWhile(Step):
    """The end of what is repeated."""


@dataclass(frozen=True, slots=True)
class Override(Step):
    """Let the feed override act, or lock it at 100 %."""

    locked: bool
    note: str = ""


@dataclass(frozen=True, slots=True)
class Compute(Step):
    """Set a parameter of the control; its number may be worked out."""

    parameter: int | Value
    value: Value
    note: str = ""


@dataclass(frozen=True, slots=True)
class ComputeIf(Step):
    """Set a parameter where ``condition`` holds."""

    condition: Value
    parameter: int
    value: Value
    note: str = ""


@dataclass(frozen=True, slots=True)
class Choose(Step):
    """Go on at ``label`` where ``condition`` holds; None: always."""

    condition: Value | None
    label: int
    note: str = ""


@dataclass(frozen=True, slots=True)
class Label(Step):
    """A place to go on at."""

    label: int
    note: str = ""


@dataclass(frozen=True, slots=True)
class SetModes(Step):
    """Set modes by their G numbers."""

    modes: tuple[Value, ...]
    note: str = ""


@dataclass(frozen=True, slots=True)
class Say(Step):
    """Show a message to the technician."""

    text: str


@dataclass(frozen=True, slots=True)
class Remark(Step):
    """A line for the reader of the text."""

    text: str


@dataclass(frozen=True, slots=True)
class Stop(Step):
    """The program stops. "pause": until the technician goes on; "end": the whole program; "return": to the caller."""

    kind: Literal["pause", "end", "return"]
    note: str = ""


@dataclass(frozen=True, slots=True)
class Sequence:
    """Steps in their order, with a title."""

    title: str
    steps: tuple[Step, ...]
