"""Faults of checks.md: what each makes of a world and of a call."""

from dataclasses import replace

from orthotrope.errors import InputError
from orthotrope.machine.inputs import WorldInput
from orthotrope.machine.run import Call
from orthotrope.machine.virtual import CHANGER_ROLES
from orthotrope.machine.world import GripPockets, ThreadPockets, World, WorldTool

FAULTS = ("none", "touch-input-dead", "touch-input-stuck", "touch-input-inverted", "grip-stays-shut", "grip-stays-open",
          "sensor-dead", "pocket-full", "pocket-empty", "tool-long", "tool-short", "wrong-tool", "air-low", "unit-other",
          "not-homed", "override-low", "override-high", "stopped")  # fmt: skip

WRONG_BY = 10.0
"""mm; how much a tool is longer or shorter than its record in tool-long and tool-short (checks.md)."""

OVERRIDES = {"override-low": 0.1, "override-high": 1.5}

DRIVEN_BY_AIR = frozenset({"open", "disc", "pot", "arm swing", "arm stroke", "arm turn", "blow air"})

ACTS_NOT: dict[str, frozenset[str]] = {"grip-stays-shut": frozenset({"open"}), "grip-stays-open": frozenset({"closed"}),
                                       "air-low": DRIVEN_BY_AIR}  # fmt: skip
"""What does not act under a fault: springs close the grip, air does the rest."""

TELL_OF_EXCHANGE = CHANGER_ROLES | {"oriented", "spindle still"}
"""Roles of the inputs that an exchange may wait for."""


def sensors(world: World) -> tuple[WorldInput, ...]:
    """The inputs that tell what the changer's devices have done."""
    return tuple(entry for entry in world.inputs if entry.role in TELL_OF_EXCHANGE)


def applies(world: World, fault: str, from_tool: int, to_tool: int) -> bool:
    """Whether a fault can befall an exchange in this world."""
    magazine = world.magazine
    if fault in ("pocket-full", "pocket-empty"):
        tool = from_tool if fault == "pocket-full" else to_tool
        return magazine is not None and tool != 0 and (fault == "pocket-empty" or _another(magazine, from_tool, to_tool) != 0)
    if fault == "wrong-tool":
        if world.loading:
            return to_tool != 0 and _other_by_hand(world, from_tool, to_tool) != 0
        return magazine is not None and to_tool != 0 and _another(magazine, from_tool, to_tool) != 0
    if fault in ("grip-stays-shut", "grip-stays-open", "air-low"):
        return isinstance(magazine, GripPockets)
    if fault == "sensor-dead":
        return (magazine is not None or world.loading is not None) and any(
            e.role in TELL_OF_EXCHANGE - {"air"} for e in world.inputs
        )
    return fault in ("none", "tool-long", "tool-short", "unit-other", "not-homed", "stopped", *OVERRIDES)


def with_fault(world: World, fault: str, from_tool: int = 0, to_tool: int = 0) -> World:
    """The world with one thing wrong in it; those of the call are made by :func:`called_with`.

    Raises:
        InputError: where the fault can't befall an exchange here.
    """
    if not applies(world, fault, from_tool, to_tool):
        raise InputError.at("/fault", f"The fault {fault} can't befall this here: the machine has nothing that it could befall.")
    if fault == "not-homed":
        return replace(world, homed=False)
    if fault in ("tool-long", "tool-short"):
        more = WRONG_BY if fault == "tool-long" else -WRONG_BY
        return replace(world, tools={number: _longer(tool, more) for number, tool in world.tools.items()})
    if fault == "wrong-tool" and world.loading:
        return replace(world, loading=replace(world.loading, gives={to_tool: _other_by_hand(world, from_tool, to_tool)}))
    if fault == "sensor-dead":
        return replace(world, inputs=tuple(replace(e, dead=e.role in TELL_OF_EXCHANGE) for e in world.inputs))
    rack = world.magazine
    if isinstance(rack, GripPockets) and fault in ACTS_NOT:
        inputs = tuple(replace(e, dead=e.role == "air") for e in world.inputs) if fault == "air-low" else world.inputs
        return replace(world, magazine=replace(rack, failing=ACTS_NOT[fault]), inputs=inputs)
    if rack and fault in ("pocket-full", "pocket-empty", "wrong-tool"):
        pocket_of = {tool: pocket for pocket, tool in rack.stored.items()}
        stored = dict(rack.stored)
        another = _another(rack, from_tool, to_tool)
        if fault == "pocket-full":
            stored[pocket_of[from_tool]] = another
        elif fault == "pocket-empty":
            stored.pop(pocket_of[to_tool])
        else:
            stored[pocket_of[to_tool]] = another
        return replace(world, magazine=replace(rack, stored=stored))
    return world


def called_with(call: Call, fault: str) -> Call:
    """The call with its fault: from the other unit, with the override at 10 % or 150 %."""
    if fault == "unit-other":
        return replace(call, unit=20 if call.unit == 21 else 21)
    return replace(call, override=OVERRIDES.get(fault, call.override))


def _longer(tool: WorldTool, more: float) -> WorldTool:
    """The tool stands out of its holder by so much more."""
    more = max(more, 1.0 - tool.stick_out)
    return replace(tool, length=tool.length + more, stick_out=tool.stick_out + more)


def _another(rack: ThreadPockets | GripPockets, from_tool: int, to_tool: int) -> int:
    """A stored tool that has no part in the exchange; 0: there is none."""
    return next((tool for tool in rack.stored.values() if tool not in (from_tool, to_tool)), 0)


def _other_by_hand(world: World, from_tool: int, to_tool: int) -> int:
    """A tool that a person may take for the one asked for; 0: there is none."""
    return next((tool for tool in world.tools if tool not in (from_tool, to_tool)), 0)
