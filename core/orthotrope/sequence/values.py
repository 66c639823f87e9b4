"""Values in steps and programs: numbers, parameters, and sums of them, as small frozen trees."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Literal, Union


@dataclass(frozen=True, slots=True)
class Number:
    """A number; ``means`` "length" (or feed) in mm, which a control of inches gets in inches, "unit" for the word of
    the unit itself, or nothing."""

    value: float
    means: Literal["", "length", "unit"] = field(default="", compare=False)


@dataclass(frozen=True, slots=True)
class Parameter:
    """``#n``, or ``#[…]`` where the number is itself worked out."""

    number: "Value"


@dataclass(frozen=True, slots=True)
class Named:
    """``#<name>``; the name in small letters, without spaces."""

    name: str


@dataclass(frozen=True, slots=True)
class Unary:
    """``-`` before a value that is no plain number."""

    value: "Value"


@dataclass(frozen=True, slots=True)
class Binary:
    """``operator`` as in RS-274: ``+ - * / ** MOD``, ``EQ NE GT GE LT LE``, ``AND OR XOR``."""

    operator: str
    left: "Value"
    right: "Value"


@dataclass(frozen=True, slots=True)
class Function:
    """A function of RS-274 by its name; ATAN has two arguments."""

    name: str
    arguments: tuple["Value", ...]


Value = Union[Number, Parameter, Named, Unary, Binary, Function]  # noqa: UP007 (the names are not bound yet)

PRECEDENCE = {
    "**": 5,
    "*": 4,
    "/": 4,
    "MOD": 4,
    "+": 3,
    "-": 3,
    "EQ": 2,
    "NE": 2,
    "GT": 2,
    "GE": 2,
    "LT": 2,
    "LE": 2,
    "AND": 1,
    "OR": 1,
    "XOR": 1,
}
"""How tightly operators bind; equal ones from left to right (NISTIR 6556, 3.3.2.3; checks.md for the lower two)."""

FUNCTIONS = ("ABS", "ACOS", "ASIN", "ATAN", "COS", "EXP", "FIX", "FUP", "LN", "ROUND", "SIN", "SQRT", "TAN")


def length(value: float) -> Number:
    """A length in mm, or a feed in mm/min."""
    return Number(value, "length")


def parameter(number: int) -> Parameter:
    """``#number``."""
    return Parameter(Number(float(number)))


def parameters_in(value: Value) -> Iterator[int]:
    """The numbers of the parameters that a value reads, from left to right; of one that is itself calculated what it is calculated of."""
    match value:
        case Parameter(Number(number)):
            yield round(number)
        case Parameter(inner) | Unary(inner):
            yield from parameters_in(inner)
        case Binary(_, left, right):
            yield from parameters_in(left)
            yield from parameters_in(right)
        case Function(_, arguments):
            for argument in arguments:
                yield from parameters_in(argument)
        case _:
            return
