"""Signals: the inputs and outputs of the machine, how they are wired, and how the control takes them."""

from typing import Annotated, Literal

from pydantic import Field

from orthotrope.setup.machine import Name
from orthotrope.validation import Record, Seconds

SignalNumber = Annotated[int, Field(ge=1, le=64)]
Terminal = Annotated[str, Field(min_length=1, max_length=12)]

InputRole = Literal["touch plate", "setter", "probe", "grip open", "grip closed", "tool present", "magazine out",
                    "magazine home", "magazine in place", "pot down", "pot up", "arm in", "arm home", "arm down", "arm up",
                    "air", "door", "spindle still", "oriented", "other"]  # fmt: skip
OutputRole = Literal[
    "grip", "orient", "blow air", "magazine", "pot", "arm swing", "arm stroke", "arm turn", "probe", "coolant", "other"
]

TOUCH_ROLES: frozenset[str] = frozenset({"touch plate", "setter", "probe"})
"""Roles of the inputs that a touch makes: they must not stay idle when they are made."""

Words = Annotated[str, Field(pattern=r"^[A-Z][0-9.]+( ?[A-Z][0-9.]+)*$", max_length=24)]


class Input(Record):
    """One input. Its contact connects the terminal, which is held high, to ground: ``wiring`` says when it does so,
    ``level`` which level of the terminal the control takes as made; ``filter``: how long a change must last, seconds.

    ``number`` is the one by which a program reads it.
    """

    number: SignalNumber
    name: Name
    role: InputRole
    terminal: Terminal
    wiring: Literal["normally open", "normally closed"]
    level: Literal["high", "low"]
    filter: Seconds = 0.0


class Output(Record):
    """One output: the words that switch it on and off, and how long its device takes, seconds."""

    number: SignalNumber
    name: Name
    role: OutputRole
    terminal: Terminal
    word_on: Words
    word_off: Words
    seconds: Seconds = 0.0
