"""Signals: the inputs and outputs of the machine, how they are wired, and how the control takes them."""

from typing import Annotated, Literal

from pydantic import Field

from orthotrope.setup.machine import Name
from orthotrope.setup.named import Named
from orthotrope.setup.roles import INPUT_ROLES, OUTPUT_ROLES
from orthotrope.validation import Record, Seconds

SignalNumber = Annotated[int, Field(ge=1, le=64)]
Terminal = Annotated[str, Field(min_length=1, max_length=12)]

InputRole = Annotated[str, Named(INPUT_ROLES)]
OutputRole = Annotated[str, Named(OUTPUT_ROLES)]

SwitchWords = Annotated[str, Field(pattern=r"^[A-Z][0-9.]+( ?[A-Z][0-9.]+)*$", max_length=24)]


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

    @property
    def touches(self) -> bool:
        """Whether a touch makes it."""
        return INPUT_ROLES[self.role].touch


class Output(Record):
    """One output: the words that switch it on and off, and how long its device takes, seconds."""

    number: SignalNumber
    name: Name
    role: OutputRole
    terminal: Terminal
    word_on: SwitchWords
    word_off: SwitchWords
    seconds: Seconds = 0.0
