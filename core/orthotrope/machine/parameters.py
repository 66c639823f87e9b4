"""The parameters of a control while a program runs."""

from collections.abc import Mapping
from functools import lru_cache

from orthotrope.machine.inputs import WorldInput
from orthotrope.machine.touches import Touches
from orthotrope.machine.watch import Watch
from orthotrope.program.expressions import HIGHEST, ValueFault
from orthotrope.setup.control import Parameters
from orthotrope.setup.numbering import OFFSETS_FIRST, OFFSETS_STEP, SHIFT_FIRST
from orthotrope.units import MM_PER_INCH

_LENGTHS = frozenset(
    [*range(5161, 5167), *range(5181, 5187), *range(SHIFT_FIRST, SHIFT_FIRST + 6)]
    + [first + k for first in range(OFFSETS_FIRST, OFFSETS_FIRST + 9 * OFFSETS_STEP, OFFSETS_STEP) for k in range(6)]
)
"""Parameters that hold lengths on every control: home places, the shift, the work offsets."""


SYSTEM = range(5000, 6000)
"""Parameters that a control sets itself; those that are not simulated are reported where they are read."""


@lru_cache
def lengths_of(known: Parameters) -> frozenset[int]:
    """The parameters that hold lengths on a control of this profile, those that the profile places among them. The
    store keeps them in mm; a program sees them in the unit that is active."""
    return _LENGTHS.union(
        range(known.called_at_first, known.called_at_first + 3), range(known.latched_first, known.latched_first + 6)
    )


class ParameterStore:
    """Numbered and named parameters. ``inch``: the active unit; ``read`` collects the numbers that were read;
    ``inputs`` are those that stand for what is read with them: an input, or None for the caller's unit; the ``watch`` is
    reported. ``followed`` are watched: ``met`` tells that
    one of them was read, or what they stand for was read otherwise. ``unit_met``: whether anything depended on the active
    unit, or on the caller's. ``touches``: what became of the touches that there were;
    None: there was none yet."""

    def __init__(self, values: dict[int, float], known: Parameters):
        self.values = values
        self.lengths = lengths_of(known)
        self.names: dict[str, float] = {}
        self.inch = False
        self.read: set[int] = set()
        self.inputs: Mapping[int, WorldInput | None] = {}
        self.watch: Watch | None = None
        self.followed: set[int] = set()
        self.met = False
        self.touches: Touches | None = None
        self.unit_met = False

    @staticmethod
    def index(number: float) -> int:
        index = round(number)
        if abs(number - index) > 1e-6 or not 1 <= index <= HIGHEST:
            raise ValueFault(f"There is no parameter #{number:g}; they have whole numbers from 1 to {HIGHEST}.")
        return index

    def number(self, number: float) -> float:
        return self.at(self.index(number))

    def at(self, index: int) -> float:
        """The value of a parameter whose number is known to be one."""
        self.read.add(index)
        if index in self.followed:
            self.met = True
        if self.touches:
            self.touches.read(index)
        if self.watch and index in self.inputs:
            entry = self.inputs[index]
            return self.called_unit(index) if entry is None else self.watch.read(entry)
        value = self.values.get(index)
        if value is None:
            value = 0.0
            if index in SYSTEM and index not in self.lengths and self.watch:
                self.watch.machine.journal.event("not-simulated", what=f"#{index}, which is read as 0")
        if index in self.lengths:
            self.unit_met = True
            return value / MM_PER_INCH if self.inch else value
        return value

    def called_unit(self, index: int) -> float:
        """The caller's unit: what follows depends on it."""
        assert self.watch
        self.watch.machine.journal.dependencies.add("unit")
        self.unit_met = True
        return self.values.get(index, 0.0)

    def named(self, name: str) -> float:
        if name not in self.names:
            raise ValueFault(f"#<{name}> is read before it is set.")
        if self.touches:
            self.touches.read(name)
        return self.names[name]

    def set(self, number: float, value: float) -> int:
        index = self.index(number)
        if index in self.lengths:
            self.unit_met = True
            value = value * MM_PER_INCH if self.inch else value
        self.values[index] = value
        return index

    def offset(self, number: int) -> tuple[float, float, float]:
        """Work offset 1 to 9, machine coordinates, mm."""
        first = OFFSETS_FIRST + (number - 1) * OFFSETS_STEP
        return self.values.get(first, 0.0), self.values.get(first + 1, 0.0), self.values.get(first + 2, 0.0)

    def shift(self) -> tuple[float, float, float]:
        """The shift of G92, mm."""
        x, y, z = (self.values.get(SHIFT_FIRST + axis, 0.0) for axis in range(3))
        return x, y, z
