"""What lies on the table of a practice machine for its probe."""

from dataclasses import replace
from typing import Any

from orthotrope.machine.world import WorldTool
from orthotrope.practising.parts import TruePose, put_down, with_careless
from orthotrope.sequence.probing import PLANS, tip_of
from orthotrope.sequence.probing.qualifying import routine_named
from orthotrope.setup import Setup

from practice.playback import Playback
from practice.state import PracticeState


class Table:
    """A part that is put down carelessly, and the probe over it."""

    def __init__(self, state: PracticeState, playback: Playback):
        self.state, self.playback = state, playback

    def put_down(self, setup: Setup, name: str | None) -> None:
        """Put a part down for a routine of a Setup, carelessly: its place, turn and size are hidden; or take it away.

        Raises:
            Refused: while the machine is busy, or where its probe can't make the routine.
        """
        self.playback.ready("have a part put down")
        routine = routine_named(setup, name) if name else None
        tip = tip_of(*self.state.careless[:2]) if self.state.careless else None
        own = {tip.probe.tool: self.state.bare.tools[tip.probe.tool]} if tip else {}
        tools = {**self.state.world.tools, **own}  # the others may have slipped since
        bare = replace(self.state.bare, axes=self.state.world.axes, inputs=self.state.world.inputs, tools=tools)
        if routine is None:
            self.state.careless, self.state.lies, world = None, "", bare
        else:
            known = name in [entry.name for entry in setup.routines]
            lies = put_down(routine, self.state.truth.seed) if known else TruePose(routine, 0.0)
            world = with_careless(bare, setup, self.state.truth, routine, lies)
            self.state.careless, self.state.lies = (setup, routine, lies), routine.name
        self.state.be_in(world)
        self.state.touched = []
        self.state.control.lengths.update(
            {n: t.recorded for n, t in world.tools.items() if n not in self.state.control.lengths}
        )
        self.state.machine.rearranged()
        self.state.changed()

    def half_turn(self) -> None:
        """Turn the spindle by hand by half a turn: the tip stands on the other side of the axis.

        Raises:
            Refused: while the machine is busy.
        """
        self.playback.ready("have its spindle turned")

        def other(tool: WorldTool) -> WorldTool:
            own = tool.stylus
            return replace(tool, stylus=own.half_turned()) if own else tool

        tools = {number: other(tool) for number, tool in self.state.world.tools.items()}
        self.state.be_in(replace(self.state.world, tools=tools))
        self.state.touched = []
        self.state.machine.rearranged()
        self.state.changed()

    def part_truth(self) -> list[dict[str, Any]]:
        """How the part lies, beside what is expected; as the control counts it now."""
        if self.state.careless is None:
            return []
        _, routine, lies = self.state.careless
        expected = {"x": routine.x, "y": routine.y, "z": routine.z, **PLANS[routine.kind].expected(routine)}
        rows = []
        for name, value in lies.truth(routine).items():
            counted = value - self.state.machine.axes.error["xy".index(name)] if name in ("x", "y") else value
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
