"""What a control has in memory: modes, parameters, lengths, the active offset, and what became of touches; as it is called, kept and restored."""

import math
from collections.abc import Container
from typing import NamedTuple

from orthotrope.machine.modes import Modes
from orthotrope.machine.motion import Vector
from orthotrope.machine.parameters import ParameterStore
from orthotrope.machine.run import SHIFTED, Call, FinalState, Run
from orthotrope.machine.touches import Touches
from orthotrope.machine.twins import twin
from orthotrope.machine.virtual import MachineState, VirtualMachine
from orthotrope.machine.watch import Watch
from orthotrope.machine.world import World
from orthotrope.setup.control import ControlProfile
from orthotrope.setup.numbering import ACTIVE_OFFSET, OFFSETS_FIRST, OFFSETS_STEP, SHIFT_FIRST

LEFT_OVER = 60
"""Working parameters, from the profile's first one on, that may hold what a call before has left."""


class ControlState(NamedTuple):
    """All of a control that a block can change."""

    machine: MachineState
    modes: Modes
    values: dict[int, float]
    names: dict[str, float]
    inch: bool
    lengths: dict[int, float]
    offset: Vector
    cycle: dict[str, float]
    watch: Watch
    touches: Touches | None
    unit_first: bool | None


class ControlMemory:
    """Modes, offsets and parameters of a control. Cutter compensation is kept as a mode and does not move the path.

    ``offset``: the zero of the active coordinates, the active length included, machine coordinates, mm. ``touching``: the touching G
    words, each with whether a miss stops the control. ``unit_first``: whether the program stated its unit before anything depended on
    the caller's; None: it has done neither yet; ``unit_used``: whether something did."""

    def __init__(self, profile: ControlProfile, world: World, call: Call, begun: ControlState | None = None):
        """As it is when the program is called; or as another one was (``begun``), which :meth:`take_over` completes."""
        self.profile, self.world = profile, world
        self.machine = VirtualMachine(world, call.at, call.from_tool, fresh=begun is None)
        known = profile.parameters
        self.parameters = ParameterStore(dict(begun.values) if begun else self._called(call), known)
        self.modes = twin(begun.modes) if begun else Modes(unit=call.unit, distance=call.distance)
        if begun:
            self.parameters.names, self.parameters.inch = dict(begun.names), begun.inch
            self.lengths, self.cycle, self.offset = dict(begun.lengths), dict(begun.cycle), begun.offset
        else:
            self.parameters.inch = call.unit == 20
            self.lengths = {number: tool.recorded for number, tool in world.tools.items()}
            self.cycle = {}
            self._left_on(call)
            self.offset = self.offset_now()
        self.touching = {
            word: stops
            for word, stops in ((profile.touch_stops, True), (profile.touch_goes_on, False))
            if word is not None
        }
        self.watch = self.parameters.watch = Watch(self.machine, profile)
        self.parameters.inputs = world.inputs.by_parameter(known.input_first, known.called_unit)
        self.orient_word = float(profile.orient[1:]) if profile.orient[0] == "M" else -1
        self.run = Run(call, self.machine.trace, {}, self.modes.kept())
        self.unit_first = begun.unit_first if begun else None
        self.unit_used = False
        self.feed_given = False
        if begun:
            self.parameters.values[known.called_unit] = float(call.unit)

    def _called(self, call: Call) -> dict[int, float]:
        """The parameters as a call has them."""
        world, known = self.world, self.profile.parameters
        values: dict[int, float] = {
            known.exchange_from: float(call.from_tool if call.named is None else call.named),
            known.exchange_to: float(call.to_tool) if call.requested is None else call.requested,
            known.record: float(call.from_tool),
            known.record_doubtful: float(call.doubtful),
            known.called_unit: float(call.unit),
            known.called_distance: float(call.distance),
            ACTIVE_OFFSET: 1.0,
        }
        if call.left is not None:
            values.update({known.working_first + number: call.left for number in range(LEFT_OVER)})
        for axis in range(3):
            values[known.called_at_first + axis] = call.at[axis]
            for number, offset in world.work_offsets.items():
                values[OFFSETS_FIRST + (number - 1) * OFFSETS_STEP + axis] = offset[axis]
        if world.magazine:
            for pocket, number in world.magazine.recorded.items():
                values[known.pockets_first + pocket] = 0.0 if number == call.from_tool else float(number)
        return values

    def _left_on(self, call: Call) -> None:
        """What the caller has active: a tool's length, another work offset, compensation, a canned cycle, a
        rotation."""
        modes = self.modes
        if call.active == "length":
            modes.length_mode, modes.length = (
                43,
                self.lengths.get(call.from_tool) or max(self.lengths.values(), default=50.0),
            )
            modes.length_number = call.from_tool
        elif call.active == "offset":
            modes.work_offset = 2
            self.parameters.values[ACTIVE_OFFSET] = 2.0
        elif call.active == "shift":
            self.parameters.values.update({SHIFT_FIRST + axis: way for axis, way in enumerate(SHIFTED)})
        elif call.active == "plane":
            modes.plane = 18
        elif call.active == "inverse time":
            modes.feed_mode = 93
        elif call.active == "compensation":
            modes.cutter = 41
        elif call.active == "cycle":
            modes.motion, self.cycle = 81, {"R": 5.0, "Z": -5.0}
        elif call.active == "rotation":
            modes.rotation, modes.turned = 68, (0.0, 0.0, math.radians(30))
        elif call.active in ("forwards", "backwards"):
            greatest = self.world.spindle.greatest
            modes.speed = greatest
            self.machine.turns_already(greatest if call.active == "forwards" else -greatest)

    def set(self, target: float | str, value: float, used: Touches | None = None) -> None:
        """Set a parameter, by number or name; an offset among them is in force at once. ``used``: what touches the value
        came of, where there were any."""
        if used and self.touches:
            self.touches.used, self.touches.answers = used.used, used.answers
            self.touches.written(target if isinstance(target, str) else self.parameters.index(target))
        if isinstance(target, str):
            self.parameters.names[target] = value
            self.machine.journal.event("set", parameter=f"<{target}>", value=value)
            return
        index = self.parameters.set(target, value)
        if index == self.profile.parameters.called_unit:
            self.parameters.called_unit(index)
        if index >= SHIFT_FIRST:
            number, axis = divmod(index - OFFSETS_FIRST, OFFSETS_STEP)
            if 0 <= number < 9 and axis < 3:
                touched = sorted(used.used) if used else []
                self.zero_set("value", number + 1, {axis: self.parameters.values[index]}, {axis: touched})
            self.offset = self.offset_now()
        self.machine.journal.event("set", parameter=index, value=value)

    @property
    def touches(self) -> Touches | None:
        """What became of the touches that there were; None: there was none yet."""
        return self.parameters.touches

    def zero_set(
        self,
        how: str,
        number: int,
        zeros: dict[int, float],
        touched: dict[int, list[int]],
        between: dict[int, float] | None = None,
    ) -> None:
        """A zero was set (``number``: the work offset, 0 the shift): machine coordinates by axis, and the touches that
        each came of, by their ``how``: "value", or "place" where the machine was."""
        for axis, zero in zeros.items():
            self.machine.journal.event(
                "zero-set",
                how=how,
                offset=number,
                active=self.modes.work_offset,
                axis=axis,
                zero=zero,
                between=(between or {}).get(axis, 0.0),
                frame=self.offset[axis],
                touches=touched.get(axis, []),
                tested=sorted(self.touches.tested) if self.touches else [],
            )

    @property
    def record(self) -> tuple[float, bool]:
        """The record of the tool in the spindle, and whether it is doubtful."""
        known, values = self.profile.parameters, self.parameters.values
        return values.get(known.record, 0.0), values.get(known.record_doubtful, 0.0) == 1

    def not_simulated(self, what: str) -> None:
        """What a control does and this one does not, reported with its line."""
        self.machine.journal.event("not-simulated", what=what)

    def stay(self, seconds: float) -> None:
        """Dwell for a time."""
        journal = self.machine.journal
        begin = journal.t
        self.machine.dwell(seconds, self.block)
        self.watch.dwelt(begin, journal.t)

    @property
    def block(self) -> int:
        """The index of the block that runs, among those of the trace."""
        return len(self.machine.journal.trace.blocks)

    @property
    def request_read(self) -> bool:
        """Whether the program has read which tool is requested."""
        return self.profile.parameters.exchange_to in self.parameters.read

    def touches_of(self, letter: str) -> list[int]:
        """The touches that the value of a word of this block came of."""
        return sorted(self.touches.words.get(letter, ())) if self.touches else []

    def must_be_homed(self) -> None:
        """Raises Crashed where the machine is not homed: machine coordinates mean nothing."""
        if not self.machine.axes.homed:
            self.machine.journal.crash("not-homed")

    def left(self) -> FinalState:
        """How the machine is left as it is now."""
        machine, magazine = self.machine, self.world.magazine
        first = self.profile.parameters.pockets_first
        return FinalState(
            machine.spindle.rate * 60,
            self.modes.override_locked,
            (0.0, 0.0, 0.0) if self.modes.shift_off else self.parameters.shift(),
            tuple(
                (n, self.parameters.values.get(first + n, 0.0)) for n in sorted({*magazine.places, *magazine.recorded})
            )
            if magazine
            else (),
            self.modes.length_old,
            self.modes.length_mode == 43,
        )

    def offset_now(self) -> Vector:
        work = self.parameters.offset(self.modes.work_offset)
        shift = (0.0, 0.0, 0.0) if self.modes.shift_off else self.parameters.shift()
        return work[0] + shift[0], work[1] + shift[1], work[2] + shift[2] + self.modes.length

    def kept(self) -> ControlState:
        """All that a block can change, for :meth:`restore`."""
        parameters = self.parameters
        return ControlState(
            self.machine.kept(),
            twin(self.modes),
            dict(parameters.values),
            dict(parameters.names),
            parameters.inch,
            dict(self.lengths),
            self.offset,
            dict(self.cycle),
            self.watch.copied(),
            self.touches.copied() if self.touches else None,
            self.unit_first,
        )

    def restore(self, kept: ControlState) -> None:
        """Go back to what :meth:`kept` has."""
        self.modes, self.lengths, self.offset, self.cycle, self.watch = (
            kept.modes,
            kept.lengths,
            kept.offset,
            kept.cycle,
            kept.watch,
        )
        self.parameters.values, self.parameters.names, self.parameters.inch = kept.values, kept.names, kept.inch
        self.parameters.watch = kept.watch
        self.parameters.touches = kept.touches.copied() if kept.touches else None
        self.unit_first = kept.unit_first
        self.machine.restore(kept.machine)

    def take_over(self, other: "ControlMemory", kept: ControlState, dependencies: Container[str]) -> None:
        """Go on where another control was, in this one's world: this one was made with what it had :meth:`kept`; see
        :meth:`VirtualMachine.take_over`."""
        self.parameters.read = set(other.parameters.read)
        before, call = other.run.modes_before, self.run.call
        self.run.modes_before = {**before, "unit": call.unit, "distance": call.distance}
        self.machine.take_over(other.machine, kept.machine, dependencies)
        self.watch = self.parameters.watch = kept.watch.of(self.machine)
        self.parameters.touches = kept.touches.copied() if kept.touches else None
        self.run.z_absolute = other.run.z_absolute
        self.run.feed, self.run.lengths_under = other.run.feed, dict(other.run.lengths_under)
        self.run.modes_before = other.run.modes_before
