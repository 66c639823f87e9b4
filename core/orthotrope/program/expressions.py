"""Expressions of RS-274: parsing with columns, and turning them into functions that are evaluated many times."""

import math
import re
from collections.abc import Callable
from typing import NamedTuple, Protocol

from orthotrope.program.faults import ProgramError, RunFault
from orthotrope.sequence.values import (
    FUNCTIONS,
    PRECEDENCE,
    Binary,
    Function,
    Named,
    Number,
    Parameter,
    Unary,
    Value,
)

DEEPEST = 60
"""Brackets nested deeper than this are refused: no program that a person reads has as many."""


class Store(Protocol):
    """Where parameters are read while an expression is evaluated."""

    def number(self, index: float) -> float: ...

    def at(self, index: int) -> float: ...

    def named(self, name: str) -> float: ...


HIGHEST = 99_999
"""Number of the last parameter."""

Evaluator = Callable[[Store], float]

_NUMBER = re.compile(r"[+-]?(?:\d+\.?\d*|\.\d+)")
_NAME = re.compile(r"<([^<>]*)>")
_WORD = re.compile(r"[A-Z]+")
_OPERATOR = re.compile(r"\*\*|[*/+-]|(?:MOD|EQ|NE|GT|GE|LT|LE|AND|OR|XOR)")


COMMENT = re.compile(r"\(([^()]*)\)|;(.*)", re.DOTALL)


class Place(NamedTuple):
    """A character of a line: the line as it stands, and which one it is without blanks and comments. Its ``column``,
    from 1, is worked out only where it is asked for: nearly all words are never asked."""

    raw: str
    at: int

    @property
    def column(self) -> int:
        blanked = COMMENT.sub(lambda comment: " " * len(comment[0]), self.raw)
        columns = [column for column, sign in enumerate(blanked, 1) if not sign.isspace()]
        if self.at < len(columns):
            return columns[self.at]
        return columns[-1] + 1 if columns else 1


class NormalisedLine:
    """A line's text without its blanks and comments, in capitals, as it is parsed from ``at`` on; ``raw`` as it
    stands."""

    __slots__ = ("at", "line", "raw", "text")

    def __init__(self, line: int, raw: str, text: str):
        self.line, self.raw, self.text, self.at = line, raw, text, 0

    @property
    def place(self) -> Place:
        return Place(self.raw, self.at)

    def fail(self, what: str, at: int | None = None) -> ProgramError:
        return ProgramError(self.line, Place(self.raw, self.at if at is None else at).column, what)

    def peek(self) -> str:
        return self.text[self.at : self.at + 1]

    def expect(self, sign: str, what: str) -> None:
        if self.peek() != sign:
            raise self.fail(what)
        self.at += 1


def parse_value(source: NormalisedLine, depth: int = 0) -> Value:
    """A value as it stands behind a letter or an ``=``: a number, ``#…``, a function or ``[expression]``."""
    if depth > DEEPEST:
        raise source.fail(f"Brackets are nested deeper than {DEEPEST}.")
    sign = source.peek()
    if match := _NUMBER.match(source.text, source.at):
        number = float(match[0])
        if math.isinf(number):
            raise source.fail("The number is too large.")
        source.at = match.end()
        return Number(number)
    if sign == "[":
        return parse_bracket(source, depth)
    if sign == "#":
        source.at += 1
        if name := _NAME.match(source.text, source.at):
            source.at = name.end()
            return Named(name[1].lower())
        return Parameter(parse_value(source, depth + 1))
    if sign in ("-", "+") and sign:
        source.at += 1
        value = parse_value(source, depth + 1)
        return Unary(value) if sign == "-" else value
    word = _WORD.match(source.text, source.at)
    if word and word[0] in FUNCTIONS:
        source.at = word.end()
        return _function(source, word[0], depth)
    what = f"'{source.text[source.at :][:12]}' stands where" if sign else "the line ends where"
    raise source.fail(f"{what} a number, a parameter or [ is expected.")


def _function(source: NormalisedLine, name: str, depth: int) -> Function:
    first = parse_bracket(source, depth + 1)
    if name != "ATAN":
        return Function(name, (first,))
    source.expect("/", "ATAN wants two values, ATAN[a]/[b].")
    return Function(name, (first, parse_bracket(source, depth + 1)))


def parse_bracket(source: NormalisedLine, depth: int = 0) -> Value:
    """``[expression]``."""
    opened = source.at
    source.expect("[", "A [ is expected here.")
    value = _parse_binary(source, 0, depth + 1)
    if source.peek() != "]":
        if not source.peek():
            raise source.fail("The [ here has no ].", opened)
        raise source.fail(f"'{source.text[source.at :][:12]}' stands where an operator or ] is expected.")
    source.at += 1
    return value


def _parse_binary(source: NormalisedLine, weakest: int, depth: int) -> Value:
    left = parse_value(source, depth)
    while match := _OPERATOR.match(source.text, source.at):
        strength = PRECEDENCE[match[0]]
        if strength <= weakest:
            break
        source.at = match.end()
        left = Binary(match[0], left, _parse_binary(source, strength, depth))
    return left


class ValueFault(RunFault):
    """An expression that has no value."""


def _power(left: float, right: float) -> float:
    try:
        result: float | complex = left**right
    except (OverflowError, ZeroDivisionError):
        raise ValueFault(f"{left:g} ** {right:g} has no finite value.") from None
    if isinstance(result, complex):
        raise ValueFault(f"{left:g} ** {right:g} has no real value.")
    return result


def _divide(left: float, right: float) -> float:
    if right == 0:
        raise ValueFault("Division by zero.")
    return left / right


def _modulo(left: float, right: float) -> float:
    if right == 0:
        raise ValueFault("MOD by zero.")
    return left % abs(right)


_OPERATIONS: dict[str, Callable[[float, float], float]] = {
    "**": _power,
    "*": lambda a, b: a * b,
    "/": _divide,
    "MOD": _modulo,
    "+": lambda a, b: a + b,
    "-": lambda a, b: a - b,
    "EQ": lambda a, b: float(a == b),
    "NE": lambda a, b: float(a != b),
    "GT": lambda a, b: float(a > b),
    "GE": lambda a, b: float(a >= b),
    "LT": lambda a, b: float(a < b),
    "LE": lambda a, b: float(a <= b),
    "AND": lambda a, b: float(a != 0 and b != 0),
    "OR": lambda a, b: float(a != 0 or b != 0),
    "XOR": lambda a, b: float((a != 0) != (b != 0)),
}


def _limited(name: str, function: Callable[[float], float]) -> Callable[[float], float]:
    def limited(value: float) -> float:
        try:
            return function(value)
        except (ValueError, OverflowError):
            raise ValueFault(f"{name}[{value:g}] has no value.") from None

    return limited


_CALLS: dict[str, Callable[[float], float]] = {
    "ABS": abs,
    "ACOS": lambda v: math.degrees(math.acos(v)),
    "ASIN": lambda v: math.degrees(math.asin(v)),
    "COS": lambda v: math.cos(math.radians(v)),
    "EXP": math.exp,
    "FIX": lambda v: float(math.floor(v)),
    "FUP": lambda v: float(math.ceil(v)),
    "LN": math.log,
    "ROUND": lambda v: math.copysign(math.floor(abs(v) + 0.5), v),
    "SIN": lambda v: math.sin(math.radians(v)),
    "SQRT": math.sqrt,
    "TAN": lambda v: math.tan(math.radians(v)),
}


def compiled(value: Value) -> Evaluator:
    """The value as a function of a parameter store (angles in degrees, as RS-274 has them).

    The function raises :class:`ValueFault` where there is no value.
    """
    match value:
        case Number(number):
            return lambda store: number
        case Parameter(Number(number)) if number == int(number) and 1 <= number <= HIGHEST:
            index_known = int(number)
            return lambda store: store.at(index_known)
        case Parameter(Number(number)):
            return lambda store: store.number(number)
        case Parameter(inner):
            index = compiled(inner)
            return lambda store: store.number(index(store))
        case Named(name):
            return lambda store: store.named(name)
        case Unary(inner):
            negated = compiled(inner)
            return lambda store: -negated(store)
        case Function("ATAN", (first, second)):
            above, below = compiled(first), compiled(second)
            return lambda store: math.degrees(math.atan2(above(store), below(store)))
        case Function(name, (inner,)):
            argument, call = compiled(inner), _limited(name, _CALLS[name])
            return lambda store: call(argument(store))
        case Binary(operator, left, right):
            one, other, operation = compiled(left), compiled(right), _OPERATIONS[operator]
            return lambda store: operation(one(store), other(store))
    raise TypeError(f"not a value: {value!r}")
