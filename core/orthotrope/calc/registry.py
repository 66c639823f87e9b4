"""The registry of calculations: one entry a name, with a typed input and output, for command line, API and
interface."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, ClassVar, TypeVar

from orthotrope.registry import Registry
from orthotrope.validation import Record, parse


class Result(Record):
    """Base of all outputs. Fields named in ``optional`` are left out where they have no value."""

    optional: ClassVar[frozenset[str]] = frozenset()

    def as_json(self) -> dict[str, Any]:
        whole = self.model_dump(mode="json", by_alias=True)
        return {name: value for name, value in whole.items() if not (value is None and name in self.optional)}


In = TypeVar("In", bound=Record)
Out = TypeVar("Out", bound=Result)


@dataclass(frozen=True, slots=True)
class Calculation:
    """A registered calculation: ``name``, what it ``works_out``, its ``function`` and the types of both sides."""

    name: str
    works_out: str
    function: Callable[[Any], Result]
    input_type: type[Record]
    output_type: type[Result]

    def run(self, data: Any) -> dict[str, Any]:
        """Work it out from decoded JSON.

        Raises:
            InputError: with all faults of the input.
        """
        return self.function(parse(self.input_type, data)).as_json()

    def schema(self) -> dict[str, Any]:
        """JSON Schema of input and output."""
        return {
            "input": self.input_type.model_json_schema(by_alias=True),
            "output": self.output_type.model_json_schema(by_alias=True, mode="serialization"),
        }


CALCULATIONS: Registry[Calculation] = Registry("calculation", "orthotrope.calc.*")


def calculation(name: str, works_out: str) -> Callable[[Callable[[In], Out]], Callable[[In], Out]]:
    """Register the function below under ``name``; its annotations give the types of input and output."""

    def register(function: Callable[[In], Out]) -> Callable[[In], Out]:
        types = function.__annotations__
        CALCULATIONS.add(name, Calculation(name, works_out, function, types["data"], types["return"]))
        return function

    return register
