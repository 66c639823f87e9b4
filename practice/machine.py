"""One practice machine: its state, and the parts that act on it."""

from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import replace
from typing import Any, cast

from orthotrope.calc.wiring import Level
from orthotrope.machine.inputs import Inputs
from orthotrope.machine.stops import Crashed
from orthotrope.machine.world import WorldTool
from orthotrope.practising.truth import pocket_seen
from orthotrope.setup import Setup
from orthotrope.setup.machine import AXES, AxisName

from practice.jogging import Jogging
from practice.playback import CREEP, Playback
from practice.programs import Programs
from practice.state import PracticeState, Refused
from practice.switches import Switches
from practice.table import Table

POWER_DROP = 1.5
"""mm that Z sinks when the power goes."""


class PracticeMachine(PracticeState):
    """The machine of a Setup with the errors of a seed, and all that a technician can do at it: ``playback`` lets time pass, ``jogging`` moves
    the axes by hand, ``programs`` runs texts, ``switches`` has the inputs, ``table`` the part."""

    def __init__(self, setup: Setup, seed: int, changed: Callable[[], None] = lambda: None):
        super().__init__(setup, seed, changed)
        self.playback = Playback(self)
        self.jogging = Jogging(self, self.playback)
        self.programs = Programs(self, self.playback)
        self.switches = Switches(self, self.playback)
        self.table = Table(self, self.playback)

    def reset(self) -> None:
        """Clear an alarm; what had happened stays."""
        if not self.powered:
            raise Refused("The machine has no power; switch it on.")
        self.playback.stop()
        self._stand()
        self.alarm, self.message, self.execution, self.at_stop = "", "", "READY", None

    def _stand(self) -> None:
        """The spindle is stopped, and it stands before anything else is done."""
        machine = self.machine
        if not self.spindle() and not machine.spindle.rate:
            return
        machine.spindle.turn(0.0)
        with suppress(Crashed):  # what touches a turning tool has been said already
            machine.dwell(machine.trace.ramps[-1].t1 - machine.t, len(machine.trace.blocks))
        self.now = machine.t
        self.playback.hear()

    def power(self, on: bool) -> None:
        """Take the power away, or give it back: Z sinks a little, home is lost, the counting begins anew."""
        if on == self.powered:
            return
        machine = self.machine
        if not on:
            self.playback.stop()
            self.now = machine.t
            machine.trace.ramps.clear()
            machine.spindle.rate = 0.0
            x, y, z = machine.position
            machine.axes.limited = False
            with suppress(Crashed):  # what stops the sinking is no alarm
                machine.move((x, y, z - POWER_DROP), "jog", CREEP, len(machine.trace.blocks), True)
            machine.axes.limited, self.heard = True, len(machine.trace.events)
            machine.axes.homed, self.now = False, machine.t
            self.powered, self.alarm, self.execution = False, "The power is off.", "STOPPED"
        else:
            counted, off = machine.position, machine.axes.error
            machine.axes.error = (off[0] + counted[0], off[1] + counted[1], off[2] + counted[2])
            machine.axes.position = (0.0, 0.0, 0.0)
            machine.trace.segments.clear()
            self.heard = len(machine.trace.events)
            self.powered, self.alarm, self.execution = True, "", "READY"

    def put_tool(self, tool: WorldTool | None) -> None:
        """Put a tool into the spindle by hand, or take it out (None). One that the machine was built with is what it is,
        whatever is said of it; another one is as it is said to be."""
        self.playback.ready("have its tool changed")
        if tool:
            self.be_in(replace(self.world, tools={tool.number: tool, **self.world.tools}))
            self.control.lengths.setdefault(tool.number, tool.recorded)
        self.machine.carrier.change_by_hand(tool.number if tool else 0)
        self.settle(tool.number if tool else 0)

    def settle(self, number: int, pockets: dict[str, int] | None = None) -> None:
        """Key the record of the tool in the spindle, and of pockets, into the control, after looking: it is certain
        then."""
        known, values = self.setup.profile.parameters, self.control.parameters.values
        values.update({known.pockets_first + int(pocket): float(tool) for pocket, tool in (pockets or {}).items()})
        values[known.record], values[known.record_doubtful] = float(number), 0.0
        self.changed()

    def set_dial(self, axis: AxisName) -> None:
        """Stand a dial on an axis and set it to zero."""
        self.dial_zero[axis] = self.machine.axes.true_position[AXES.index(axis)]
        self.changed()

    def sight(self) -> dict[str, Any] | None:
        """What one sees at the nose: the nearest pocket and how far its axis is off, to a hundredth or two."""
        seen = pocket_seen(self.world, self.machine.axes.true_position)
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
        self.be_in(replace(self.world, axes=cast(Any, axes), inputs=inputs))
        self.changed()
