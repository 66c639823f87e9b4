"""The virtual machine: its parts, and the moves in which they act together.

Each part depends on those before it: ``axes`` (kinematics), ``journal``, ``spindle``, ``carrier`` (tool and changer), ``signals``, ``devices``,
``collisions``, ``touch_unit``."""

import itertools
import math
from collections.abc import Callable, Container
from functools import partial
from typing import NamedTuple

from orthotrope.machine.carrier import ToolCarrier
from orthotrope.machine.changing import Changing
from orthotrope.machine.collisions import Collisions, of_chord
from orthotrope.machine.devices import Devices
from orthotrope.machine.journal import Journal
from orthotrope.machine.kinematics import EndStop, Kinematics
from orthotrope.machine.motion import Arc, Vector
from orthotrope.machine.passing import Passed
from orthotrope.machine.shapes import Body, Contact
from orthotrope.machine.signals import Signals
from orthotrope.machine.spindle import Spindle
from orthotrope.machine.stops import CutShort
from orthotrope.machine.touch_unit import Touched, TouchUnit
from orthotrope.machine.trace import SegmentKind, Trace
from orthotrope.machine.world import World

CHORD = 0.01
"""mm; an arc is cut into chords within this for contact."""


class MachineState(NamedTuple):
    """All of a machine that a block can change; ``lengths`` of the trace's lists."""

    position: Vector
    t: float
    rate: float
    error: Vector
    heading: Vector
    homed: bool
    pressed: Body | None
    loose_tool: int
    changer: Changing | None
    angle: float | None
    oriented_from: float
    awake_from: float
    passed: Passed | None
    lengths: tuple[int, ...]


class VirtualMachine:
    """A machine in a world: it moves, and writes the trace.

    ``deadline``: when it is stopped from outside, seconds."""

    def __init__(self, world: World, at: Vector, tool: int, fresh: bool = True):
        """At a place, with a tool in the spindle; one that is not ``fresh`` is to :meth:`take_over` another's place and trace."""
        self._world = world
        self.deadline = math.inf
        self.axes = Kinematics(world.axes, at, world.homed)
        self.journal = Journal(self.axes)
        self.spindle = Spindle(world.spindle, self.journal)
        self.carrier = ToolCarrier(world, self.journal, tool)
        self.signals = Signals(world, self.journal, self.spindle, self.carrier)
        self.devices = Devices(self.journal, self.axes, self.spindle, self.carrier, self.signals)
        self.collisions = Collisions(world, self.journal, self.axes, self.carrier, self.signals)
        self.touch_unit = TouchUnit(world, self.journal, self.axes, self.carrier, self.signals, self.collisions)
        if fresh:
            self.trace.holding.append((0.0, tool))
            self.carrier.begin()
            self.collisions.begin()
            self.signals.note()

    @property
    def world(self) -> World:
        return self._world

    def be_in(self, world: World) -> None:
        """Be in another world from now on, in the same place."""
        self._world = world
        self.axes.fit(world.axes)
        self.spindle.data = world.spindle
        for part in (self.carrier, self.signals, self.collisions, self.touch_unit):
            part.world = world
        self.collisions.rearranged()

    @property
    def trace(self) -> Trace:
        return self.journal.trace

    @property
    def t(self) -> float:
        """Seconds since the run began."""
        return self.journal.t

    @property
    def position(self) -> Vector:
        """The gauge line, machine coordinates as the control counts them, mm."""
        return self.axes.position

    @property
    def tool(self) -> int:
        """The tool that is in the spindle, tight or not; 0 is none."""
        return self.carrier.tool

    # -- moves --------------------------------------------------------------------------------------------------------

    def move(self, end: Vector, kind: SegmentKind, feed: float, block: int, machine_frame: bool) -> None:
        """A straight move; ``feed`` in mm/min, 0 for rapid. Only a jog may push what gives way.

        Raises:
            Crashed: where the machine stops by itself.
            CutShort: at the deadline.
        """
        axes, journal, devices, collisions = self.axes, self.journal, self.devices, self.collisions
        start = axes.position
        move = (end[0] - start[0], end[1] - start[1], end[2] - start[2])
        way = math.sqrt(move[0] ** 2 + move[1] ** 2 + move[2] ** 2)
        if way < 1e-9:
            return
        self._must_be_within(end)
        if feed:
            for over in axes.over_feed(move, way, feed):
                journal.event("feed-over-axis", **over)
        law = axes.law_of(move, way, feed)
        t0, t1 = journal.t, journal.t + law.seconds
        contact, pressed = None, None
        if self.carrier.changer:
            devices.hand_over(start, end)
        if self._world.bodies or self.carrier.changer:
            contact, pressed = collisions.meets(start, end, kind == "jog")
        end_stop = axes.end_stop(start, end, move)
        hit = min(contact.part if contact else 1.0, end_stop.part if end_stop else 1.0)
        until = t0 + law.when(hit * way) if contact or end_stop else t1
        cut = self.deadline < until
        until = min(until, max(t0, self.deadline))
        harm = devices.within(law, t0, until, move[2], abs(move[0]) > 1e-9 or abs(move[1]) > 1e-9)
        if harm:
            until = harm.t
        place = end
        if until < t1 or contact or end_stop:
            part = law.gone(until - t0) / way
            place = (start[0] + move[0] * part, start[1] + move[1] * part, start[2] + move[2] * part)
        axes.turned(move)
        journal.segment(kind, block, t0, until, place, law, None, feed, machine_frame)
        devices.moved()
        collisions.press(pressed)
        if harm:
            journal.crash(harm.kind, harm.t, **harm.data)
        if collisions.closest and not contact:
            collisions.note_passing(start, place, lambda part: t0 + law.when(part * math.dist(start, place)))
        if cut:
            raise CutShort
        if end_stop and end_stop.part <= hit:
            self._stopped_hard(end_stop, law.speed_at(until - t0))
        if contact:
            collisions.contact(contact, end)

    def arc(self, end: Vector, arc: Arc, feed: float, block: int, machine_frame: bool) -> None:
        """An arc: one move in time; for contact it is cut into chords.

        Raises:
            Crashed: where the machine stops by itself.
            CutShort: at the deadline.
        """
        axes, journal, start = self.axes, self.journal, self.axes.position
        law = axes.law_of_arc(arc, feed)
        places = [arc.at(start, index / count) for count in (self._chords(arc),) for index in range(count)] + [end]
        for place in places[1:]:
            self._must_be_within(place)
        harm = self.devices.within(law, journal.t, journal.t + law.seconds, arc.rise, True)
        t0, reach = journal.t, math.inf
        if self.deadline < t0 + law.seconds:
            reach = law.gone(max(0.0, self.deadline - t0)) / arc.length
        if harm:
            reach = 0.0
        part, contact, end_stop = self._along(places, reach, lambda gone: t0 + law.when(gone * arc.length))
        cut = reach < part
        part = min(part, reach)
        until = t0 + law.when(part * arc.length) if part < 1 else t0 + law.seconds
        place = arc.at(start, part) if part < 1 else end
        journal.segment("feed", block, t0, until, place, law, arc, feed, machine_frame)
        self.devices.moved()
        if harm:
            journal.crash(harm.kind, harm.t, **harm.data)
        if cut:
            raise CutShort
        if end_stop:
            self._stopped_hard(end_stop, law.speed_at(until - t0))
        if contact:
            self.collisions.contact(contact, end)

    def _chords(self, arc: Arc) -> int:
        """Into how many chords an arc is cut: one, where nothing can be met on it."""
        axes = self.axes
        if not (self._world.bodies or self.carrier.changer or axes.has_limits or axes.has_stops or axes.has_backlash):
            return 1
        half = math.acos(max(-1.0, 1 - CHORD / max(arc.radius, CHORD)))
        return max(1, math.ceil(abs(arc.sweep) / (2 * half)))

    def _along(
        self, places: list[Vector], reach: float, when: Callable[[float], float]
    ) -> tuple[float, Contact | None, EndStop | None]:
        """Go along chords, with the play that each axis crosses where it turns, up to the part ``reach`` of them: which
        part was gone when a body or a hard stop was met (1: none was), and which. ``when``: at what time a part is gone."""
        axes, collisions, count = self.axes, self.collisions, len(places) - 1
        for index, (before, after) in enumerate(itertools.pairwise(places)):
            if index / count >= reach:
                break
            self.devices.hand_over(before, after)
            chord = (after[0] - before[0], after[1] - before[1], after[2] - before[2])
            contact, _ = collisions.meets(before, after, False)
            if collisions.closest and not contact:
                collisions.note_passing(before, after, partial(of_chord, when, index, count))
            end_stop = axes.end_stop(before, after, chord)
            axes.turned(chord)
            hit = min(contact.part if contact else 1.0, end_stop.part if end_stop else 1.0)
            if contact or end_stop:
                stopped = end_stop if end_stop and end_stop.part <= hit else None
                return (index + hit) / count, None if stopped else contact, stopped
        return 1.0, None, None

    def touch(self, end: Vector, feed: float, block: int) -> Touched:
        """A touching move; see :meth:`TouchUnit.touch`."""
        return self.touch_unit.touch(end, feed, block, self.deadline)

    def dwell(self, seconds: float, block: int) -> None:
        """Be at rest for a time.

        Raises:
            Crashed: where a device does harm meanwhile.
            CutShort: at the deadline.
        """
        journal, start = self.journal, self.journal.t
        end = min(start + seconds, max(self.deadline, start))
        harm = self.devices.within(None, start, end, 0.0)
        until = harm.t if harm else end
        journal.segment("dwell", block, start, until, self.axes.position, None, None, 0.0, False)
        if harm:
            journal.crash(harm.kind, harm.t, **harm.data)
        self.devices.settle(journal.t)
        if end < start + seconds:
            raise CutShort

    def _must_be_within(self, end: Vector) -> None:
        if beyond := self.axes.beyond_travel(end):
            self.journal.crash("beyond-travel", **beyond)

    def _stopped_hard(self, stop: EndStop, speed: float) -> None:
        """``speed`` in mm/s."""
        axis, at = self._world.axes[stop.axis].name, self.axes.position[stop.axis]
        self.journal.crash("end-stop", axis=axis, speed=speed * 60, at=at)

    # -- spindle, tools, devices --------------------------------------------------------------------------------------

    def turns_already(self, speed: float) -> None:
        """The spindle turns when the program is called: rev/min, forwards positive."""
        self.spindle.turns_already(speed)
        self.signals.note()

    def orient(self, angle: float | None) -> None:
        """Stop the spindle and turn it to an angle, degrees; None: the one that is stored for exchanges."""
        self.spindle.orient(angle, self._world.magazine)

    def switch(self, word: int, p: float | None) -> None:
        """Switch what an M word (with its P) switches. Raises Crashed where that does harm at once."""
        self.signals.wake(word, p)
        for event in self.devices.switch(word, p):
            if event.kind == "device" and self._world.bodies:
                self.collisions.sweep(event.data["device"], event.data["state"], event.data["done"])

    # -- the state ----------------------------------------------------------------------------------------------------

    def stands_free(self, place: Vector) -> bool:
        """Whether the spindle's stack would be in no body at a place."""
        return self.collisions.is_free(place)

    def rearranged(self) -> None:
        """What is in the world, or in the spindle, is another: nothing that was known of it is valid any more."""
        self.collisions.rearranged()
        self.signals.pressed = None

    def kept(self) -> MachineState:
        """All that a block can change, for :meth:`restore`; the trace is cut back to its lengths."""
        axes, spindle, carrier, signals, closest = (
            self.axes,
            self.spindle,
            self.carrier,
            self.signals,
            self.collisions.closest,
        )
        return MachineState(
            axes.position,
            self.journal.t,
            spindle.rate,
            axes.error,
            axes.heading,
            axes.homed,
            signals.pressed,
            carrier.loose_tool,
            carrier.changer.copied() if carrier.changer else None,
            spindle.angle,
            spindle.oriented_from,
            signals.awake_from,
            closest.kept() if closest else None,
            self.journal.lengths(),
        )

    def restore(self, kept: MachineState) -> None:
        """Return to what :meth:`kept` has."""
        axes, spindle = self.axes, self.spindle
        axes.position, axes.error, axes.heading, axes.homed = kept.position, kept.error, kept.heading, kept.homed
        spindle.rate, spindle.angle, spindle.oriented_from = kept.rate, kept.angle, kept.oriented_from
        self.journal.t = kept.t
        self.signals.pressed, self.signals.awake_from = kept.pressed, kept.awake_from
        if self.collisions.closest and kept.passed:
            self.collisions.closest.restore(kept.passed)
        self.journal.cut(kept.lengths)
        self.carrier.loose_tool = kept.loose_tool
        self.carrier.have(kept.changer)
        self.collisions.rearranged()

    def take_over(self, other: "VirtualMachine", kept: MachineState, dependencies: Container[str]) -> None:
        """Go on where another machine was, in this one's world: with what it had :meth:`kept`, and its trace until then. What the other
        run did not depend on (the magazine, a pocket) is as this world has it."""
        self.journal.begin_as(other.journal, kept.lengths)
        self.restore(kept)
        self.carrier.be_in_own_world(dependencies)
