"""Touching moves of the virtual machine: contact, latched and stopped position."""

import math
from dataclasses import dataclass

from orthotrope.machine.motion import MotionLaw, Vector
from orthotrope.machine.moving import Moving
from orthotrope.machine.shapes import Contact
from orthotrope.machine.stops import Crashed, CutShort

SLIGHTLY = 3e-3
"""mm; what is pushed by so little more than it gives is not harmed: a start and a way, each rounded to a ten-thousandth of an inch."""


@dataclass(frozen=True, slots=True)
class Touched:
    """A touch: where it was latched and where it stopped (gauge line, machine coordinates, mm); None where it
    missed. ``input``: the number of the input that was made."""

    latched: Vector | None
    stopped: Vector
    input: int | None = None


class Touching(Moving):
    """A machine whose moves may touch."""

    def touch(self, end: Vector, feed: float, block: int) -> Touched:
        """A touching move: until its input is made, then to a stand by its deceleration. Raises Crashed where it is
        made already, or what it touches is pushed further than it gives."""
        start = self.position
        move = (end[0] - start[0], end[1] - start[1], end[2] - start[2])
        way = math.sqrt(move[0] ** 2 + move[1] ** 2 + move[2] ** 2)
        if way < 1e-9:
            return Touched(start if self.world.touches_halfway else None, start)
        self._limits(start, end)
        self._feed_fits(move, way, feed)
        for entry in self.world.inputs:
            self.asked.add(f"input {entry.number}")
            if self.world.inputs.roles[entry.number].touch and self.sees(entry):
                self.event("already-made", input=entry.number, name=entry.name)
                raise Crashed
        self.asked.add("length")
        law = self.law_of(move, way, feed)
        latched, stopped, contact = None, way, None
        if self.world.touches_halfway:
            latched = way / 2
            stopped = min(way, latched + law.speed_at(law.when(latched)) ** 2 / (2 * law.acceleration))
        else:
            latched, stopped, contact = self._touch_bodies(start, end, way, law)
        number, tapped = self._tapped(law, way)
        if tapped is not None and (latched is None or tapped < latched):
            latched, contact = tapped, None
            stopped = min(way, tapped + law.speed_at(law.when(tapped)) ** 2 / (2 * law.acceleration))
        until = self.t + law.when(stopped)
        cut = self.deadline < until
        if cut:
            stopped = law.gone(max(0.0, self.deadline - self.t))
            until = max(self.t, self.deadline)

        def at(gone: float) -> Vector:
            part = gone / way
            return start[0] + move[0] * part, start[1] + move[1] * part, start[2] + move[2] * part

        self._turned(move)
        t0 = self.t
        self._segment("touch", block, t0, until, at(stopped), law, None, feed, False)
        if contact and self.stylus and contact.mover is not self._arrangement.tip and not cut:
            self._contact(contact, end)
        if contact:
            self._press(contact.body)
            if self.closest:
                self.closest.touches(contact.body.name)
        if cut:
            raise CutShort
        if contact:
            body, own = contact.body, self.stylus
            give = self._give(body).up if abs(move[2]) > way / 2 else self._give(body).across
            if (way if latched is None else stopped) - contact.part * way > give + SLIGHTLY:
                name = f"the stylus of T{self.tool}" if own else body.name
                self.event("overtravel-exceeded", body=name, give=give, made=latched is not None)
                raise Crashed
        made = number or (self._makes(contact.body) if contact and latched is not None else None)
        return Touched(None if latched is None else at(latched), at(stopped), made)

    def _tapped(self, law: MotionLaw, way: float) -> tuple[int | None, float | None]:
        """The input that a hand makes in this move, and the way gone until then; None: it makes none."""
        if self.tapped is None or not self.t <= self.tapped[1] < self.t + law.when(way):
            return None, None
        return self.tapped[0], law.gone(self.tapped[1] - self.t)

    def _touch_bodies(
        self, start: Vector, end: Vector, way: float, law: MotionLaw
    ) -> tuple[float | None, float, Contact | None]:
        """Way gone when the touch is latched (None: it is not) and when the machine stands, and what is touched.

        The input changes ``pre_travel`` (and the touch's scatter) after the contact, the control answers after its
        filter and latency, and the axes stop by v²/(2a).
        """
        contact, _ = self._meets(start, end, False)
        if contact is None:
            return None, way, None
        body, at, stylus = contact.body, contact.part * way, self.stylus
        if stylus and contact.mover is not self._arrangement.tip:  # the stem, or what is above it: no touch of the tip
            return None, at, contact
        makes = self._makes(body)
        entry = next((entry for entry in self.world.inputs if entry.number == makes), None)
        give = self._give(body).up if abs(end[2] - start[2]) > way / 2 else self._give(body).across
        if entry is None or self.dead(entry):
            return None, min(way, at + give), contact
        travel = body.travel + self.world.pre_travel
        if stylus:
            travel += stylus.travel_towards(*((b - a) / way for a, b in zip(start, end, strict=True)))
        self.latched += 1
        late = self.world.scatter if self.latched % 2 == 0 else 0.0
        trigger = at + max(0.0, travel + late + self.noise())
        speed = law.speed_at(law.when(trigger))
        latched = trigger + speed * (entry.filter + self.world.latency)
        stopped = min(way, latched + speed * speed / (2 * law.acceleration))
        if latched > way:
            return None, way, contact
        return latched, stopped, contact
