"""What can be measured → its planner."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

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


Finds = Literal["length", "plane", "deviation", "zero", "nothing"]
"""What a sequence is for: a tool's length, which is set; a setter's plane height or a tool's deviation from its record, which are left in a
parameter; the zero of a part, by a plate that is laid on it; or nothing: it touches nothing, and needs no setter."""


USUAL = "measure"
"""The sequence that is meant where none is named."""


@dataclass(frozen=True, slots=True)
class MeasuringKind:
    """A measuring sequence: how it is planned, and what it ``finds``."""

    plan: Callable[[MeasuringRequest], Sequence]
    finds: Finds

    @property
    def is_laid(self) -> bool:
        """Whether it touches a plate that is laid on a part."""
        return self.finds == "zero"


MEASURING: Registry[MeasuringKind] = Registry("measuring sequence", "orthotrope.sequence.measuring.*", sort=False)


def finds(
    name: str, what: Finds
) -> Callable[[Callable[[MeasuringRequest], Sequence]], Callable[[MeasuringRequest], Sequence]]:
    """Register a planner as the measuring sequence of this name."""

    def register(plan: Callable[[MeasuringRequest], Sequence]) -> Callable[[MeasuringRequest], Sequence]:
        MEASURING.add(name, MeasuringKind(plan, what))
        return plan

    return register


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
    kind = MEASURING.find(name, "/sequence")
    for number in tools:
        setup.tool(number)
    across = setup.machine.axes.across
    middle = tuple((axis.soft_least + axis.soft_greatest) / 2 for axis in across)
    at = called_at or (middle[0], middle[1])
    found = None if kind.finds == "nothing" else setter_for(setup, derive(setup), setter, kind.is_laid)
    return kind.plan(MeasuringRequest(setup, found, profile or setup.profile, tools, at))


def one_tool(wanted: MeasuringRequest) -> int:
    """The one tool that a sequence is for.

    Raises:
        InputError: where none is said, or several are.
    """
    if len(wanted.tools) != 1:
        said = ", ".join(f"T{number}" for number in wanted.tools) or "none"
        raise InputError.at("/tool", f"`tool` must be one tool here; got {said}.")
    return wanted.tools[0]
