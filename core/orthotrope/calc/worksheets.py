"""Ways to a tool's length, each as a sum whose terms are reported with their signs."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Literal

from orthotrope.calc.derived import derive
from orthotrope.calc.lengths import (
    LengthAtSetterInput,
    LengthAtSurfaceInput,
    LengthByDifferenceInput,
    length_at_setter,
    length_at_surface,
    length_by_difference,
)
from orthotrope.calc.setters import measuring_setter
from orthotrope.errors import InputError
from orthotrope.setup import Setup
from orthotrope.setup.tools import Tool
from orthotrope.units import MM_PER_INCH, in_unit, with_unit

Way = Literal["setter", "difference", "surface", "presetter"]

FAR = 5.0
"""mm; a length that is further off its record is asked about."""


@dataclass(frozen=True, slots=True)
class SheetTerm:
    """One term of a length, mm, as it stands in the sum: ``sign`` 1 or −1."""

    name: str
    value: float
    sign: int


@dataclass(frozen=True, slots=True)
class Worksheet:
    """A length, mm, the terms that it is the sum of, how much longer it is than on record, and what is doubtful in it;
    ``how`` it came about, in words, to be kept with the reading."""

    length: float
    terms: tuple[SheetTerm, ...]
    off: float
    says: tuple[str, ...]
    how: str


@dataclass(frozen=True, slots=True)
class Entered:
    """What was entered. ``value``: the readout, machine Z, or what the presetter shows; ``shim``: what lies between tip and
    surface; ``height``: of the surface above the zero of work offset ``offset``; mm. ``active``: the work offset that was
    active, None: not known. ``reference``: the tool whose length was active."""

    value: float
    shim: float = 0.0
    height: float = 0.0
    offset: int | None = None
    active: int | None = None
    reference: int | None = None


def worksheet(setup: Setup, way: Way, number: int, entered: Entered) -> Worksheet:
    """A tool's length in one of the ways.

    Raises:
        InputError: where there is no such tool or work offset, or the sum is no length.
    """
    tool = setup.tool(number)
    terms, length, how, says = WAYS[way](setup, tool, entered)
    if length <= tool.stick_out:
        what = f"The sum is {with_unit(length)}; a length must be more than the stick-out, {with_unit(tool.stick_out)}."
        raise InputError.at("/value", f"{what} Look at the signs.")
    return Worksheet(length, terms, length - tool.whole_length, (*says, *_plausible(tool, length)), how)


Sum = tuple[tuple[SheetTerm, ...], float, str, tuple[str, ...]]


def _setter(setup: Setup, tool: Tool, entered: Entered) -> Sum:
    """On the setter: machine Z at the touch − the plane height."""
    found = measuring_setter(setup, derive(setup))
    if found is None:
        raise InputError.at("/setters", "There is no setter whose place is known; add one on the Setter stage.")
    plane = found.setter.plane_z
    length = length_at_setter(LengthAtSetterInput(trigger_z=entered.value, plane_z=plane)).length
    terms = SheetTerm("machine Z at the touch", entered.value, 1), SheetTerm("plane height", plane, -1)
    return terms, length, f"on {found.setter.name}: Z {in_unit(entered.value)}", ()


def _difference(setup: Setup, tool: Tool, entered: Entered) -> Sum:
    """Against a reference tool: its length + what the readout shows − the shim; the zero is where the reference tool
    touched the same surface, and its length is active."""
    if entered.reference is None:
        raise InputError.at("/reference", "`reference` is missing; say which tool the difference is against.")
    reference = setup.tool(entered.reference)
    if reference.number == tool.number:
        raise InputError.at("/reference", f"`reference` must be another tool than T{tool.number}.")
    found = length_by_difference(
        LengthByDifferenceInput(reference_length=reference.whole_length, reading=entered.value, shim=entered.shim)
    )
    terms = (
        SheetTerm(f"length of T{reference.number}", reference.whole_length, 1),
        SheetTerm("readout", entered.value, 1),
        SheetTerm("shim", entered.shim, -1),
    )
    how = f"against T{reference.number}: readout {in_unit(entered.value)}, shim {with_unit(entered.shim)}"
    return terms, found.length, how, tuple(_other_offset(entered))


def _surface(setup: Setup, tool: Tool, entered: Entered) -> Sum:
    """Resting on a surface whose machine Z is known: machine Z − that of the surface − the shim."""
    zero = next((offset.z for offset in setup.work_offsets if offset.number == entered.offset), None)
    if zero is None:
        raise InputError.at("/offset", "`offset` must be a work offset of this machine; choose the one of the surface.")
    surface = zero + entered.height
    found = length_at_surface(LengthAtSurfaceInput(z=entered.value, surface_z=surface, shim=entered.shim))
    terms = (
        SheetTerm("machine Z", entered.value, 1),
        SheetTerm(f"zero of work offset {entered.offset}", zero, -1),
        SheetTerm("height of the surface above it", entered.height, -1),
        SheetTerm("shim", entered.shim, -1),
    )
    how = f"at a surface of work offset {entered.offset}: Z {in_unit(entered.value)}, shim {with_unit(entered.shim)}"
    return terms, found.length, how, tuple(_other_offset(entered))


def _presetter(setup: Setup, tool: Tool, entered: Entered) -> Sum:
    """As a presetter shows it, and how much further its gauge line is from the spindle's."""
    terms = (SheetTerm("presetter", entered.value, 1), SheetTerm("its gauge line", entered.height, 1))
    return terms, entered.value + entered.height, f"from a presetter: {with_unit(entered.value)}", ()


def _other_offset(entered: Entered) -> Iterable[str]:
    if entered.active is not None and entered.offset is not None and entered.active != entered.offset:
        yield (
            f"Work offset {entered.active} is active, and the surface was zeroed in {entered.offset}: call that one, and "
            f"read again."
        )


def _plausible(tool: Tool, length: float) -> Iterable[str]:
    ratio = length / tool.whole_length
    if any(abs(ratio / factor - 1) < 0.02 for factor in (MM_PER_INCH, 1 / MM_PER_INCH)):
        yield "It is 25.4 times its record, or the 25.4th part of it: is it in the other unit?"
    elif abs(length - tool.whole_length) > FAR:
        yield f"It is {with_unit(abs(length - tool.whole_length))} off its record: is it T{tool.number}?"


WAYS: dict[Way, Callable[[Setup, Tool, Entered], Sum]] = {
    "setter": _setter,
    "difference": _difference,
    "surface": _surface,
    "presetter": _presetter,
}
"""What each way's sum is."""
