"""Sums that are worked out at once, or written down for a control to work out: the same lines of a routine do both.

Lengths in mm, angles in degrees, as RS-274 has its functions."""

import math
from dataclasses import dataclass
from typing import Protocol, Union

from orthotrope.sequence.allotment import Allotment
from orthotrope.sequence.steps import Compute
from orthotrope.sequence.values import Binary, Function, Number, Unary, Value, length


@dataclass(frozen=True, slots=True)
class Term:
    """A sum that a control works out."""

    value: Value

    def __add__(self, other: "Scalar") -> "Term":
        return _joined("+", self, other)

    def __radd__(self, other: "Scalar") -> "Term":
        return _joined("+", other, self)

    def __sub__(self, other: "Scalar") -> "Term":
        return _joined("-", self, other)

    def __rsub__(self, other: "Scalar") -> "Term":
        return _joined("-", other, self)

    def __mul__(self, other: "Scalar") -> "Term":
        return _joined("*", self, other)

    def __rmul__(self, other: "Scalar") -> "Term":
        return _joined("*", other, self)

    def __truediv__(self, other: "Scalar") -> "Term":
        return _joined("/", self, other)

    def __rtruediv__(self, other: "Scalar") -> "Term":
        return _joined("/", other, self)

    def __neg__(self) -> "Term":
        return Term(self.value.value if isinstance(self.value, Unary) else Unary(self.value))


Scalar = Union[float, Term]  # noqa: UP007 (the name is not bound yet)
"""A number, or a sum that a control works out to one."""


def _value(part: Scalar) -> Value:
    return part.value if isinstance(part, Term) else Number(float(part))


def _is(part: Scalar, number: float) -> bool:
    value = _value(part)
    return isinstance(value, Number) and value.value == number


def _joined(operator: str, left: Scalar, right: Scalar) -> Term:
    """A sum of two parts; without what adds zero or multiplies by one, which a reader would stumble over."""
    if operator in "+-" and _is(right, 0.0):
        return Term(_value(left))
    if operator == "+" and _is(left, 0.0):
        return Term(_value(right))
    if operator in "*/" and _is(right, 1.0):
        return Term(_value(left))
    if operator == "*" and _is(left, 1.0):
        return Term(_value(right))
    if operator == "*" and _is(right, -1.0):
        return -_lifted(left)
    if operator == "*" and (_is(left, 0.0) or _is(right, 0.0)):
        return Term(Number(0.0))
    other = _value(right)
    if operator in "+-" and isinstance(other, Number) and other.value < 0:
        return _joined("-" if operator == "+" else "+", left, Term(Number(-other.value, other.means)))
    if operator in "+-" and isinstance(other, Unary):
        return _joined("-" if operator == "+" else "+", left, Term(other.value))
    if operator == "+" and isinstance(_value(left), Unary):
        return _joined("-", right, -_lifted(left))
    return Term(Binary(operator, _value(left), _value(right)))


def _lifted(part: Scalar) -> Term:
    return Term(_value(part))


class FormulaBackend(Protocol):
    """The functions that sums are made with."""

    def mm(self, value: float) -> Scalar: ...

    def cos(self, angle: Scalar) -> Scalar: ...

    def sin(self, angle: Scalar) -> Scalar: ...

    def atan(self, rise: Scalar, run: Scalar) -> Scalar: ...

    def let(self, name: str, value: Scalar) -> Scalar:
        """A part of a sum that is worked out first and kept by a name."""
        ...


class EvaluatedFormulas:
    """Sums that are worked out at once."""

    def mm(self, value: float) -> float:
        """A length."""
        return value

    def cos(self, angle: Scalar) -> float:
        """Cosine of an angle in degrees."""
        return math.cos(math.radians(_plain(angle)))

    def sin(self, angle: Scalar) -> float:
        """Sine of an angle in degrees."""
        return math.sin(math.radians(_plain(angle)))

    def atan(self, rise: Scalar, run: Scalar) -> float:
        """The angle of a slope, degrees."""
        return math.degrees(math.atan2(_plain(rise), _plain(run)))

    def let(self, name: str, value: Scalar) -> Scalar:
        """The value itself."""
        return value


def _plain(part: Scalar) -> float:
    assert not isinstance(part, Term)
    return float(part)


class WrittenFormulas:
    """Sums that a control works out, in the parameters of an allotment. ``first``: what is worked out before them."""

    def __init__(self, use: Allotment):
        self._use = use
        self.first: list[Compute] = []

    def let(self, name: str, value: Scalar) -> Term:
        """A part of a sum, in a parameter of its own."""
        self.first.append(Compute(self._use.number(name), _value(value), name))
        return Term(self._use.value(name))

    def taken(self) -> list[Compute]:
        """What is to be worked out first; asked once."""
        steps, self.first = self.first, []
        return steps

    def mm(self, value: float) -> Term:
        """A length, in the control's unit."""
        return Term(length(value))

    def cos(self, angle: Scalar) -> Term:
        """Cosine of an angle in degrees."""
        return Term(Function("COS", (_value(angle),)))

    def sin(self, angle: Scalar) -> Term:
        """Sine of an angle in degrees."""
        return Term(Function("SIN", (_value(angle),)))

    def atan(self, rise: Scalar, run: Scalar) -> Term:
        """The angle of a slope, degrees."""
        return Term(Function("ATAN", (_value(rise), _value(run))))
