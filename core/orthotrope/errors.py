"""The errors of Orthotrope. One base class; the text of each is built from its fields."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing wrong with an input: ``where`` is a JSON pointer ("" is the whole), ``what`` a sentence."""

    where: str
    what: str

    def as_json(self) -> dict[str, str]:
        return {"where": self.where, "what": self.what}


def _again(kind: type["OrthotropeError"], args: tuple[Any, ...], fields: dict[str, Any]) -> "OrthotropeError":
    error = kind.__new__(kind)
    error.args = args
    error.__dict__.update(fields)
    return error


class OrthotropeError(Exception):
    """Base of all errors that a user can put right."""

    def __reduce__(self) -> Any:
        """An error goes from a worker process to whoever asked, with its fields."""
        return _again, (type(self), self.args, self.__dict__)


class InputError(OrthotropeError, ValueError):
    """Bad input; ``faults`` holds every fault that was found, not only the first. (A ValueError, so that a document's
    own rules can raise it while pydantic checks the rest.)."""

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
