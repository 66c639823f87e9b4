"""A practice machine does things in blocks, as time passes, and hears what comes of them."""

import math
import time

from orthotrope.machine.trace import Event, Trace
from orthotrope.practising.truth import longer
from orthotrope.sequence.probing import tip_of
from orthotrope.setup.machine import AXES, AxisName
from orthotrope.units import shown_in

from practice.alarms import ALARMS
from practice.standing import Activity, Refused, Standing

CREEP = 300.0
"""mm/min; an axis that runs into its hard stop no faster than this keeps its home, and only as fast may soft limits be
passed, or a machine be moved that isn't homed."""

BLOCKS_A_TICK = 400
"""Blocks that take no time are run this many at a look, so that an endless program doesn't hang the process."""

SLIPS = 0.15
"""mm; by how much a tool in a loose nut is another length each time it was put down, as a standard deviation."""


class Playing(Standing):
    """What it does goes on while time passes."""

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
            if event.kind == "end-stop":
                axis: AxisName = event.data["axis"]
                self.at_stop = axis, self.machine.heading[AXES.index(axis)]
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
        if self.alarm and self.machine.rate:
            self.machine.turn(0.0)  # an alarm stops the spindle too
        self.execution = "STOPPED" if self.alarm else "READY"
        self.block = ""
        self.machine.line = 0
        self.changed()
