"""The errors of Orthotrope. One base class; the text of each is built from its fields."""

from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing wrong with an input: ``where`` is a JSON pointer ("" is the whole), ``what`` a sentence."""

    where: str
    what: str

    def as_json(self) -> dict[str, str]:
        return {"where": self.where, "what": self.what}


class OrthotropeError(Exception):
    """Base of all errors that a user can put right."""


class InputError(OrthotropeError, ValueError):
    """Bad input; ``faults`` holds every fault that was found, not only the first. (A ValueError, so that a document's own
    rules can raise it while pydantic checks the rest.)"""

    def __init__(self, faults: Iterable[Fault]):
        self.faults = tuple(faults)
        super().__init__("; ".join(f"{fault.where or 'input'}: {fault.what}" for fault in self.faults))

    @classmethod
    def at(cls, where: str, what: str) -> "InputError":
        return cls([Fault(where, what)])


class QuantityError(OrthotropeError):
    """A typed quantity that cannot be understood: ``text``, the ``column`` from 0, and ``what`` is wrong."""

    def __init__(self, text: str, column: int, what: str):
        self.text, self.column, self.what = text, column, what
        super().__init__(what)
