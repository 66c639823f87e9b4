"""The virtual machine: position, time, spindle, and what it carries, in a world.

It is built up: how it stands (``standing``), what it meets (``meeting``), how it moves (``moving``) and touches (``touching``); here are its
spindle and its devices."""

import math

from orthotrope.machine.changing import ANGLE
from orthotrope.machine.motion import Ramp
from orthotrope.machine.touching import Touching


class VirtualMachine(Touching):
    """Moves in a world and writes the trace."""

    def change_tool(self, number: int) -> None:
        """Put another tool into the spindle by hand; the one that was in it goes back to where it belongs."""
        magazine = self.world.magazine
        self.asked.add("stored")
        if self.changer and magazine:
            home = {tool: pocket for pocket, tool in magazine.stored.items()}
            if self.changer.tool in home:
                self.changer.stored[home[self.changer.tool]] = self.changer.tool
            self.changer.put(number)
            self.changer.stored.pop(home.get(number, -1), None)
        self.loose_tool = number
        self.trace.holding.append((self.t, number))

    def turn(self, speed: float) -> None:
        """Command the spindle: rev/min, forwards positive. It changes evenly, in its own time; moves need not wait."""
        spindle = self.world.spindle
        now = self.trace.turning(self.t) / 60
        wanted = max(-spindle.greatest, min(spindle.greatest, speed)) / 60
        seconds = spindle.seconds_to_speed * abs(wanted - now) * 60 / spindle.greatest
        self.trace.ramps.append(Ramp(self.t, self.t + seconds, now, wanted))
        self.rate = wanted
        if wanted:
            self.angle, self.oriented_from = None, math.inf
        self.event("spindle", speed=speed)

    def turns_already(self, speed: float) -> None:
        """The spindle turns when the program is called: rev/min, forwards positive."""
        self.rate = speed / 60
        self.trace.ramps.append(Ramp(self.t, self.t, self.rate, self.rate))
        self._note_inputs()

    def orient(self, angle: float | None) -> None:
        """Stop the spindle and turn it to an angle, degrees; None: the one that is stored for exchanges."""
        self.turn(0.0)
        magazine = self.world.magazine
        stored = magazine.orientation if magazine else None
        self.asked.add(f"device {ANGLE}")
        if magazine and ANGLE in magazine.failing:
            return
        self.angle = angle if angle is not None else stored.angle if stored else 0.0
        self.oriented_from = self.trace.ramps[-1].t1 + (stored.seconds if stored else 0.0)

    def switch(self, word: int, p: float | None) -> None:
        """Switch what an M word (with its P) switches in the changer. Raises Crashed where that does harm at once."""
        waking = self.world.waking
        if waking and (word, p) in (waking.on, waking.off):
            self.awake_from = self.t + waking.seconds if (word, p) == waking.on else math.inf
        if self.changer is None:
            return
        self.asked.add("magazine")
        self._settle(self.t)
        switched = self.world.magazine.device_of(word, p) if self.world.magazine else None
        if switched:
            self.asked |= {f"device {switched[0]}", f"device {switched[0]} {switched[1]}"}
        for happening in self.changer.switch(word, p, self._now()):
            self._happened(happening)
            if happening.kind == "device" and self.world.bodies:
                self._sweep(happening.data["device"], happening.data["state"], happening.data["done"])
        self._note_holding(self.t)
        self._note_inputs()
        self._settle(self.t)

    def quiet_until(self) -> float:
        """Until when no input changes as long as the machine stands; now, where that can't be said."""
        moments = [ramp.t1 for ramp in self.trace.ramps[-1:]] + [self.oriented_from]
        if self.changer:
            own = list(self.changer.changes_at(self.t, bool(self.rate)))
            if self.t in own:
                return self.t
            moments += own
        return min((moment for moment in moments if moment > self.t), default=math.inf)
