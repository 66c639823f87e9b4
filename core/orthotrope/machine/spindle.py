"""The spindle of the virtual machine: how fast it turns, and at which angle it is at rest."""

import math

from orthotrope.machine.changing import ANGLE, Magazine
from orthotrope.machine.journal import Journal
from orthotrope.machine.motion import Ramp
from orthotrope.machine.world import WorldSpindle


class Spindle:
    """``rate``: as it was last commanded, rev/s, forwards positive; ``angle``: where it was oriented to, degrees (None: it has turned
    since), ``oriented_from``: the time from which it is there."""

    def __init__(self, data: WorldSpindle, journal: Journal):
        self.data, self.journal = data, journal
        self.rate = 0.0
        self.angle: float | None = None
        self.oriented_from = math.inf

    def turning(self) -> float:
        """The speed at this moment, rev/min, forwards positive."""
        return self.journal.trace.turning(self.journal.t)

    def turn(self, speed: float) -> None:
        """Command a speed: rev/min, forwards positive. It changes evenly, in its own time; moves need not wait."""
        data, t = self.data, self.journal.t
        now = self.turning() / 60
        target = max(-data.greatest, min(data.greatest, speed)) / 60
        seconds = data.seconds_to_speed * abs(target - now) * 60 / data.greatest
        self.journal.trace.ramps.append(Ramp(t, t + seconds, now, target))
        self.rate = target
        if target:
            self.angle, self.oriented_from = None, math.inf
        self.journal.event("spindle", speed=speed)

    def turns_already(self, speed: float) -> None:
        """It turns when the program is called: rev/min, forwards positive."""
        t = self.journal.t
        self.rate = speed / 60
        self.journal.trace.ramps.append(Ramp(t, t, self.rate, self.rate))

    def orient(self, angle: float | None, magazine: Magazine | None) -> None:
        """Stop it and turn it to an angle, degrees; None: the one that is stored for exchanges. It stays where it is when the device
        of the ``magazine`` that does this has failed."""
        self.turn(0.0)
        stored = magazine.orientation if magazine else None
        self.journal.dependencies.add(f"device {ANGLE}")
        if magazine and ANGLE in magazine.failing:
            return
        self.angle = angle if angle is not None else stored.angle if stored else 0.0
        self.oriented_from = self.journal.trace.ramps[-1].t1 + (stored.seconds if stored else 0.0)

    def is_oriented(self) -> bool:
        """Whether it is at rest at an angle, whichever."""
        return self.angle is not None and self.journal.t >= self.oriented_from

    def fits(self, magazine: Magazine | None) -> bool:
        """Whether a tool can be handed over at its angle."""
        needed = magazine.orientation if magazine else None
        return needed is None or (
            self.angle is not None and self.journal.t >= self.oriented_from - 1e-9 and needed.fits(self.angle)
        )
