"""What can be measured → its planner."""

from collections.abc import Callable
from dataclasses import dataclass

from orthotrope.calc.derived import derive
from orthotrope.calc.setters import DerivedSetter, setter_for
from orthotrope.errors import InputError
from orthotrope.registry import Registry
from orthotrope.sequence.steps import Sequence
from orthotrope.setup import Setup
from orthotrope.setup.control import ControlProfile


@dataclass(frozen=True, slots=True)
class MeasuringRequest:
    """What is to be measured, at which setter (None: it touches nothing), and with which control. ``tools``: their numbers; ``called_at``: machine
    X, Y that a control without parameters goes back to, mm."""

    setup: Setup
    setter: DerivedSetter | None
    profile: ControlProfile
    tools: tuple[int, ...]
    called_at: tuple[float, float]


MEASURING: Registry[Callable[[MeasuringRequest], Sequence]] = Registry(
    "measuring sequence", "orthotrope.sequence.measuring.*", sort=False
)


MOVES_NOTHING = frozenset({"renew"})
"""The sequences that touch nothing, and need no setter."""

FINDS_PLANE = frozenset({"calibrate"})
"""The sequences whose result is a plane height, not a length."""

LAID = frozenset({"plate"})
"""The sequences that touch a plate which is laid on a part."""


def plan_measuring(
    setup: Setup,
    name: str,
    tools: tuple[int, ...] = (),
    profile: ControlProfile | None = None,
    setter: str | None = None,
    called_at: tuple[float, float] | None = None,
) -> Sequence:
    """The steps of a measuring sequence, by its name.

    Raises:
        InputError: where there is no such sequence, no setter, no such tool, or a tool does not fit the setter.
    """
    planner = MEASURING.find(name, "/sequence")
    for number in tools:
        setup.tool(number)
    across = setup.machine.axes.across
    middle = tuple((axis.soft_least + axis.soft_greatest) / 2 for axis in across)
    at = called_at or (middle[0], middle[1])
    found = None if name in MOVES_NOTHING else setter_for(setup, derive(setup), setter, name in LAID)
    return planner(MeasuringRequest(setup, found, profile or setup.profile, tools, at))


def one_tool(wanted: MeasuringRequest) -> int:
    """The one tool that a sequence is for.

    Raises:
        InputError: where none is said, or several are.
    """
    if len(wanted.tools) != 1:
        said = ", ".join(f"T{number}" for number in wanted.tools) or "none"
        raise InputError.at("/tool", f"`tool` must be one tool here; got {said}.")
    return wanted.tools[0]
