"""One practice machine: what it does, block by block, where it is at any moment, and what a technician's hands do at it."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from typing import Any, Literal, cast

from orthotrope.calc.wiring import Level
from orthotrope.machine.inputs import Inputs, WorldInput
from orthotrope.machine.world import WorldTool
from orthotrope.practising.parts import TruePose, put_down, with_careless
from orthotrope.practising.truth import pocket_seen
from orthotrope.sequence.probing import PLANS, tip_of
from orthotrope.sequence.probing.qualifying import routine_named
from orthotrope.setup import Setup
from orthotrope.setup.machine import AXES, AxisName

from practice.running import Running
from practice.standing import Refused


@dataclass(frozen=True, slots=True)
class BounceEdge:
    """An input's level as the control saw it change: seconds after the first, and whether it is made."""

    after: float
    made: bool


class PracticeMachine(Running):
    """The machine of a Setup with the errors of a seed, and all that a technician can do at it."""

    def input_named(self, number: int) -> WorldInput:
        for entry in self.world.inputs:
            if entry.number == number:
                return entry
        raise Refused(f"There is no input {number} at this machine.")

    def make(self, number: int, made: bool) -> None:
        """Press or touch what makes an input, or let go of it. Its contact bounces: ``edges`` gets what the control
        sees of that through its filter."""
        entry = self.input_named(number)
        before = self.machine.sees(entry)
        (self.machine.made.add if made else self.machine.made.discard)(number)
        after = self.machine.sees(entry)
        edges = self._bounce(entry, before, after)
        now = datetime.now(UTC)
        self.edges += [(number, now + timedelta(seconds=edge.after), edge.made) for edge in edges]
        self._inputs_changed(entry)

    def tap(self, number: int) -> None:
        """Touch with a hand what makes an input, for a moment, while a touching move is under way: that ends there.

        Raises:
            Refused: while there is none.
        """
        self.input_named(number)
        activity, segments = self.activity, self.machine.trace.segments
        last = segments[-1] if segments else None
        moves = last is not None and last.kind == "touch" and last.t0 <= self.now < last.t1
        if activity is None or activity.kept is None or not moves or self.execution != "ACTIVE":
            raise Refused("No touching move is under way; touch the tip while it searches or measures.")
        self.machine.tapped = number, self.now
        try:
            activity.again(activity.kept, math.inf)
        finally:
            self.machine.tapped = None
        self.heard = min(self.heard, len(self.machine.trace.events))
        self.changed()

    def _bounce(self, entry: WorldInput, before: bool, after: bool) -> list[BounceEdge]:
        if before == after:
            return []
        at, edges, state = 0.0, [BounceEdge(entry.filter, after)], after
        for _ in range(self.chance.randrange(2, 5) * 2):
            at += self.chance.uniform(0.0002, 0.0018)
            state = not state
            if at >= entry.filter and edges[-1].made != state:
                edges.append(BounceEdge(round(entry.filter + at, 6), state))
        if edges[-1].made != after:
            edges.append(BounceEdge(round(edges[-1].after + 0.0009, 6), after))
        return edges if entry.filter < 0.0018 else edges[:1]

    def lead(self, number: int, state: Literal["sound", "broken", "to ground"]) -> None:
        """Unplug a lead, short it to ground, or fix it."""
        entry = self.input_named(number)
        self.machine.leads[number] = state
        self._inputs_changed(entry)

    def _inputs_changed(self, entry: WorldInput) -> None:
        if entry.role == "door" and not self.machine.sees(entry) and self.activity and self.activity.kind != "jog":
            self.stop("The door was opened: the machine has stopped.")
        self.changed()

    def set_air(self, enough: bool) -> None:
        """Set the air low, or give it back; a running program stops."""
        self.air = enough
        for entry in self.world.inputs:
            if entry.role == "air":
                (self.machine.made.add if enough else self.machine.made.discard)(entry.number)
        if not enough and self.activity and self.activity.kind == "program":
            self.stop("The air is low: the machine has stopped.")
        self.changed()

    def put_tool(self, tool: WorldTool | None) -> None:
        """Put a tool into the spindle by hand, or take it out (None). One that the machine was built with is what it is,
        whatever is said of it; another one is as it is said to be."""
        self.ready("have its tool changed")
        if tool:
            self.world.tools.setdefault(tool.number, tool)
            self.control.lengths.setdefault(tool.number, tool.recorded)
        self.machine.change_tool(tool.number if tool else 0)
        self.settle(tool.number if tool else 0)

    def settle(self, number: int, pockets: dict[str, int] | None = None) -> None:
        """Key the record of the tool in the spindle, and of pockets, into the control, after looking: it is certain
        then."""
        known, values = self.setup.profile.parameters, self.control.parameters.values
        values.update({known.pockets_first + int(pocket): float(tool) for pocket, tool in (pockets or {}).items()})
        values[known.record], values[known.record_doubtful] = float(number), 0.0
        self.changed()

    def put_down(self, setup: Setup, name: str | None) -> None:
        """Put a part down for a routine of a Setup, carelessly: its place, turn and size are hidden; or take it away.

        Raises:
            Refused: while the machine is busy, or where its probe can't make the routine.
        """
        self.ready("have a part put down")
        routine = routine_named(setup, name) if name else None
        tip = tip_of(*self.careless[:2]) if self.careless else None
        own = {tip.probe.tool: self._bare.tools[tip.probe.tool]} if tip else {}
        tools = {**self.world.tools, **own}  # the others may have slipped since
        bare = replace(self._bare, axes=self.world.axes, inputs=self.world.inputs, tools=tools)
        if routine is None:
            self.careless, self.lies, world = None, "", bare
        else:
            known = name in [entry.name for entry in setup.routines]
            lies = put_down(routine, self.truth.seed) if known else TruePose(routine, 0.0)
            world = with_careless(bare, setup, self.truth, routine, lies)
            self.careless, self.lies = (setup, routine, lies), routine.name
        self.world = self.control.world = self.machine.world = world
        self.touched = []
        self.control.lengths.update({n: t.recorded for n, t in world.tools.items() if n not in self.control.lengths})
        self.machine.laid_anew()
        self.changed()

    def half_turn(self) -> None:
        """Turn the spindle by hand by half a turn: the tip stands on the other side of the axis.

        Raises:
            Refused: while the machine is busy.
        """
        self.ready("have its spindle turned")

        def other(tool: WorldTool) -> WorldTool:
            own = tool.stylus
            return replace(tool, stylus=own.half_turned()) if own else tool

        tools = {number: other(tool) for number, tool in self.world.tools.items()}
        self.world = self.control.world = self.machine.world = replace(self.world, tools=tools)
        self.touched = []
        self.machine.laid_anew()
        self.changed()

    def part_truth(self) -> list[dict[str, Any]]:
        """How the part lies, beside what is expected; as the control counts it now."""
        if self.careless is None:
            return []
        _, routine, lies = self.careless
        expected = {"x": routine.x, "y": routine.y, "z": routine.z, **PLANS[routine.kind].expected(routine)}
        rows = []
        for name, value in lies.truth(routine).items():
            counted = value - self.machine.error["xy".index(name)] if name in ("x", "y") else value
            rows.append(
                {
                    "name": f"{routine.name}: {name}",
                    "where": f"/routines/{routine.name}/{name}",
                    "nominal": expected.get(name, 0.0),
                    "true": counted,
                    "unit": "°" if name == "turn" else "mm",
                }
            )
        return rows

    def set_dial(self, axis: AxisName) -> None:
        """Stand a dial on an axis and set it to zero."""
        self.dial_zero[axis] = self.machine.true_position[AXES.index(axis)]
        self.changed()

    def sight(self) -> dict[str, Any] | None:
        """What one sees at the nose: the nearest pocket and how far its axis is off, to a hundredth or two."""
        seen = pocket_seen(self.world, self.machine.true_position)
        if seen is None:
            return None
        number, dx, dy = seen
        return {
            "pocket": number,
            "dx": round(dx + self.chance.gauss(0, 0.004), 3),
            "dy": round(dy + self.chance.gauss(0, 0.004), 3),
        }

    def key_in(
        self, limits: dict[AxisName, tuple[float, float]], levels: Mapping[str, Level], filters: dict[str, float]
    ) -> None:
        """Give the control its soft limits (mm), and by an input's number its level and filter (seconds), as one keys
        them in."""
        axes = tuple(
            replace(axis, least=limits[axis.name][0], greatest=limits[axis.name][1]) if axis.name in limits else axis
            for axis in self.world.axes
        )
        inputs = Inputs(
            replace(
                entry,
                level=levels.get(str(entry.number), entry.level),
                filter=filters.get(str(entry.number), entry.filter),
            )
            for entry in self.world.inputs
        )
        self.world = replace(self.world, axes=cast(Any, axes), inputs=inputs)
        self.control.world = self.machine.world = self.world
        self.changed()
