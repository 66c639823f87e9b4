"""Moves, arcs and dwells of the virtual machine: their laws of time, and what happens on the way."""

import itertools
import math
from collections.abc import Callable
from functools import partial

from orthotrope.machine.changing import ChangerEvent, Changing, MoveInterval, Now
from orthotrope.machine.meeting import Meeting, of_chord
from orthotrope.machine.motion import Arc, MotionLaw, Vector, trapezoid
from orthotrope.machine.shapes import Contact
from orthotrope.machine.stops import Crashed, CutShort, TooManyMoves
from orthotrope.machine.trace import Segment, SegmentKind

CHORD = 0.01
"""mm; an arc is cut into chords within this for contact."""


class Moving(Meeting):
    """A machine that moves and stands for a time."""

    def law_of(self, move: Vector, way: float, feed: float) -> MotionLaw:
        """The trapezoid of a straight move that its slowest axis allows; ``feed`` in mm/min, 0 for rapid."""
        speed, acceleration = (feed / 60 if feed else math.inf), math.inf
        for axis, part in zip(self.world.axes, move, strict=True):
            share = abs(part) / way
            if share > 1e-12:
                speed = min(speed, axis.rapid / 60 / share)
                acceleration = min(acceleration, axis.acceleration / share)
        return trapezoid(way, speed, acceleration)

    def move(self, end: Vector, kind: SegmentKind, feed: float, block: int, machine_frame: bool) -> None:
        """A straight move. Raises Crashed where the machine stops by itself. Only a jog may push what gives way."""
        start = self.position
        move = (end[0] - start[0], end[1] - start[1], end[2] - start[2])
        way = math.sqrt(move[0] ** 2 + move[1] ** 2 + move[2] ** 2)
        if way < 1e-9:
            return
        self._limits(start, end)
        if feed:
            self._feed_fits(move, way, feed)
        law = self.law_of(move, way, feed)
        t0, t1 = self.t, self.t + law.seconds
        contact, pressed, end_stop = None, None, None
        if self.changer:
            self._hand_over(self.changer, start, end)
        if self.world.bodies or self.changer:
            contact, pressed = self._meets(start, end, kind == "jog")
        if self._has_stops:
            end_stop = self._end_stop(start, end, move)
        hit = min(contact.part if contact else 1.0, end_stop[0] if end_stop else 1.0)
        until = t0 + law.when(hit * way) if contact or end_stop else t1
        until = min(until, max(t0, self.deadline))
        cut = self.deadline < (t1 if not (contact or end_stop) else t0 + law.when(hit * way))
        harm = self._within(law, t0, until, move[2], abs(move[0]) > 1e-9 or abs(move[1]) > 1e-9)
        if harm:
            until = harm.t
        place = end
        if until < t1 or contact or end_stop:
            part = law.gone(until - t0) / way
            place = (start[0] + move[0] * part, start[1] + move[1] * part, start[2] + move[2] * part)
        speed = law.speed_at(until - t0) if end_stop else 0.0
        self._turned(move)
        self._segment(kind, block, t0, until, place, law, None, feed, machine_frame)
        if self.changer:
            self._settle(until)
            self.changer.moved(self.true_position)
        self._press(pressed)
        if harm:
            self._crash(harm)
        if self.closest and not contact:
            self._note_passing(start, place, lambda part: t0 + law.when(part * math.dist(start, place)))
        if cut:
            raise CutShort
        if end_stop and end_stop[0] <= hit:
            self.event("end-stop", axis=self.world.axes[end_stop[1]].name, speed=speed * 60, at=place[end_stop[1]])
            raise Crashed
        if contact:
            self._contact(contact, end)

    def arc(self, end: Vector, arc: Arc, feed: float, block: int, machine_frame: bool) -> None:
        """An arc: one move in time; for contact it is cut into chords."""
        start = self.position
        speed, acceleration = feed / 60, math.inf
        for index in (0, 1, 2) if arc.rise else arc.axes[:2]:
            axis = self.world.axes[index]
            speed, acceleration = min(speed, axis.rapid / 60), min(acceleration, axis.acceleration)
        speed = min(speed, math.sqrt(acceleration * arc.radius))
        law = trapezoid(arc.length, speed, acceleration)
        count = 1
        limited = any(axis.least is not None for axis in self.world.axes)
        if self.world.bodies or self.changer or limited or self._has_stops or self._has_play:
            half = math.acos(max(-1.0, 1 - CHORD / max(arc.radius, CHORD)))
            count = max(1, math.ceil(abs(arc.sweep) / (2 * half)))
        places = [arc.at(start, index / count) for index in range(count)] + [end]
        for before, after in itertools.pairwise(places):
            self._limits(before, after)
        harm = self._within(law, self.t, self.t + law.seconds, arc.rise, True)
        t0, reach = self.t, math.inf
        if self.deadline < self.t + law.seconds:
            reach = law.gone(max(0.0, self.deadline - self.t)) / arc.length
        if harm:
            reach = 0.0
        part, contact, end_stop = self._along(places, reach, lambda gone: t0 + law.when(gone * arc.length))
        cut = reach < part
        part = min(part, reach)
        until = t0 + law.when(part * arc.length) if part < 1 else t0 + law.seconds
        speed = law.speed_at(until - t0)
        self._segment("feed", block, t0, until, arc.at(start, part) if part < 1 else end, law, arc, feed, machine_frame)
        if self.changer:
            self._settle(until)
            self.changer.moved(self.true_position)
        if harm:
            self._crash(harm)
        if cut:
            raise CutShort
        if end_stop:
            self.event(
                "end-stop", axis=self.world.axes[end_stop[1]].name, speed=speed * 60, at=self.position[end_stop[1]]
            )
            raise Crashed
        if contact:
            self._contact(contact, end)

    def _along(
        self, places: list[Vector], reach: float, when: Callable[[float], float]
    ) -> tuple[float, Contact | None, tuple[float, int] | None]:
        """Go along chords, with the play that each axis crosses where it turns, up to the part ``reach`` of them: which
        part was gone when a body or a hard stop was met (1: none was), and which. ``when``: at what time a part is gone."""
        count = len(places) - 1
        for index, (before, after) in enumerate(itertools.pairwise(places)):
            if index / count >= reach:
                break
            if self.changer:
                self._hand_over(self.changer, before, after)
            chord = (after[0] - before[0], after[1] - before[1], after[2] - before[2])
            contact, _ = self._meets(before, after, False)
            if self.closest and not contact:
                self._note_passing(before, after, partial(of_chord, when, index, count))
            end_stop = self._end_stop(before, after, chord) if self._has_stops else None
            self._turned(chord)
            hit = min(contact.part if contact else 1.0, end_stop[0] if end_stop else 1.0)
            if contact or end_stop:
                stopped = end_stop if end_stop and end_stop[0] <= hit else None
                return (index + hit) / count, None if stopped else contact, stopped
        return 1.0, None, None

    def dwell(self, seconds: float, block: int) -> None:
        """Stand for a time."""
        start = self.t
        end = min(start + seconds, max(self.deadline, start))
        harm = self._within(None, start, end, 0.0)
        self._segment("dwell", block, start, harm.t if harm else end, self.position, None, None, 0.0, False)
        if harm:
            self._crash(harm)
        self._settle(self.t)
        if end < start + seconds:
            raise CutShort

    def _hand_over(self, changer: Changing, start: Vector, end: Vector) -> None:
        """What a move does to a tool that is between spindle and pocket. Raises Crashed where it does harm."""
        self._settle(self.t)
        true_start, true_end = self._true_ends(start, end)
        happening = changer.moving(true_start, true_end, self._now())
        if happening:
            self._happened(happening)
        self._note_holding(self.t)

    def _within(
        self, law: MotionLaw | None, t0: float, t1: float, rise: float, sideways: bool = False
    ) -> ChangerEvent | None:
        """What the changer does during a move or dwell; returns the harm that ends it, if any."""
        if self.changer is None:
            return None
        self.asked.add("magazine")
        for happening in self.changer.during(
            MoveInterval(law, t0, t1, self.true_position, rise, sideways, self.trace.ramps)
        ):
            if happening.harm:
                return happening
            self._happened(happening)
        return None

    def _settle(self, t: float) -> None:
        """Let the changer's devices come to where they are at ``t``."""
        if self.changer is None or not self.changer.busy:
            return
        done = list(self.changer.until(t, self.true_position))
        for happening in done:
            self._happened(happening)
        if done:
            self._note_inputs(done[-1].t)

    def _now(self) -> Now:
        magazine = self.world.magazine
        wanted = magazine.orientation if magazine else None
        fits = wanted is None or (
            self.angle is not None and self.t >= self.oriented_from - 1e-9 and wanted.fits(self.angle)
        )
        return Now(self.t, self.true_position, self.trace.turning(self.t), fits)

    def _happened(self, happening: ChangerEvent) -> None:
        self.event(happening.kind, happening.t, **happening.data)
        if happening.asks:
            self.asked.add(happening.asks)
        if happening.harm:
            raise Crashed
        self._note_holding(happening.t)

    def _crash(self, harm: ChangerEvent) -> None:
        self.event(harm.kind, harm.t, **harm.data)
        raise Crashed

    def _segment(
        self,
        kind: SegmentKind,
        block: int,
        t0: float,
        t1: float,
        end: Vector,
        law: MotionLaw | None,
        arc: Arc | None,
        feed: float,
        machine_frame: bool,
    ) -> None:
        if len(self.trace.segments) >= self.most_moves:
            raise TooManyMoves
        self.trace.segments.append(
            Segment(self.line, block, kind, t0, t1, self.position, end, law, arc, feed, machine_frame)
        )
        self.position, self.t = end, t1

    def _feed_fits(self, move: Vector, way: float, feed: float) -> None:
        for axis, part in zip(self.world.axes, move, strict=True):
            wanted = feed * abs(part) / way
            if wanted > axis.rapid * (1 + 1e-9):
                self.event("feed-over-axis", axis=axis.name, feed=wanted, limit=axis.rapid)
