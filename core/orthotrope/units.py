"""Quantities as people type them: "1.5in", "3/8 in", "2-1/2", "2½", "1 186,5", "12.7 + 0.05", "2 x 48mm".

The core keeps one unit for each kind (:data:`KINDS`); everything typed is turned into it here and nowhere else.
"""

import math
import re
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from typing import Literal
from unicodedata import numeric

from orthotrope.errors import QuantityError

MM_PER_INCH = 25.4
"""Exact, by definition of the inch."""

LENGTHS = {
    "mm": 1.0,
    "cm": 10.0,
    "m": 1000.0,
    "um": 0.001,
    "µm": 0.001,
    "in": MM_PER_INCH,
    "inch": MM_PER_INCH,
    "inches": MM_PER_INCH,
    '"': MM_PER_INCH,
    "″": MM_PER_INCH,
    "thou": MM_PER_INCH / 1000,
}
TIMES = {"s": 1.0, "ms": 0.001, "min": 60.0}
ANGLES = {"°": 1.0, "deg": 1.0, "rad": math.degrees(1.0)}
FEEDS = {
    f"{unit}/{time}": length * 60.0 / seconds
    for unit, length in LENGTHS.items()
    for time, seconds in TIMES.items()
    if time != "ms"
}
ACCELERATIONS = {"mm/s²": 1.0, "mm/s2": 1.0, "m/s²": 1000.0, "m/s2": 1000.0, "in/s²": MM_PER_INCH, "in/s2": MM_PER_INCH}
SURFACE_SPEEDS = {"m/min": 1.0, "ft/min": 0.3048, "m/s": 60.0}
SPEEDS = {"rpm": 1.0, "rev/min": 1.0, "rev/s": 60.0}


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of quantity: its ``unit`` in the core, the unit shown on an inch machine, and all that may be typed."""

    unit: str
    inch_unit: str
    units: dict[str, float]


KINDS: dict[str, Kind] = {
    "length": Kind("mm", "in", LENGTHS),
    "feed": Kind("mm/min", "in/min", FEEDS),
    "angle": Kind("°", "°", ANGLES),
    "speed": Kind("rev/min", "rev/min", SPEEDS),
    "surface speed": Kind("m/min", "ft/min", SURFACE_SPEEDS),
    "time": Kind("s", "s", TIMES),
    "acceleration": Kind("mm/s²", "in/s²", ACCELERATIONS),
    "count": Kind("", "", {}),
}


@dataclass(frozen=True, slots=True)
class Quantity:
    """What was understood: ``value`` in the core's ``unit`` of its kind."""

    value: float
    unit: str


def default_unit(kind: str, machine_unit: str) -> str:
    """The unit that a bare number of this kind has on a machine whose unit is "mm" or "inch"."""
    entry = KINDS[kind]
    return entry.inch_unit if machine_unit == "inch" else entry.unit


SIGNIFICANT = 15
"""Digits that a double holds for certain; sums and conversions are good to as many."""

_SPACES = "[ \u2009\u202f\u00a0]"
_GROUPED = re.compile(rf"[0-9]{{1,3}}(?:{_SPACES}[0-9]{{3}})+(?![0-9])")
_NUMBER = re.compile(r"(?=[.,]?[0-9])[0-9]*(?:[.,][0-9]*)?(?:[eE][+-]?[0-9]+(?![a-z]))?")
_REST = re.compile(r"(?:[.,][0-9]*)?(?:[eE][+-]?[0-9]+(?![a-z]))?")
_FRACTION = re.compile(r"(?:\s+|[-‐–−])([0-9]+)\s*/\s*([0-9]+)(?![0-9.,])")
_SIGN_FRACTION = re.compile(r"\s*[-‐–−]?\s*([¼½¾⅐-⅞])")
_OPERATORS = {"×": "*", "x": "*", "·": "*", "÷": "/", "−": "-", "–": "-"}


def _plain(text: str) -> float:
    """A number with thousands apart or a decimal comma."""
    return float(re.sub(_SPACES, "", text).replace(",", "."))


class _Parser:
    """Recursive descent over one typed text; values are pairs (number in the core's unit, has a unit)."""

    def __init__(self, text: str, kind: Kind, default: str):
        self.text, self.kind, self.default, self.at = text, kind, default, 0
        self.unit_names = sorted(kind.units, key=len, reverse=True)

    def fail(self, what: str, column: int | None = None) -> QuantityError:
        return QuantityError(self.text, self.at if column is None else column, what)

    def peek(self) -> str:
        while self.at < len(self.text) and self.text[self.at].isspace():
            self.at += 1
        sign = self.text[self.at : self.at + 1]
        return _OPERATORS.get(sign, sign)

    def whole(self) -> float:
        if not self.peek():
            raise self.fail("Nothing is entered; type a number, such as 12.5.")
        value, has_unit = self.sum()
        if rest := self.peek():
            if rest in (",", "."):
                raise self.fail(
                    "A number has one decimal sign, a point or a comma; leave thousands apart by a space or not at all."
                )
            units = ", ".join(self.kind.units) or "none"
            raise self.fail(f"'{self.text[self.at :]}' is not understood here; units that fit are: {units}.")
        value = value if has_unit or not self.kind.units else value * self.kind.units[self.default]
        value = float(f"{value:.{SIGNIFICANT}g}")  # 3/8 in is 9.525 mm, and not 9.524999999999999
        if not math.isfinite(value):
            raise self.fail("The result is not a finite number.", 0)
        return value

    def sum(self) -> tuple[float, bool]:
        value, has_unit = self.product()
        while (sign := self.peek()) in ("+", "-") and sign:
            column = self.at
            self.at += 1
            right, right_unit = self.product()
            if has_unit != right_unit:
                raise self.fail("One part of the sum has a unit and the other has none; give both.", column)
            value = value + right if sign == "+" else value - right
        return value, has_unit

    def product(self) -> tuple[float, bool]:
        value, has_unit = self.factor()
        while (sign := self.peek()) in ("*", "/") and sign:
            column = self.at
            self.at += 1
            right, right_unit = self.factor()
            if sign == "*":
                if has_unit and right_unit:
                    raise self.fail("Two values with units can't be multiplied here.", column)
                value *= right
            elif right == 0:
                raise self.fail("Division by zero.", column)
            elif right_unit and not has_unit:  # "3/8 in": the unit belongs to the fraction
                value = value / (right / self.last_unit) * self.last_unit
            else:
                value /= right
                has_unit, right_unit = has_unit and not right_unit, False
            has_unit = has_unit or right_unit
        return value, has_unit

    def factor(self) -> tuple[float, bool]:
        sign = self.peek()
        if sign in ("+", "-") and sign:
            self.at += 1
            value, has_unit = self.factor()
            return (-value if sign == "-" else value), has_unit
        if sign == "(":
            column = self.at
            self.at += 1
            value, has_unit = self.sum()
            if self.peek() != ")":
                raise self.fail("A bracket is opened and not closed.", column)
            self.at += 1
        else:
            value, has_unit = self.number(), False
        if not has_unit and (unit := self.unit()):
            self.last_unit = self.kind.units[unit]
            return value * self.last_unit, True
        return value, has_unit

    def number(self) -> float:
        if alone := _SIGN_FRACTION.match(self.text, self.at):
            self.at = alone.end()
            return numeric(alone[1])
        grouped, match = _GROUPED.match(self.text, self.at), _NUMBER.match(self.text, self.at)
        if grouped and not self._mixed(match.end() if match else 0):
            match = grouped
            end = _REST.match(self.text, match.end())
            self.at = end.end() if end else match.end()
            return _plain(self.text[match.start() : self.at])
        if not match:
            found = self.text[self.at : self.at + 12]
            raise self.fail(
                f"A number is expected here, not '{found}'." if found else "A number is missing at the end."
            )
        self.at = match.end()
        return _plain(match[0]) + (self._fraction() if match[0].isdigit() else 0.0)

    def _mixed(self, at: int) -> "re.Match[str] | None":
        """A proper fraction behind a whole number, as in "1 1/2" and "2-1/2"; what is larger than one is no part of
        it."""
        found = _FRACTION.match(self.text, at)
        return found if found and int(found[1]) < int(found[2]) else None

    def _fraction(self) -> float:
        if found := self._mixed(self.at):
            self.at = found.end()
            return int(found[1]) / int(found[2])
        if sign := _SIGN_FRACTION.match(self.text, self.at):
            self.at = sign.end()
            return numeric(sign[1])
        return 0.0

    def unit(self) -> str | None:
        self.peek()
        for name in self.unit_names:
            end = self.at + len(name)
            if self.text[self.at : end].lower() == name.lower() and not self.text[end : end + 1].isalpha():
                self.at = end
                return name
        return None


def read_quantity(text: str, kind: str, machine_unit: str = "mm") -> Quantity:
    """Read a typed quantity: numbers, fractions, brackets, + − × ÷ and units.

    A result without any unit is in the machine's own unit ("mm" or "inch").

    Raises:
        QuantityError: with the column and a sentence, where the text can't be understood or isn't finite.
    """
    if len(text) > 200:
        raise QuantityError(text, 200, "The entry is longer than 200 characters.")
    entry = KINDS[kind]
    try:
        return Quantity(_Parser(text, entry, default_unit(kind, machine_unit)).whole(), entry.unit)
    except (OverflowError, RecursionError):
        raise QuantityError(text, 0, "The result is not a finite number.") from None


def round_to_step(value: float, step: float) -> float:
    """``value`` at the nearest multiple of ``step``, halves away from zero."""
    count = math.floor(abs(value) / step + 0.5)
    nearest = count * step
    return math.copysign(nearest, value) if nearest else 0.0


Shown = Literal["mm", "inch"]
_shown: ContextVar[Shown] = ContextVar("shown", default="mm")


@contextmanager
def shown_in(unit: object) -> Iterator[None]:
    """Within it, lengths and feeds in messages are in this unit of a machine, "mm" or "inch"; what is neither is
    millimetres."""
    token = _shown.set("inch" if unit == "inch" else "mm")
    try:
        yield
    finally:
        _shown.reset(token)


def _trimmed(value: float, decimals: int) -> str:
    text = f"{value:.{decimals}f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return ("0" if text == "-0" else text).replace("-", "−")


def in_unit(value: float) -> str:
    """A length (mm) in a message, in the unit that is shown: three decimals at most (inch: four), a true minus sign."""
    return _trimmed(value / MM_PER_INCH, 4) if _shown.get() == "inch" else _trimmed(value, 3)


def in_column(value: float) -> str:
    """A length (mm) in a column of a table, in the unit that is shown: three decimals (inch: four), a true minus sign."""
    text = f"{value / MM_PER_INCH:.4f}" if _shown.get() == "inch" else f"{value:.3f}"
    return text.replace("-", "−")


def with_unit(value: float) -> str:
    """A length (mm) in a message with its unit."""
    return f"{in_unit(value)} {'in' if _shown.get() == 'inch' else 'mm'}"


def feed_with_unit(value: float) -> str:
    """A feed (mm/min) in a message with its unit."""
    return f"{_trimmed(value / MM_PER_INCH, 2)} in/min" if _shown.get() == "inch" else f"{_trimmed(value, 3)} mm/min"


def shown_unit(unit: str) -> tuple[float, str]:
    """What a value in one of the core's units is to be divided by where inches are shown, and the unit's name there."""
    kind = next((kind for kind in KINDS.values() if kind.unit == unit), None)
    if kind is None or kind.inch_unit == unit or _shown.get() != "inch":
        return 1.0, unit
    return kind.units[kind.inch_unit], kind.inch_unit
