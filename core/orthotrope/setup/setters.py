"""Tool setters: each has one entry here, wherever it stands. What comes in kinds registers itself."""

from abc import ABC
from typing import Annotated

from orthotrope.registry import Registry
from orthotrope.setup.machine import Name
from orthotrope.setup.named import OneOf
from orthotrope.setup.occupant import Occupant
from orthotrope.setup.signals import SignalNumber
from orthotrope.setup.surround import Body
from orthotrope.validation import Distance, Length, Record


class Setter(Record, ABC):
    """A tool setter. ``input``: the number of the input that a touch makes; ``plane_z``: machine Z of the tip at which
    it triggers; ``overtravel``: how far it may be pushed beyond, mm."""

    kind: str
    name: Name
    input: SignalNumber
    plane_z: Length
    overtravel: Distance

    @property
    def occupant(self) -> Occupant | None:
        """What it is in a pocket of the changer; None: it stands in none."""
        return None

    @property
    def body(self) -> Body | None:
        """Its body where it stands by itself; None: it is in a pocket."""
        return None


SETTERS: Registry[type[Setter]] = Registry("kind of setter", "orthotrope.kinds.*.model")

AnySetter = Annotated[Setter, OneOf(SETTERS, "kind")]
