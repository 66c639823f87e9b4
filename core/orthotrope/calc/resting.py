"""What a measured value rests on: the plane height, the tip and the home that it was measured with. Where one of these is replaced, what
rests on it is to be measured again."""

from dataclasses import dataclass, field
from typing import Any

from orthotrope.errors import InputError
from orthotrope.setup import Setup
from orthotrope.setup.keys import at, unkeyed
from orthotrope.setup.machine import AxisName
from orthotrope.setup.probes import Probe
from orthotrope.setup.quantities import quantity_at
from orthotrope.setup.setters import Setter
from orthotrope.validation import parts_of, pointer

RestsOn = dict[str, float | None]
"""Quantities by their keyed JSON pointers, with the values that they had when something was measured with them (None: none)."""

SAME = 1e-9
"""Values that differ by less are the same number."""


@dataclass(frozen=True, slots=True)
class RunOf:
    """What is run at a machine: a measuring ``sequence`` of ``tools`` at a ``setter``, or a ``routine`` ("": none), and what its
    results rest on."""

    sequence: str = ""
    tools: tuple[int, ...] = ()
    setter: str = ""
    routine: str = ""
    rests_on: RestsOn = field(default_factory=dict)


def of_setter(setup: Setup, setter: Setter) -> RestsOn:
    """What lengths measured at a setter rest on: its plane height, its measuring feed, and the home of Z."""
    base = ["setters", setter.name]
    return {
        pointer([*base, "plane_z"]): setter.plane_z,
        pointer([*base, "measure_feed"]): setter.measure_feed,
        **_home(setup, ("Z",)),
    }


def of_reference(setup: Setup, setter: Setter, number: int) -> RestsOn:
    """What a plane height rests on that was found with a reference tool: its length, the measuring feed, the home of Z."""
    tool = setup.tool(number)
    return {
        pointer(["tools", number, "length"]): tool.length,
        pointer(["tools", number, "wear"]): tool.wear,
        pointer(["setters", setter.name, "measure_feed"]): setter.measure_feed,
        **_home(setup, ("Z",)),
    }


def of_probe(setup: Setup, probe: Probe) -> RestsOn:
    """What is found with a probe rests on: its tip as it was qualified, its length, and home."""
    base = ["probes", probe.name]
    fields = ("effective_diameter", "effective_x", "effective_y", "qualified_feed", "off_x", "off_y", "angle_deg")
    return {
        **{pointer([*base, name]): getattr(probe, name) for name in fields},
        pointer(["tools", probe.tool, "length"]): setup.tool(probe.tool).length,
        **_home(setup, ("X", "Y", "Z")),
    }


def _home(setup: Setup, axes: tuple[AxisName, ...]) -> RestsOn:
    ends = {axis: setup.machine.axes[axis].home for axis in axes}
    return {f"/machine/axes/{axis}/{end}": getattr(setup.machine.axes[axis], end) for axis, end in ends.items()}


def replaced(document: Any, rests_on: RestsOn) -> list[str]:
    """The pointers (keyed) of what has another value in a document than it had, or is not there any more."""
    found = []
    for keyed, value in rests_on.items():
        where = unkeyed(document, keyed)
        try:
            now = at(document, where) if where else ...
        except InputError:
            now = ...
        same = now == value or (
            isinstance(now, float | int) and isinstance(value, float | int) and abs(now - value) <= SAME
        )
        if not same:
            found.append(keyed)
    return found


def named(keyed: str) -> str:
    """What a quantity of a setter, probe, tool or axis is called, with whose it is; a pointer of another kind as it is."""
    parts = parts_of(keyed)
    if len(parts) < 3:
        return keyed
    quantity = quantity_at(keyed)
    name = quantity.name if quantity else parts[-1].replace("_", " ")
    owner = {"tools": f"T{parts[1]}", "machine": f"axis {parts[2]}"}.get(parts[0], parts[1])
    return f"{name[:1].lower()}{name[1:]} of {owner}"
