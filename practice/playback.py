"""A practice machine does things in blocks, as time passes, and hears what comes of them."""

import asyncio
import math
import time
from dataclasses import replace

from orthotrope.machine.stops import Crashed
from orthotrope.machine.trace import Event, Trace
from orthotrope.practising.truth import longer
from orthotrope.sequence.probing import tip_of
from orthotrope.setup.machine import AXES, AxisName
from orthotrope.units import shown_in

from practice.alarms import ALARMS
from practice.state import Activity, PracticeState, Refused

CREEP = 300.0
"""mm/min; an axis that runs into its hard stop no faster than this keeps its home, and only as fast may soft limits be
passed, or a machine be moved that isn't homed."""

BLOCKS_A_TICK = 400
"""Blocks that take no time are run this many at a look, so that an endless program doesn't hang the process."""

SLIPS = 0.15
"""mm; by how much a tool in a loose nut is another length each time it was put down, as a standard deviation."""

TICK = 0.02
"""Seconds between two looks at a machine that does something."""

JOG_WATCH = 0.35
"""Seconds without a sign of life after which a held jog stops."""


class Playback:
    """What the machine does goes on while time passes: blocks that are due are run, and what they do has its effect."""

    def __init__(self, state: PracticeState):
        self.state = state
        self._last_look = time.monotonic()
        self._wake = asyncio.Event()

    async def play(self) -> None:
        """Let time pass; for as long as the process runs."""
        while True:
            if not self.state.busy:
                self._wake.clear()
                await self._wake.wait()
                self._last_look = time.monotonic()
            await asyncio.sleep(TICK)
            self.look()

    def look(self) -> None:
        """Bring the machine to this moment."""
        now = time.monotonic()
        passed, self._last_look = now - self._last_look, now
        activity = self.state.activity
        if activity is None:
            return
        if activity.held_by is not None and now - activity.sign_of_life > JOG_WATCH:
            self.release_jog()
        if self.state.execution == "FEED_HOLD":
            self.state.slowing = max(0.0, self.state.slowing - passed / self.hold_seconds())
        elif self.state.execution == "ACTIVE":
            self.state.slowing = min(1.0, self.state.slowing + passed / self.hold_seconds())
        self.pass_time(
            math.inf
            if math.isinf(self.pace()) and self.state.slowing > 0
            else passed * min(self.pace(), 1e6) * self.state.slowing
        )
        self.state.changed()

    def begin(self, activity: Activity) -> None:
        self.state.activity, self.state.execution, self.state.slowing = activity, "ACTIVE", 1.0
        self.state.machine.journal.t = self.state.now = max(self.state.now, self.state.machine.t)
        self._last_look = time.monotonic()
        self._wake.set()
        self.pass_time(math.inf if math.isinf(self.pace()) else 0.0)
        self.state.changed()

    def ready(self, what: str) -> None:
        """Raise where the machine can't begin something new.

        Raises:
            Refused: with the reason.
        """
        if not self.state.powered:
            raise Refused("The machine has no power; switch it on.")
        if self.state.alarm:
            raise Refused(f"{self.state.alarm} Reset it first.")
        if self.state.busy:
            raise Refused(f"The machine is busy; stop it before it is to {what}.")
        door = next((entry for entry in self.state.world.inputs if entry.role == "door"), None)
        if door and not self.state.machine.signals.sees(door) and what != "jog":
            raise Refused(f"The door is open, or its input {door.name} does not say that it is closed; close it.")

    def pace(self) -> float:
        held = self.state.activity is not None and self.state.activity.held_by is not None
        return 1.0 if held and math.isinf(self.state.rate) else self.state.rate

    def hold_seconds(self) -> float:
        """How long the slowest axis takes from the present speed to a stand."""
        segment = next((s for s in reversed(self.state.machine.trace.segments) if s.t0 <= self.state.now), None)
        speed = segment.law.speed_at(self.state.now - segment.t0) if segment and segment.law else 0.0
        return max(0.05, speed / min(axis.acceleration for axis in self.state.world.axes))

    def pass_time(self, seconds: float) -> None:
        """Play ``seconds`` of the machine's time; blocks that are due are run."""
        until = self.state.now + seconds
        for _ in range(BLOCKS_A_TICK):
            if self.state.machine.t > until:
                self.state.now = until
                self.hear()
                return
            self.state.now = self.state.machine.t
            self.hear()
            if (
                self.state.activity is None
                or self.state.execution in ("FEED_HOLD", "PROGRAM_STOPPED")
                or not self._run_block()
            ):
                return

    def _run_block(self) -> bool:
        """Run the next block of what goes on; False where there is none or it has to wait for someone."""
        activity = self.state.activity
        assert activity is not None
        if activity.over:
            self._end()
            return False
        self._forget()
        activity.kept = activity.keep()
        activity.over = not activity.next_block()
        self.state.block = (
            activity.text[self.state.machine.journal.line - 1]
            if 0 < self.state.machine.journal.line <= len(activity.text)
            else ""
        )
        return True

    def _forget(self) -> None:
        """Drop what was played, so that a machine that runs for weeks needs no more room."""
        trace: Trace = self.state.machine.trace
        if len(trace.segments) + len(trace.events) + len(trace.blocks) < 500 or self.state.heard < len(trace.events):
            return
        trace.segments = trace.segments[-1:]
        trace.ramps, trace.holding, trace.inputs = trace.ramps[-1:], trace.holding[-1:], trace.inputs[-1:]
        trace.stored = trace.stored[-1:]
        trace.events, trace.blocks, self.state.heard = [], [], 0

    def hear(self) -> None:
        """Take notice of the events that have come by now."""
        events = self.state.machine.trace.events
        while self.state.heard < len(events) and events[self.state.heard].t <= self.state.now + 1e-9:
            self._heard(events[self.state.heard])
            self.state.heard += 1

    def _heard(self, event: Event) -> None:
        if event.kind == "message":
            self.state.message = str(event.data["text"])
        elif event.kind == "switched":
            for entry in self.state.setup.outputs:
                if event.data["word"] in (entry.word_on, entry.word_off):
                    self.state.outputs[entry.number] = event.data["word"] == entry.word_on
        elif event.kind == "touch" and self.state.careless and abs(event.data["feed"] - self._counting()) < 1e-6:
            self.state.touched.append(list(event.data["latched"]))
        elif event.kind == "freed":
            self._slip(int(event.data["tool"]))
        elif event.kind == "pause":
            self.state.execution = "PROGRAM_STOPPED"
        elif event.kind in ALARMS:
            with shown_in(self.state.setup.machine.unit):
                self.state.alarm = ALARMS[event.kind](event.data)
            if event.kind == "end-stop":
                axis: AxisName = event.data["axis"]
                self.state.at_stop = axis, self.state.machine.axes.heading[AXES.index(axis)]
            if event.kind == "end-stop" and event.data["speed"] > CREEP * (1 + 1e-6):
                self.state.machine.axes.homed = False
                self.state.alarm += " It ran in fast: home is lost."

    def _counting(self) -> float:
        """The feed of the touches that count, of the routine whose part lies there, mm/min."""
        assert self.state.careless
        setup, routine, _ = self.state.careless
        tip = tip_of(setup, routine)
        return tip.probe.measure_feed * self.state.control.run.call.override if tip else 0.0

    def _slip(self, number: int) -> None:
        """A nut was taken off: the tool in its collet is not as long afterwards as it was; a stop collar keeps it within its
        scatter."""
        tool = next((tool for tool in self.state.setup.tools if tool.number == number), None)
        if tool is None or number not in self.state.world.tools:
            return
        by = self.state.chance.gauss(0.0, SLIPS if tool.collar_scatter is None else tool.collar_scatter / 2)
        tools = {**self.state.world.tools, number: longer(self.state.world.tools[number], by)}
        self.state.be_in(
            replace(self.state.world, tools=tools)
        )  # what was known of the other tool is not valid any more
        self.state.truth.tool_errors[number] = self.state.truth.tool_errors.get(number, 0.0) + by

    def _end(self) -> None:
        activity, self.state.activity = self.state.activity, None
        run = self.state.control.run
        if activity and activity.kind == "program" and run.fault:
            self.state.alarm = f"Line {run.fault.line}: {run.fault.what}"
        elif activity and activity.kind == "program" and run.endless:
            self.state.alarm = f"The program has no end: {run.endless.what}."
        if self.state.alarm and self.state.machine.spindle.rate:
            self.state.machine.spindle.turn(0.0)  # an alarm stops the spindle too
        self.state.execution = "STOPPED" if self.state.alarm else "READY"
        self.state.block = ""
        self.state.machine.journal.line = 0
        self.state.changed()

    def go_on(self) -> None:
        """Go on after a hold or a program's own stop."""
        self.state.execution = "ACTIVE"
        self._last_look = time.monotonic()

    def stop(self, why: str = "") -> None:
        """Stop at once, wherever it is; a program is given up."""
        activity = self.state.activity
        if activity is None:
            return
        if activity.kept is not None and self.state.now < self.state.machine.t:
            activity.again(activity.kept, self.state.now)
            self.state.heard = min(self.state.heard, len(self.state.machine.trace.events))
        self.state.now = self.state.machine.t
        self.state.alarm = ""
        self.hear()
        self.state.activity = None
        self.state.machine.axes.limited = True
        if activity.kind == "program":
            self.state.machine.spindle.turn(0.0)
        if activity.kind == "home":
            self.state.machine.axes.homed = False
        self.state.execution = "INTERRUPTED" if activity.kind == "program" else "READY"
        self.state.alarm = self.state.alarm or why
        self.state.changed()

    def keep_jog(self, held_by: object) -> None:
        """A sign of life from whoever holds the jog."""
        if self.state.activity and self.state.activity.held_by is held_by:
            self.state.activity.sign_of_life = time.monotonic()

    def release_jog(self, held_by: object = None) -> None:
        """Let go: the axis slows down and stands. Whoever holds it, or anyone where none is said."""
        activity = self.state.activity
        if activity is None or activity.held_by is None or (held_by is not None and activity.held_by is not held_by):
            return
        activity.held_by = None
        segment = self.state.machine.trace.segments[-1] if self.state.machine.trace.segments else None
        if segment is None or segment.law is None or self.state.now >= segment.t1 or activity.kept is None:
            return
        law, gone = segment.law, segment.law.gone(self.state.now - segment.t0)
        speed = law.speed_at(self.state.now - segment.t0)
        way = min(law.way, gone + speed * speed / (2 * law.acceleration))
        share = way / law.way
        start, end = segment.start, segment.whole_end
        target = (
            start[0] + (end[0] - start[0]) * share,
            start[1] + (end[1] - start[1]) * share,
            start[2] + (end[2] - start[2]) * share,
        )
        self.state.control.restore(activity.kept)
        self.state.heard = min(self.state.heard, len(self.state.machine.trace.events))
        limited, self.state.machine.axes.limited = self.state.machine.axes.limited, False
        try:
            self.state.machine.move(target, "jog", segment.feed, segment.block, True)
        except Crashed:
            pass
        finally:
            self.state.machine.axes.limited = limited
