"""Reading back: what a control shows against what was meant, and the likely slip of the hand."""

from typing import Annotated

from pydantic import Field

from orthotrope.calc.registry import Result, calculation
from orthotrope.units import MM_PER_INCH
from orthotrope.validation import Record


class ReadBackInput(Record):
    """Both values in the unit in which the control shows them; ``decimals`` as many as it shows."""

    meant: float
    shown: float
    decimals: Annotated[int, Field(ge=0, le=8)]


class ReadBackOutput(Result):
    """``difference`` is shown less meant; ``slip`` names what probably happened, "" where they agree or nothing
    fits."""

    difference: float
    agrees: bool
    slip: str


@calculation("read-back", "the difference between what a control shows and what was meant, and the likely slip")
def read_back_value(data: ReadBackInput) -> ReadBackOutput:
    """They agree when they are less than half of the last decimal apart, what rounding may do."""
    half = 0.5 * 10.0**-data.decimals
    difference = data.shown - data.meant
    agrees = abs(difference) <= half * (1 + 1e-9)
    return ReadBackOutput(difference=difference, agrees=agrees, slip="" if agrees else _slip(data, half))


def _slip(data: ReadBackInput, half: float) -> str:
    meant, shown = data.meant, data.shown

    def near(value: float) -> bool:
        return abs(shown - value) <= half * (1 + 1e-9)

    if near(-meant):
        return "the sign is the other one"
    for factor, unit in (
        (MM_PER_INCH, "millimetres where inches are meant"),
        (1 / MM_PER_INCH, "inches where millimetres are meant"),
    ):
        if meant and near(meant * factor):
            return f"{unit} (a factor of 25.4)"
    for power in (1, 2, 3, -1, -2, -3):
        if meant and near(meant * 10.0**power):
            return "the decimal point is elsewhere"
    wanted, got = (f"{abs(value):.{data.decimals}f}" for value in (meant, shown))
    if (meant < 0) == (shown < 0):
        if any(wanted[:i] + wanted[i + 1] + wanted[i] + wanted[i + 2 :] == got for i in range(len(wanted) - 1)):
            return "two digits are swapped"
        digits, typed = wanted.replace(".", ""), got.replace(".", "")
        if _without_one(digits, typed) or _without_one(wanted.rstrip("0"), got.rstrip("0")):
            return "a digit is lost"
        if _without_one(typed, digits) or _without_one(got.rstrip("0"), wanted.rstrip("0")):
            return "a digit is doubled or too many"
        if len(wanted) == len(got) and sum(a != b for a, b in zip(wanted, got, strict=True)) == 1:
            return "one digit is another"
    return ""


def _without_one(longer: str, shorter: str) -> bool:
    return any(longer[:i] + longer[i + 1 :] == shorter for i in range(len(longer)))
