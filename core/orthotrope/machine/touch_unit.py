"""Touching moves: contact, latched and stopped position."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from orthotrope.machine.carrier import ToolCarrier
from orthotrope.machine.collisions import Collisions
from orthotrope.machine.journal import Journal
from orthotrope.machine.kinematics import Kinematics
from orthotrope.machine.motion import MotionLaw, Vector
from orthotrope.machine.shapes import Contact
from orthotrope.machine.signals import Signals
from orthotrope.machine.stops import CutShort
from orthotrope.machine.world import World

SLIGHTLY = 3e-3
"""mm; what is pushed by so little more than it gives is not harmed: a start and a way, each rounded to a ten-thousandth of an inch."""


@dataclass(frozen=True, slots=True)
class Touched:
    """A touch: where it was latched and where it stopped (gauge line, machine coordinates, mm); None where it
    missed. ``input``: the number of the input that was actuated."""

    latched: Vector | None
    stopped: Vector
    input: int | None = None


def _exact() -> float:
    return 0.0


class TouchUnit:
    """The control's touch input: it latches the position where an input is actuated, and stops the axes.

    ``noise``: gives the scatter of the next touch, mm. ``tapped``: the input that a hand actuates for a moment in the touching move that
    is under way, and when. ``latched``: how many touches there were."""

    def __init__(
        self,
        world: World,
        journal: Journal,
        axes: Kinematics,
        carrier: ToolCarrier,
        signals: Signals,
        collisions: Collisions,
    ):
        self.world, self.journal, self.axes = world, journal, axes
        self.carrier, self.signals, self.collisions = carrier, signals, collisions
        self.noise: Callable[[], float] = _exact
        self.tapped: tuple[int, float] | None = None
        self.latched = 0

    def touch(self, end: Vector, feed: float, block: int, deadline: float) -> Touched:
        """A touching move: until its input is actuated, then to a standstill by its deceleration; at ``deadline`` it is stopped from outside.

        Raises:
            Crashed: where the input is actuated already, or what is touched is pushed further than it gives.
            CutShort: at the deadline.
        """
        axes, journal, start = self.axes, self.journal, self.axes.position
        move = (end[0] - start[0], end[1] - start[1], end[2] - start[2])
        way = math.sqrt(move[0] ** 2 + move[1] ** 2 + move[2] ** 2)
        if way < 1e-9:
            return Touched(start if self.world.touches_halfway else None, start)
        if beyond := axes.beyond_travel(end):
            journal.crash("beyond-travel", **beyond)
        for over in axes.over_feed(move, way, feed):
            journal.event("feed-over-axis", **over)
        self._must_be_idle()
        journal.dependencies.add("length")
        law = axes.law_of(move, way, feed)
        latched, stopped, contact = None, way, None
        if self.world.touches_halfway:
            latched = way / 2
            stopped = _stopped(law, latched, way)
        else:
            latched, stopped, contact = self._touch_bodies(start, end, way, law)
        number, tapped = self._tapped(law, way)
        if tapped is not None and (latched is None or tapped < latched):
            latched, contact = tapped, None
            stopped = _stopped(law, tapped, way)
        until = journal.t + law.when(stopped)
        cut = deadline < until
        if cut:
            stopped = law.gone(max(0.0, deadline - journal.t))
            until = max(journal.t, deadline)

        def at(gone: float) -> Vector:
            part = gone / way
            return start[0] + move[0] * part, start[1] + move[1] * part, start[2] + move[2] * part

        axes.turned(move)
        journal.segment("touch", block, journal.t, until, at(stopped), law, None, feed, False)
        if contact and not cut and self.collisions.is_stem(contact):
            self.collisions.contact(contact, end)
        if contact:
            self.collisions.touched(contact.body)
        if cut:
            raise CutShort
        if contact:
            self._must_give(contact, way if latched is None else stopped, move, way, latched is not None)
        made = number or (self.signals.makes(contact.body) if contact and latched is not None else None)
        return Touched(None if latched is None else at(latched), at(stopped), made)

    def _must_be_idle(self) -> None:
        for entry in self.world.inputs:
            self.journal.dependencies.add(f"input {entry.number}")
            if self.world.inputs.roles[entry.number].touch and self.signals.sees(entry):
                self.journal.crash("already-made", input=entry.number, name=entry.name)

    def _must_give(self, contact: Contact, stopped: float, move: Vector, way: float, made: bool) -> None:
        """What is touched, or the stylus, must give as far as the move goes on after the contact."""
        give = self._gives(contact, move, way)
        if stopped - contact.part * way > give + SLIGHTLY:
            name = f"the stylus of T{self.carrier.tool}" if self.carrier.stylus else contact.body.name
            self.journal.crash("overtravel-exceeded", body=name, give=give, made=made)

    def _gives(self, contact: Contact, move: Vector, way: float) -> float:
        compliance = self.collisions.compliance(contact.body)
        return compliance.up if abs(move[2]) > way / 2 else compliance.across

    def _tapped(self, law: MotionLaw, way: float) -> tuple[int | None, float | None]:
        """The input that a hand actuates in this move, and the distance moved until then; None: it actuates none."""
        t = self.journal.t
        if self.tapped is None or not t <= self.tapped[1] < t + law.when(way):
            return None, None
        return self.tapped[0], law.gone(self.tapped[1] - t)

    def _touch_bodies(
        self, start: Vector, end: Vector, way: float, law: MotionLaw
    ) -> tuple[float | None, float, Contact | None]:
        """Distance moved when the touch is latched (None: it is not) and when the machine is at rest, and what is touched.

        The input changes ``pre_travel`` (and the touch's scatter) after the contact, the control answers after its
        filter and latency, and the axes stop by v²/(2a).
        """
        contact, _ = self.collisions.meets(start, end, False)
        if contact is None:
            return None, way, None
        body, at, stylus = contact.body, contact.part * way, self.carrier.stylus
        if self.collisions.is_stem(contact):  # no touch of the tip
            return None, at, contact
        makes = self.signals.makes(body)
        entry = next((entry for entry in self.world.inputs if entry.number == makes), None)
        move = (end[0] - start[0], end[1] - start[1], end[2] - start[2])
        if entry is None or self.signals.dead(entry) or self.latched >= entry.dies_after:
            return None, min(way, at + self._gives(contact, move, way)), contact
        travel = body.travel + self.world.pre_travel
        if stylus:
            travel += stylus.travel_towards(*(part / way for part in move))
        self.latched += 1
        late = abs(self.world.scatter) if (self.latched % 2 == 0) == (self.world.scatter > 0) else 0.0
        trigger = at + max(0.0, travel + late + self.noise())
        speed = law.speed_at(law.when(trigger))
        latched = trigger + speed * (entry.filter + self.world.latency)
        stopped = min(way, latched + speed * speed / (2 * law.acceleration))
        if latched > way:
            return None, way, contact
        return latched, stopped, contact


def _stopped(law: MotionLaw, latched: float, way: float) -> float:
    """Distance moved when the machine is at rest after it has latched, v²/(2a) later."""
    return min(way, latched + law.speed_at(law.when(latched)) ** 2 / (2 * law.acceleration))
