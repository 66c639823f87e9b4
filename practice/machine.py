"""One practice machine: what it does, block by block, and where it is at any moment."""

import asyncio
import math
import random
import time
from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, timedelta
from typing import Any, Literal, cast

from orthotrope.calc.wiring import Level
from orthotrope.errors import OrthotropeError
from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun
from orthotrope.machine.inputs import Inputs, WorldInput
from orthotrope.machine.motion import Vector
from orthotrope.machine.run import Call
from orthotrope.machine.stops import Crashed, CutShort
from orthotrope.machine.trace import Event, Trace
from orthotrope.machine.virtual import VirtualMachine
from orthotrope.machine.world import World, WorldTool
from orthotrope.practising.parts import Careless, put_down, with_careless
from orthotrope.practising.truth import Truth, draw, longer, pocket_seen, true_world
from orthotrope.program.reader import read_text
from orthotrope.sequence.probing import PLANS, tip_of
from orthotrope.sequence.probing.qualifying import routine_named
from orthotrope.setup import Setup
from orthotrope.setup.machine import AXES, AxisName
from orthotrope.setup.routines import Routine
from orthotrope.units import MM_PER_INCH, in_unit, shown_in, with_unit

TICK = 0.02
"""Seconds between two looks at a machine that does something."""

CREEP = 300.0
"""mm/min; an axis that runs into its hard stop no faster than this keeps its home, and only as fast may soft limits be
passed, or a machine be moved that isn't homed."""

HOMING_SHARE = 0.25
"""Of the rapid, for homing."""

POWER_DROP = 1.5
"""mm that Z sinks when the power goes."""

JOG_WATCH = 0.35
"""Seconds without a sign of life after which a held jog stops."""

BLOCKS_A_TICK = 400
"""Blocks that take no time are run this many at a look, so that an endless program doesn't hang the process."""

Execution = Literal["READY", "ACTIVE", "FEED_HOLD", "PROGRAM_STOPPED", "STOPPED", "INTERRUPTED"]


MOST_WORKING = 50
"""How many parameters from the profile's first one on are those that programs work with."""


class Refused(OrthotropeError):
    """The machine does not do this now; the text says why and what to do first."""


@dataclass(slots=True)
class Activity:
    """Something that the machine does in blocks. ``next_block`` runs one and says whether there are more."""

    kind: Literal["jog", "home", "program"]
    next_block: Callable[[], bool]
    keep: Callable[[], Any]
    again: Callable[[Any, float], None]
    kept: Any = None
    over: bool = False
    held_by: object = None
    sign_of_life: float = 0.0
    text: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class BounceEdge:
    """An input's level as the control saw it change: seconds after the first, and whether it is made."""

    after: float
    made: bool


def _with(vector: Vector, index: int, value: float) -> Vector:
    """The vector with one part another."""
    x, y, z = (value if at == index else part for at, part in enumerate(vector))
    return x, y, z


SLIPS = 0.15
"""mm; by how much a tool in a loose nut is another length each time it was put down, as a standard deviation."""


class PracticeMachine:
    """The machine of a Setup with the errors of a seed. All positions that it tells are counted ones, as a control has
    them.

    ``changed`` is called whenever something may have changed that an agent tells.
    """

    def __init__(self, setup: Setup, seed: int, changed: Callable[[], None] = lambda: None):
        self.setup, self.changed = setup, changed
        self.truth: Truth = draw(setup, seed)
        self.world: World = true_world(setup, self.truth)
        self.chance = random.Random(seed + 1)
        self.control = Control(setup.profile, self.world, Call())
        machine = self.control.machine
        machine.noise = lambda: self.chance.gauss(0.0, self.truth.touch_sigma)
        machine.homed = False
        x, y = setup.machine.axes.across
        true = (
            x.least + (x.greatest - x.least) * self.chance.uniform(0.35, 0.6),
            y.least + (y.greatest - y.least) * self.chance.uniform(0.3, 0.6),
            setup.machine.axes.upright.greatest - self.chance.uniform(8.0, 20.0),
        )
        machine.error = true
        self.rate: float = 1.0
        self.powered, self.air, self.alarm, self.message = True, True, "", ""
        self.activity: Activity | None = None
        self.execution: Execution = "READY"
        self.block = ""
        self.now = 0.0
        self.slowing = 1.0
        self.heard = 0
        self.outputs = {entry.number: False for entry in setup.outputs}
        self.edges: list[tuple[int, datetime, bool]] = []
        self.dial_zero: dict[AxisName, float] = {}
        self.touched: list[list[float]] = []
        """Where the touches of the last program were latched (gauge line, machine coordinates, mm), at the feed that counts; none once
        the part or the spindle was turned or put elsewhere."""
        self.lies = ""
        """The routine whose part lies there; "": none."""
        self.careless: tuple[Setup, Routine, Careless] | None = None
        self._bare = self.world
        self._last_look = time.monotonic()
        self._wake = asyncio.Event()

    # what it tells

    @property
    def machine(self) -> VirtualMachine:
        return self.control.machine

    def position(self) -> Vector:
        """The counted position now."""
        for segment in reversed(self.machine.trace.segments):
            if segment.t0 <= self.now:
                return segment.at(self.now) if self.now < segment.t1 else segment.end
        first = self.machine.trace.segments
        return first[0].start if first else self.machine.position

    def part_position(self) -> Vector:
        x, y, z = self.position()
        ox, oy, oz = self.control.offset
        return x - ox, y - oy, z - oz

    def spindle(self) -> float:
        return self.machine.trace.turning(self.now)

    def tool(self) -> int:
        held = self.machine.trace.held(self.now)
        return held if held is not None else self.machine.tool

    def inputs(self) -> dict[int, bool]:
        """Each input as the control sees it."""
        return {entry.number: self.machine.sees(entry) for entry in self.world.inputs}

    def dial(self, axis: AxisName) -> float | None:
        """What a dial that was set to zero on this axis shows, mm; None where none stands there."""
        if axis not in self.dial_zero:
            return None
        return round(self.machine.true_position[AXES.index(axis)] - self.dial_zero[axis], 3)

    @property
    def busy(self) -> bool:
        return self.activity is not None

    @property
    def homed(self) -> bool:
        return self.machine.homed

    # time

    async def play(self) -> None:
        """Let time pass; for as long as the process runs."""
        while True:
            if not self.busy:
                self._wake.clear()
                await self._wake.wait()
                self._last_look = time.monotonic()
            await asyncio.sleep(TICK)
            self.look()

    def look(self) -> None:
        """Bring the machine to this moment."""
        now = time.monotonic()
        passed, self._last_look = now - self._last_look, now
        activity = self.activity
        if activity is None:
            return
        if activity.held_by is not None and now - activity.sign_of_life > JOG_WATCH:
            self.release_jog()
        if self.execution == "FEED_HOLD":
            self.slowing = max(0.0, self.slowing - passed / self._hold_seconds())
        elif self.execution == "ACTIVE":
            self.slowing = min(1.0, self.slowing + passed / self._hold_seconds())
        self._pass(
            math.inf
            if math.isinf(self._rate()) and self.slowing > 0
            else passed * min(self._rate(), 1e6) * self.slowing
        )
        self.changed()

    def _rate(self) -> float:
        held = self.activity is not None and self.activity.held_by is not None
        return 1.0 if held and math.isinf(self.rate) else self.rate

    def _hold_seconds(self) -> float:
        """How long the slowest axis takes from the present speed to a stand."""
        segment = next((s for s in reversed(self.machine.trace.segments) if s.t0 <= self.now), None)
        speed = segment.law.speed_at(self.now - segment.t0) if segment and segment.law else 0.0
        return max(0.05, speed / min(axis.acceleration for axis in self.world.axes))

    def _pass(self, seconds: float) -> None:
        """Play ``seconds`` of the machine's time; blocks that are due are run."""
        until = self.now + seconds
        for _ in range(BLOCKS_A_TICK):
            if self.machine.t > until:
                self.now = until
                self._hear()
                return
            self.now = self.machine.t
            self._hear()
            if self.activity is None or self.execution in ("FEED_HOLD", "PROGRAM_STOPPED") or not self._run_block():
                return

    def _run_block(self) -> bool:
        """Run the next block of what goes on; False where there is none or it has to wait for someone."""
        activity = self.activity
        assert activity is not None
        if activity.over:
            self._end()
            return False
        self._forget()
        activity.kept = activity.keep()
        activity.over = not activity.next_block()
        self.block = activity.text[self.machine.line - 1] if 0 < self.machine.line <= len(activity.text) else ""
        return True

    def _forget(self) -> None:
        """Drop what was played, so that a machine that runs for weeks needs no more room."""
        trace: Trace = self.machine.trace
        if len(trace.segments) + len(trace.events) + len(trace.blocks) < 500 or self.heard < len(trace.events):
            return
        trace.segments = trace.segments[-1:]
        trace.ramps, trace.holding, trace.inputs = trace.ramps[-1:], trace.holding[-1:], trace.inputs[-1:]
        trace.stored = trace.stored[-1:]
        trace.events, trace.blocks, self.heard = [], [], 0

    def _hear(self) -> None:
        """Take notice of the events that have come by now."""
        events = self.machine.trace.events
        while self.heard < len(events) and events[self.heard].t <= self.now + 1e-9:
            self._heard(events[self.heard])
            self.heard += 1

    def _heard(self, event: Event) -> None:
        if event.kind == "message":
            self.message = str(event.data["text"])
        elif event.kind == "switched":
            for entry in self.setup.outputs:
                if event.data["word"] in (entry.word_on, entry.word_off):
                    self.outputs[entry.number] = event.data["word"] == entry.word_on
        elif event.kind == "touch" and self.careless and abs(event.data["feed"] - self._counting()) < 1e-6:
            self.touched.append(list(event.data["latched"]))
        elif event.kind == "freed":
            self._slip(int(event.data["tool"]))
        elif event.kind == "pause":
            self.execution = "PROGRAM_STOPPED"
        elif event.kind in ALARMS:
            with shown_in(self.setup.machine.unit):
                self.alarm = ALARMS[event.kind](event.data)
            if event.kind == "end-stop" and event.data["speed"] > CREEP * (1 + 1e-6):
                self.machine.homed = False
                self.alarm += " It ran in fast: home is lost."

    def _counting(self) -> float:
        """The feed of the touches that count, of the routine whose part lies there, mm/min."""
        assert self.careless
        setup, routine, _ = self.careless
        tip = tip_of(setup, routine)
        return tip.probe.measure_feed * self.control.run.call.override if tip else 0.0

    def _slip(self, number: int) -> None:
        """A nut was taken off: the tool in its collet is not as long afterwards as it was; a stop collar keeps it within its
        scatter."""
        tool = next((tool for tool in self.setup.tools if tool.number == number), None)
        if tool is None or number not in self.world.tools:
            return
        by = self.chance.gauss(0.0, SLIPS if tool.collar_scatter is None else tool.collar_scatter / 2)
        self.world.tools[number] = longer(self.world.tools[number], by)
        self.truth.tool_errors[number] = self.truth.tool_errors.get(number, 0.0) + by

    def _end(self) -> None:
        activity, self.activity = self.activity, None
        run = self.control.run
        if activity and activity.kind == "program" and run.fault:
            self.alarm = f"Line {run.fault.line}: {run.fault.what}"
        elif activity and activity.kind == "program" and run.endless:
            self.alarm = f"The program has no end: {run.endless.what}."
        self.execution = "STOPPED" if self.alarm else "READY"
        self.block = ""
        self.machine.line = 0
        self.changed()

    # what it is told

    def _begin(self, activity: Activity) -> None:
        self.activity, self.execution, self.slowing = activity, "ACTIVE", 1.0
        self.machine.t = self.now = max(self.now, self.machine.t)
        self._last_look = time.monotonic()
        self._wake.set()
        self._pass(math.inf if math.isinf(self._rate()) else 0.0)
        self.changed()

    def ready(self, what: str) -> None:
        """Raise where the machine can't begin something new.

        Raises:
            Refused: with the reason.
        """
        if not self.powered:
            raise Refused("The machine has no power; switch it on.")
        if self.alarm:
            raise Refused(f"{self.alarm} Reset it first.")
        if self.busy:
            raise Refused(f"The machine is busy; stop it before it is to {what}.")
        door = next((entry for entry in self.world.inputs if entry.role == "door"), None)
        if door and not self.machine.sees(door) and what != "jog":
            raise Refused(f"The door is open, or its input {door.name} does not say that it is closed; close it.")

    def home(self) -> None:
        """Home the axes in their order."""
        self.ready("go home")
        steps = iter([step for axis in self.setup.machine.homing_order for step in self._homing(axis)])
        left = [len(self.setup.machine.homing_order) * 3]

        def next_block() -> bool:
            left[0] -= 1
            try:
                next(steps)()
            except Crashed:
                return False
            return left[0] > 0

        self.machine.limited = False
        self._begin(Activity("home", next_block, self.control.kept, self._again_moving))

    def _homing(self, axis: AxisName) -> list[Callable[[], None]]:
        index, data = AXES.index(axis), self.setup.machine.axes[axis]
        machine, last = self.machine, axis == self.setup.machine.homing_order[-1]
        switch = data.least if data.home == "least" else data.greatest
        sign = -1.0 if data.home == "least" else 1.0
        feed = data.rapid * HOMING_SHARE

        def moved(to: float) -> None:
            machine.move(_with(machine.position, index, to), "jog", feed, len(machine.trace.blocks), True)

        def approach() -> None:
            machine.homed = False
            moved(switch - machine.error[index] + sign * machine.world.axes[index].backlash / 2)

        def count() -> None:
            scatter = self.chance.gauss(0.0, self.truth.home_sigma[axis])
            machine.heading = _with(machine.heading, index, sign)
            machine.position = _with(machine.position, index, switch)
            machine.error = _with(machine.error, index, scatter + sign * machine.world.axes[index].backlash / 2)
            machine.dwell(0.05, len(machine.trace.blocks))

        def pull_off() -> None:
            moved(data.home_at)
            if last:
                machine.homed, machine.limited = True, True

        return [approach, count, pull_off]

    def _again_moving(self, kept: Any, deadline: float) -> None:
        """Stop what has no program at a moment: the block is gone through anew until then."""
        first = kept[0][-1][0]
        segments = self.machine.trace.segments[first:]
        self.control.restore(kept)
        self.machine.deadline = deadline
        was, self.machine.limited = self.machine.limited, False
        try:
            for segment in segments:
                self.machine.move(segment.whole_end, "jog", segment.feed, segment.block, segment.machine_frame)
        except CutShort:
            pass
        finally:
            self.machine.deadline, self.machine.limited = math.inf, was

    def jog(self, axis: AxisName, by: float, feed: float, creep: bool = False, held_by: object = None) -> None:
        """Move one axis by a step, or, held by someone, until it is released. ``creep``: slowly, past the soft limits.

        Raises:
            Refused: beyond a soft limit, or where the machine does not move now.
        """
        self.ready("jog")
        index = AXES.index(axis)
        limits = self.world.axes[index]
        start = self.machine.position[index]
        if not self.homed and feed > CREEP:
            feed = CREEP
        if creep:
            feed = min(feed, CREEP)
        free = creep or not self.homed
        if held_by is not None:
            whole = 2 * (self.setup.machine.axes[axis].greatest - self.setup.machine.axes[axis].least)
            end = start + math.copysign(whole, by) if free else (limits.greatest if by > 0 else limits.least)
            assert end is not None
        else:
            end = start + by
        if not free and limits.least is not None and limits.greatest is not None:
            low, high = limits.least - 1e-6, limits.greatest + 1e-6
            if not low <= end <= high or abs(end - start) < 1e-9:
                with shown_in(self.setup.machine.unit):
                    raise Refused(
                        f"{axis} {in_unit(end)} is beyond the soft limit, {in_unit(limits.least)} to "
                        f"{with_unit(limits.greatest)}. Creep to pass it."
                    )
        target = _with(self.machine.position, index, end)

        def next_block() -> bool:
            self.machine.limited = not free
            try:
                self.machine.move(target, "jog", feed, len(self.machine.trace.blocks), True)
            except Crashed:
                return False
            finally:
                self.machine.limited = True
            return False

        self._begin(
            Activity(
                "jog", next_block, self.control.kept, self._again_moving, held_by=held_by, sign_of_life=time.monotonic()
            )
        )

    def keep_jog(self, held_by: object) -> None:
        """A sign of life from whoever holds the jog."""
        if self.activity and self.activity.held_by is held_by:
            self.activity.sign_of_life = time.monotonic()

    def release_jog(self, held_by: object = None) -> None:
        """Let go: the axis slows down and stands. Whoever holds it, or anyone where none is said."""
        activity = self.activity
        if activity is None or activity.held_by is None or (held_by is not None and activity.held_by is not held_by):
            return
        activity.held_by = None
        segment = self.machine.trace.segments[-1] if self.machine.trace.segments else None
        if segment is None or segment.law is None or self.now >= segment.t1 or activity.kept is None:
            return
        law, gone = segment.law, segment.law.gone(self.now - segment.t0)
        speed = law.speed_at(self.now - segment.t0)
        way = min(law.way, gone + speed * speed / (2 * law.acceleration))
        share = way / law.way
        start, end = segment.start, segment.whole_end
        target = (
            start[0] + (end[0] - start[0]) * share,
            start[1] + (end[1] - start[1]) * share,
            start[2] + (end[2] - start[2]) * share,
        )
        self.control.restore(activity.kept)
        self.heard = min(self.heard, len(self.machine.trace.events))
        limited, self.machine.limited = self.machine.limited, False
        try:
            self.machine.move(target, "jog", segment.feed, segment.block, True)
        except Crashed:
            pass
        finally:
            self.machine.limited = limited

    def run(self, text: str, from_tool: int, to_tool: int) -> None:
        """Run a program text from where the machine stands.

        Raises:
            Refused: an unreadable text, or where the machine does not run one now.
        """
        self.ready("run a program")
        if not self.air:
            raise Refused("The air is low; let it come up before a program runs.")
        program = read_text(text)
        if not program.readable:
            raise Refused(f"The text can't be read, nothing is run. {program.faults[0]}")
        control = self._called(from_tool, to_tool)
        self.touched, self.message = [], ""  # what was said and touched is of the program before
        run = ProgramRun(program, control)
        self._begin(Activity("program", run.step, run.kept, run.again, text=text.splitlines()))

    def _called(self, from_tool: int, to_tool: int) -> Control:
        """A control that has what this one has, called at this place with these tools."""
        old = self.control
        inch = self.setup.profile.unit == "inch"
        call = Call(at=self.machine.position, unit=20 if inch else 21, from_tool=from_tool, to_tool=to_tool)
        control = Control(self.setup.profile, self.world, call)
        known = self.setup.profile.parameters
        own = {
            known.exchange_from,
            known.exchange_to,
            known.called_unit,
            known.called_distance,
            *(known.called_at_first + axis for axis in range(3)),
        }
        control.parameters.values.update({n: v for n, v in old.parameters.values.items() if n not in own})
        control.machine, control.lengths = old.machine, old.lengths
        control.watch.machine = old.machine
        control.run.trace = old.machine.trace
        control.offset = control.offset_now()
        self.control = control
        return control

    def hold(self) -> None:
        """Hold the program's feed; it slows down on its way."""
        if self.activity is None or self.activity.kind != "program":
            raise Refused("No program runs that could be held.")
        self.execution = "FEED_HOLD"

    def go_on(self) -> None:
        """Go on after a hold or a program's own stop."""
        if self.execution not in ("FEED_HOLD", "PROGRAM_STOPPED"):
            raise Refused("There is nothing to continue.")
        self.execution = "ACTIVE"
        self._last_look = time.monotonic()

    def stop(self, why: str = "") -> None:
        """Stop at once, wherever it is; a program is given up."""
        activity = self.activity
        if activity is None:
            return
        if activity.kept is not None and self.now < self.machine.t:
            activity.again(activity.kept, self.now)
            self.heard = min(self.heard, len(self.machine.trace.events))
        self.now = self.machine.t
        self.alarm = ""
        self._hear()
        self.activity = None
        self.machine.limited = True
        if activity.kind == "program":
            self.machine.turn(0.0)
        if activity.kind == "home":
            self.machine.homed = False
        self.execution = "INTERRUPTED" if activity.kind == "program" else "READY"
        self.alarm = self.alarm or why
        self.changed()

    def reset(self) -> None:
        """Clear an alarm; what had happened stays."""
        if not self.powered:
            raise Refused("The machine has no power; switch it on.")
        self.stop()
        self.alarm, self.message, self.execution = "", "", "READY"

    def power(self, on: bool) -> None:
        """Take the power away, or give it back: Z sinks a little, home is lost, the counting begins anew."""
        if on == self.powered:
            return
        machine = self.machine
        if not on:
            self.stop()
            self.now = machine.t
            machine.trace.ramps.clear()
            machine.rate = 0.0
            x, y, z = machine.position
            machine.limited = False
            with suppress(Crashed):  # what stops the sinking is no alarm
                machine.move((x, y, z - POWER_DROP), "jog", CREEP, len(machine.trace.blocks), True)
            machine.limited, self.heard = True, len(machine.trace.events)
            machine.homed, self.now = False, machine.t
            self.powered, self.alarm, self.execution = False, "The power is off.", "STOPPED"
        else:
            counted, off = machine.position, machine.error
            machine.error = (off[0] + counted[0], off[1] + counted[1], off[2] + counted[2])
            machine.position = (0.0, 0.0, 0.0)
            machine.trace.segments.clear()
            self.heard = len(machine.trace.events)
            self.powered, self.alarm, self.execution = True, "", "READY"

    # the technician's hands

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
        """Unplug a lead, short it to ground, or mend it."""
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

    @property
    def record(self) -> tuple[int, bool]:
        """The control's record of the tool in the spindle, and whether it is doubtful."""
        number, doubtful = self.control.record
        return int(number), doubtful

    def working_parameters(self) -> dict[int, float]:
        """The parameters that programs work with, as lengths in mm."""
        first = self.setup.profile.parameters.working_first
        factor = MM_PER_INCH if self.setup.profile.unit == "inch" else 1.0
        values = self.control.parameters.values
        return {number: value * factor for number, value in values.items() if first <= number < first + MOST_WORKING}

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
            lies = put_down(routine, self.truth.seed) if known else Careless(routine, 0.0)
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


ALARMS: dict[str, Callable[[dict[str, Any]], str]] = {
    "body-contact": lambda data: f"Contact: {data['mover']} has met {data['body']}.",
    "pocket-occupied": lambda data: f"Contact: pocket {data['pocket']} holds T{data['stored']} already.",
    "end-stop": lambda data: f"{data['axis']} stands at its hard stop.",
    "beyond-travel": lambda data: (
        f"{data['axis']} {in_unit(data['value'])} is beyond the soft limit, {with_unit(data['limit'])}."
    ),
    "not-homed": lambda data: "Machine coordinates are used and the machine isn't homed.",
    "missed-touch": lambda data: "The touching move has ended without a touch." if data["stops"] else "",
    "already-made": lambda data: f"The input {data['name']} is made before the touching move begins.",
    "overtravel-exceeded": lambda data: (
        f"Contact: {data['body']} was pushed further than it gives, {with_unit(data['give'])}."
    ),
    "moved-ungripped": lambda data: (
        "The spindle moves with a tool that is neither held nor free."
        if "why" in data
        else "The spindle moves with a nut that is neither tight nor free."
    ),
    "dropped-tool": lambda data: f"T{data['tool']} has fallen: nothing held it where the grip let go.",
    "not-oriented": lambda data: "The spindle does not stand at its angle; the keys have met the drive slots.",
    "spindle-turning": lambda data: f"The spindle turns as {data['doing']}.",
    "no-such-pocket": lambda data: f"There is no pocket {data['pocket']} on the disc.",
    "pocket-empty": lambda data: f"There is nothing to fetch in pocket {data['pocket']}.",
    "spindle-still": lambda data: "The spindle turns the wrong way for the thread, or stands.",
}
"""Events that stop the machine, in the words of its alarm."""
