"""A practice machine runs programs, is held, stopped and reset, and loses its power."""

import asyncio
import math
import time
from contextlib import suppress
from typing import Any

from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun
from orthotrope.machine.run import Call
from orthotrope.machine.stops import Crashed
from orthotrope.program.reader import read_text

from practice.jogging import Jogging
from practice.playing import CREEP
from practice.results import Ran, Recorded
from practice.standing import Activity, Refused

TICK = 0.02
"""Seconds between two looks at a machine that does something."""

POWER_DROP = 1.5
"""mm that Z sinks when the power goes."""

JOG_WATCH = 0.35
"""Seconds without a sign of life after which a held jog stops."""


class Running(Jogging):
    """Its control runs texts; time passes."""

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

    def run(self, text: str, from_tool: int, to_tool: int, of: dict[str, Any] | None = None) -> None:
        """Run a program text from where the machine stands; ``of``: what it is, for those who ask later what its results are of.

        Raises:
            Refused: an unreadable text, or where the machine does not run one now.
        """
        self.ready("run a program")
        if not self.air:
            raise Refused("The air is low; let it come up before a program runs.")
        program = read_text(text)
        if not program.readable:
            raise Refused(f"The text can't be read, nothing is run. {program.faults[0]}")
        self.results.begin(Ran(of or {}, self.homings), self.control.parameters.values, self.control.lengths)
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
        kept = {n: v for n, v in old.parameters.values.items() if n not in own}
        self.results.parameters = Recorded(control.parameters.values | kept)
        control.parameters.values = self.results.parameters
        control.machine, control.lengths = old.machine, self.results.lengths
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
        self._stand()
        self.alarm, self.message, self.execution, self.at_stop = "", "", "READY", None

    def _stand(self) -> None:
        """The spindle is stopped, and it stands before anything else is done."""
        machine = self.machine
        if not self.spindle() and not machine.rate:
            return
        machine.turn(0.0)
        with suppress(Crashed):  # what touches a turning tool has been said already
            machine.dwell(machine.trace.ramps[-1].t1 - machine.t, len(machine.trace.blocks))
        self.now = machine.t
        self._hear()

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
