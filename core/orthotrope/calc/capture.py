"""Which number of a machine goes where: from its position to a quantity of the Setup, and from series of readings."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal, cast

from orthotrope.calc.metrology import RepeatabilityInput, repeatability
from orthotrope.errors import InputError
from orthotrope.setup import Setup
from orthotrope.setup.keys import at, keyed
from orthotrope.setup.machine import AXES, AxisName
from orthotrope.units import round_to_step, with_unit

Vector = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Offer:
    """A number on its way into the Setup.

    ``quantity``: what it is for (JSON pointer); ``value``: what it becomes, rounded to ``step`` from ``raw``; ``says``:
    how it comes about; ``edit_at`` and ``edit``: the value to be put where in the document; ``now``: what stands there,
    None: nothing yet."""

    quantity: str
    axis: AxisName
    raw: float
    value: float
    step: float
    says: str
    edit_at: str
    edit: Any
    now: float | None


_MEASURED = re.compile(r"^/machine/axes/([XYZ])/measured/(least|greatest)$")
_NOSE = re.compile(r"^/changer/(?:heights/(touch_z|stored_top_z|park_z)|z)$")
_PLAN = re.compile(
    r"^/(?:changer/rack/datum|changer/rack/taught/\d+|changer/exchange|changer|bodies/\d+|setters/\d+|work_offsets/\d+)/([xy])$"
)
_TIP = re.compile(
    r"^/(?:bodies/\d+/(?:top_z|bottom_z)|work_offsets/\d+/z|changer/reserved/\d+/top_z|setters/\d+/(?:plane_z|bottom_z))$"
)
_STORED = re.compile(r"^/positions/\d+/moves/\d+/([XYZ])$")
_SERIES = re.compile(r"^/machine/axes/([XYZ])/(home_scatter|backlash)$")


def axis_of(pointer: str) -> AxisName | None:
    """The axis whose position a quantity can be taken from; None where it can't."""
    for pattern in (_MEASURED, _STORED, _PLAN):
        if found := pattern.match(pointer):
            return found[1].upper()  # type: ignore[return-value]
    return "Z" if _NOSE.match(pointer) or _TIP.match(pointer) else None


def offer(setup: Setup, pointer: str, position: Vector, tool: int | None) -> Offer:
    """What a machine's position (gauge line, machine coordinates, mm) makes of a quantity.

    ``tool``: the tool in the spindle, 0 none, None not known. A height that a tip stands on is Z less the tool's
    length.

    Raises:
        InputError: where the quantity is no place of the machine, or the tool's length is needed and not known.
    """
    axis = axis_of(pointer)
    if axis is None:
        raise InputError.at(pointer, "This quantity can't be taken from the machine's position; type it.")
    document = setup.as_json()
    raw, says = position[AXES.index(axis)], f"machine {axis}"
    if _TIP.match(pointer):
        if tool is None:
            raise InputError.at(
                pointer,
                "The machine does not report which tool is in the spindle; the height of its tip is not "
                "known. Type the value.",
            )
        if tool:
            length = setup.tool(tool).length
            raw, says = raw - length, f"machine Z − length of T{tool}, {with_unit(length)}"
    elif _NOSE.match(pointer) and tool:
        says += f"; T{tool} is in the spindle, this is the nose above it"
    step = setup.machine.axes[axis].resolution
    value = round(round_to_step(raw, step), 9)
    edit_at, edit = pointer, cast(Any, value)
    measured = _MEASURED.match(pointer)
    if measured:
        travel = setup.machine.axes[axis].travel
        ends = {"least": travel.least, "greatest": travel.greatest, measured[2]: value}
        edit_at, edit = f"/machine/axes/{axis}/measured", ends
        now = ends_now.model_dump()[measured[2]] if (ends_now := setup.machine.axes[axis].measured) else None
    else:
        keyed(document, pointer)  # it must be there
        now = at(document, pointer)
    return Offer(pointer, axis, raw, value, step, says, edit_at, edit, now)


def targets(setup: Setup, pointer: str) -> dict[AxisName, float]:
    """Where the machine would have to stand for the quantity's stored place: by axis, mm. Both axes of a datum, all
    axes of a stored position; empty where it has no place."""
    document = setup.as_json()
    if found := re.match(r"^/positions/(\d+)/moves/\d+/[XYZ]$", pointer):
        moves = setup.positions[int(found[1])].moves
        return {axis: value for move in moves for axis, value in move.axes}
    if _PLAN.match(pointer):
        place = at(document, pointer.rsplit("/", 1)[0])
        return {"X": place["x"], "Y": place["y"]}
    axis = axis_of(pointer)
    if measured := _MEASURED.match(pointer):
        data = setup.machine.axes[measured[1]]  # type: ignore[index]
        return {axis: data.travel.least if measured[2] == "least" else data.travel.greatest} if axis else {}
    return {axis: at(document, pointer)} if axis and not _TIP.match(pointer) else {}


@dataclass(frozen=True, slots=True)
class SeriesReading:
    """One reading of a dial: its value in mm, and from which side the axis came (1 upwards, −1 downwards)."""

    value: float
    came: Literal[1, -1]


@dataclass(frozen=True, slots=True)
class SeriesResult:
    """What a series says: the value for the Setup, and how it comes about."""

    value: float
    says: str


FEWEST = 3
"""Readings that a repeatability needs."""


def series_result(pointer: str, readings: Sequence[SeriesReading]) -> SeriesResult:
    """The scatter of home (twice the standard deviation) or the backlash (difference of the means from both sides).

    Raises:
        InputError: where there are too few readings, or all came from one side.
    """
    found = _SERIES.match(pointer)
    if not found:
        raise InputError.at(pointer, "A series belongs to the scatter of home or the backlash of an axis.")
    if found[2] == "home_scatter":
        if len(readings) < FEWEST:
            raise InputError.at(
                pointer,
                f"The scatter of home wants {FEWEST} readings or more; there are {len(readings)}. Home, "
                "go back to the dial and take the next.",
            )
        spread = repeatability(RepeatabilityInput(readings=[reading.value for reading in readings]))
        return SeriesResult(
            round(2 * spread.std, 6), f"2 · standard deviation of {spread.n} readings, range {with_unit(spread.range)}"
        )
    up = [reading.value for reading in readings if reading.came > 0]
    down = [reading.value for reading in readings if reading.came < 0]
    if not up or not down:
        raise InputError.at(
            pointer,
            f"Backlash wants readings from both sides; there are {len(up)} coming upwards and "
            f"{len(down)} coming downwards.",
        )
    value = abs(sum(down) / len(down) - sum(up) / len(up))
    return SeriesResult(round(value, 6), f"mean of {len(down)} from above − mean of {len(up)} from below")
