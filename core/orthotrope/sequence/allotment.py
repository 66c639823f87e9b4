"""What a written program uses of a control: working parameters and labels, handed out by name, so that none is a loose
number."""

from orthotrope.sequence.values import Value, parameter
from orthotrope.setup.control import Parameters

WORKING = (
    "pocket from", "pocket to", "pocket 1 x", "pocket 1 y", "step x", "step y", "couple", "hover", "empty", "carry", "park",
    "place from x", "place from y", "place to x", "place to y", "mouth x", "mouth y", "search", "spare", "timer",
    "touched", "sum", "lowest", "highest", "result", "expected", "first side", "second side", "diameter", "beside",
    "found x", "found y", "found z", "found size", "found other size", "found turn", "middle x", "middle y",
    *(f"touch {number}" for number in range(1, 15)),
    "slope along x", "slope along y", "line along x", "line along y", "turn along x", "turn along y",
)  # fmt: skip
"""The working parameters in the order in which they follow the profile's first one."""

LABELS = {
    "fetch": 100, "fetch on": 110, "leave empty": 150, "back": 200, "nothing moves": 900, "no such tool": 910, "record": 920,
}  # fmt: skip
"""Labels that every program of all pairs has."""

MISSING_FIRST, OWN_FIRST = 930, 1001
"""Where the labels of inputs that do not come begin, and those that a style brings."""


class Allotment:
    """The numbers of one program. The same names in the same order are given the same numbers."""

    def __init__(self, known: Parameters, own_first: int = OWN_FIRST):
        self.known, self.own_first = known, own_first
        self._labels = dict(LABELS)
        self.missing: dict[str, int] = {}
        """Role of an input → the label at which the program goes on where it does not come."""
        self.early: dict[str, int] = {}
        """Role of an input → the label at which it goes on where it is made before it can be."""

    def number(self, name: str) -> int:
        """The number of a working parameter."""
        return self.known.working_first + 1 + WORKING.index(name)

    def value(self, name: str) -> Value:
        """What a working parameter holds."""
        return parameter(self.number(name))

    def label(self, name: str) -> int:
        """A label; a name that is not among those of every program is given one of its own."""
        own = len(self._labels) - len(LABELS)
        return self._labels.setdefault(name, self.own_first + own)

    def early_label(self, role: str) -> int:
        """The label at which the program goes on where the input of this role is made too early."""
        return self.early.setdefault(role, self.label(f"{role}, too early"))

    def has(self, name: str) -> bool:
        """Whether a label of this name was asked for, or is one of every program."""
        return name in self._labels

    def missing_label(self, role: str) -> int:
        """The label at which the program goes on where the input of this role does not come."""
        return self.missing.setdefault(role, MISSING_FIRST + len(self.missing))
