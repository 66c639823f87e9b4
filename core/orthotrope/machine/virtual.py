"""The virtual machine: position, time, spindle, and what it carries, in a world."""

import itertools
import math
from collections.abc import Callable, Container, Iterable, MutableSequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any, NamedTuple

from orthotrope.calc.wiring import Lead
from orthotrope.machine.changing import ANGLE, Changing, Course, Happening, Now, Spot, Stored, Way
from orthotrope.machine.events import EventKind
from orthotrope.machine.inputs import WorldInput
from orthotrope.machine.motion import Arc, Law, Ramp, Vector, trapezoid
from orthotrope.machine.passing import Closest, Passed
from orthotrope.machine.shapes import Body, Contact, CylinderBody, StackPart, first_contact
from orthotrope.machine.trace import BlockState, Event, Segment, SegmentKind, Trace
from orthotrope.machine.world import World, WorldStylus, WorldTool

LIMIT_TOLERANCE = 1e-6
CHORD = 0.01
"""mm; an arc is cut into chords within this for contact."""


def _parts(trace: Trace) -> tuple[MutableSequence[Any], ...]:
    return trace.segments, trace.events, trace.blocks, trace.ramps, trace.holding, trace.inputs, trace.stored


def _exact() -> float:
    return 0.0


class Give(NamedTuple):
    """How far something can be pushed sideways, and from above, mm."""

    across: float
    up: float


def _core(body: Body, give: Give) -> Body | None:
    """What is left of a body when it is pushed, or a stylus at it, as far as that gives; None: nothing."""
    if isinstance(body, CylinderBody):
        smaller: Body = replace(body, radius=body.radius - give.across, top=body.top - give.up)
        left = body.radius - give.across
    else:
        wells = tuple(replace(well, radius=well.radius + give.across) for well in body.wells)
        half_x, half_y = body.half_x - give.across, body.half_y - give.across
        smaller = replace(body, half_x=half_x, half_y=half_y, top=body.top - give.up, wells=wells)
        left = min(half_x, half_y)
    return smaller if left > 0 and smaller.top > smaller.bottom else None


def _signs(move: Vector, before: Vector) -> Vector:
    """The way each axis goes: 1 up, −1 down; one that stands keeps the way it went ``before``."""
    x, y, z = (math.copysign(1.0, part) if abs(part) > 1e-12 else was for part, was in zip(move, before, strict=True))
    return x, y, z


class Crashed(Exception):
    """The machine has stopped by itself; the trace tells why."""


class TooManyMoves(Exception):
    """The run has made as many moves as it may (``most_moves``)."""


class CutShort(Crashed):
    """The machine was stopped from outside, at its ``deadline``."""


@dataclass(frozen=True, slots=True)
class Touched:
    """A touch: where it was latched and where it stopped (gauge line, machine coordinates, mm); None where it
    missed. ``input``: the number of the input that was made."""

    latched: Vector | None
    stopped: Vector
    input: int | None = None


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


def _beside(bodies: Iterable[Body], way: Way, radius: float) -> list[Body]:
    """The bodies that a cylinder on its way may meet in plan."""
    (x0, y0, _), (x1, y1, _) = way.least, way.greatest
    return [
        body
        for body in bodies
        if x0 - radius < body.x + body.reach
        and body.x - body.reach < x1 + radius
        and y0 - radius < body.y + body.reach
        and body.y - body.reach < y1 + radius
    ]


def _of_chord(when: Callable[[float], float], index: int, chords: int, part: float) -> float:
    """When a part of one of the chords of a way is gone."""
    return when((index + part) / chords)


class Arrangement(NamedTuple):
    """What a move carries and may meet: the spindle's ``stack``, the ``tip`` of its stylus, the stack's ``lowest`` place below the
    gauge line and its ``widest`` radius, mm; the ``bodies``, and the ``spots`` where something may be stored."""

    stack: tuple[StackPart, ...]
    tip: StackPart | None
    lowest: float
    widest: float
    bodies: list[Body]
    spots: list[Spot]


NOTHING = Arrangement((), None, 0.0, 0.0, [], [])

NEAR_BODY = 500.0
"""mm; a body whose middle is further off in X or Y is not under the spindle."""

SLIGHTLY = 3e-3
"""mm; what is pushed by so little more than it gives is not harmed: a start and a way, each rounded to a ten-thousandth of an inch."""


class VirtualMachine:
    """Moves in a world and writes the trace. All positions: gauge line, machine coordinates as the control counts them,
    mm.

    ``error``: what the slides' true place has more than the control counts (homing that scatters); backlash comes on
    top, against the way that each axis went last. One that is not ``fresh`` is to :meth:`take_over` another's trace.
    ``limited``: whether the soft limits hold. ``deadline``: when the machine is stopped from outside, seconds.
    ``longer``: the same tools, each longer than it is; where they would meet what they do not, "longer" was asked.
    ``noise``: the scatter of the next touch, mm. ``stay_made``: the inputs that a touch has made so far, ``latched``: how many."""

    def __init__(self, world: World, at: Vector, tool: int, fresh: bool = True):
        self.world = world
        self.trace = Trace()
        self.position, self.t, self.rate = at, 0.0, 0.0
        self.error: Vector = (0.0, 0.0, 0.0)
        self.heading: Vector = (0.0, 0.0, 0.0)
        self.limited = True
        self.deadline = math.inf
        self.most_moves = math.inf
        self.longer: dict[int, WorldTool] | None = None
        self.noise: Callable[[], float] = _exact
        self.pressed: Body | None = None
        self.leads: dict[int, Lead] = {}
        self.by_hand: dict[int, bool] = {}
        self.stay_made: set[int] = set()
        self.latched = 0
        self.tapped: tuple[int, float] | None = None
        """The input that a hand makes for a moment in the touching move that is under way, and when."""
        asked: set[str] = set()
        self.changer: Changing | None = None
        self._first_tool = self.loose_tool = tool
        self.angle: float | None = None
        self.oriented_from = math.inf
        self.awake_from = math.inf
        self.made = set(world.inputs.at_rest)
        self._has_stops = world.has_stops
        self._has_play = any(axis.backlash for axis in world.axes)
        self.line = 0
        self.homed = world.homed
        self.asked = asked
        """What of the world the program has asked: "input 3", "device grip", "device grip open", "override", "unit" (the caller's); "length": how long its
        tools really are, by a touch or a contact; "pocket 3" is what is stored there, "stored" all of that, "magazine" also how long it is, asked by the first thing that
        moves or is switched."""
        self.closest = Closest(world.passing) if world.passing else None
        self._arranged: tuple[object, ...] | None = None
        self._arrangement = NOTHING
        self._arrangements: dict[tuple[object, ...], tuple[World, Arrangement]] = {}
        if fresh:
            self.trace.holding.append((0.0, tool))
            self._begin_changer()
            self._begin_pressed()
            self._note_inputs()

    def _begin_changer(self) -> None:
        magazine = self.world.magazine
        if magazine:
            self.changer = magazine.begin(self._first_tool)
            self.trace.stored[:] = [(0.0, self.changer.stored)]
            self.changer.stored = Stored(self.changer.stored, self.asked)

    def _begin_pressed(self) -> None:
        """A program may be called while the tip stands on what gives way: after a stop within a touch."""
        x, y, _ = self.position
        giving = [b for b in self.world.bodies if b.give and abs(b.x - x) < NEAR_BODY and abs(b.y - y) < NEAR_BODY]
        if giving:
            here = self.true_position
            self._arrange(here, here)
            found = self._first(giving, here, here)
            self.pressed = found.body if found else None
            self._arranged = None  # what a program does asks of the world anew
            self.asked.clear()
            if self.pressed:
                self.asked.add("length")

    @property
    def tool(self) -> int:
        """The tool that is in the spindle, tight or not; 0 is none."""
        return self.changer.tool if self.changer else self.loose_tool

    @property
    def true_position(self) -> Vector:
        """Where the slides really are."""
        return self.position if self._is_exact else self._true(self.position, self.heading)

    def _true(self, counted: Vector, heading: Vector) -> Vector:
        """The true place of a counted one, when the axes have last gone the way of ``heading`` (a sign for each)."""
        x, y, z = (
            c + e - h * axis.backlash / 2
            for c, e, h, axis in zip(counted, self.error, heading, self.world.axes, strict=True)
        )
        return x, y, z

    @property
    def _is_exact(self) -> bool:
        return not self._has_play and self.error == (0.0, 0.0, 0.0)

    def is_made(self, entry: WorldInput) -> bool:
        """Whether the contact of this input is made: by what the machine touches, by a hand, or by its own state."""
        if entry.number in self.by_hand:
            return self.by_hand[entry.number]
        if entry.dead or entry.stuck:
            return entry.stuck
        if entry.stays and entry.number in self.stay_made:
            return True
        if entry.role == "spindle still":
            return self.trace.turning(self.t) == 0
        if entry.role == "oriented":
            return self.angle is not None and self.t >= self.oriented_from
        made = self.changer.is_made(self.world.inputs.roles[entry.number], self.t) if self.changer else None
        if made is not None:
            return made
        return entry.number in self.made or (self.pressed is not None and self._makes(self.pressed) == entry.number)

    def _makes(self, body: Body) -> int | None:
        """The number of the input that a touch of a body makes; a stylus makes its own, while it is awake."""
        stylus = self.stylus
        if stylus is None:
            return body.makes
        return None if stylus.sleeps and self.t < self.awake_from else stylus.input

    def set_by_hand(self, number: int, made: bool) -> None:
        """An input's contact is held as it is from now on, whatever the machine touches."""
        self.by_hand[number] = made
        self._note_inputs()

    def sees(self, entry: WorldInput) -> bool:
        """What the control sees of this input."""
        return entry.seen(self.is_made(entry), self.leads.get(entry.number, "sound"))

    def stands_free(self, place: Vector) -> bool:
        """Whether the spindle's stack would be in no body at a place."""
        self._arrange(place, place)
        self._ask_spots(place, place)
        return self._first(self._arrangement.bodies, place, place) is None

    @property
    def stylus(self) -> WorldStylus | None:
        """What lets the tool in the spindle tell of a touch itself; None: it does not."""
        tool = self.world.tools.get(self.tool)
        return tool.stylus if tool else None

    def _give(self, body: Body) -> Give:
        """How far a touch may push a body, or the stylus at it."""
        stylus = self.stylus
        return Give(stylus.give_across, stylus.give_up) if stylus else Give(body.give, body.give)

    def _first(self, bodies: list[Body], start: Vector, end: Vector) -> Contact | None:
        """The first contact of what the spindle carries, on a way; the tip of a stylus is where it stands off the axis."""
        found = first_contact(
            self._arrangement.stack, bodies, start, end, self._arrangement.lowest, self._arrangement.widest
        )
        stylus, tip = self.stylus, self._arrangement.tip
        if stylus is None or tip is None:
            return found
        begin = (start[0] + stylus.off_x, start[1] + stylus.off_y, start[2])
        finish = (end[0] + stylus.off_x, end[1] + stylus.off_y, end[2])
        own = first_contact((tip,), bodies, begin, finish, tip.low, tip.radius)
        return own if own and (found is None or own.part <= found.part) else found

    def _note_inputs(self, t: float | None = None) -> None:
        """Keep in the trace what the control sees from now on, or from ``t`` on."""
        if self.world.inputs:
            when = self.t if t is None else t
            self.trace.inputs.append((when, {name: seen[self.is_made(entry)] for name, seen, entry in self._lamps()}))

    def _lamps(self) -> list[tuple[str, tuple[bool, bool], WorldInput]]:
        """As :attr:`Inputs.lamps`, with the leads as they are."""
        if not self.leads:
            return self.world.inputs.lamps
        leads = {entry.number: self.leads.get(entry.number, "sound") for entry in self.world.inputs}
        return [(e.name, (e.seen(False, leads[e.number]), e.seen(True, leads[e.number])), e) for e in self.world.inputs]

    def kept(self) -> "MachineState":
        """All that a block can change, for :meth:`restore`; the trace is cut back to its lengths."""
        changer = self.changer.copied() if self.changer else None
        return MachineState(
            self.position,
            self.t,
            self.rate,
            self.error,
            self.heading,
            self.homed,
            self.pressed,
            self.loose_tool,
            changer,
            self.angle,
            self.oriented_from,
            self.awake_from,
            self.closest.kept() if self.closest else None,
            tuple(len(part) for part in _parts(self.trace)),
        )

    def restore(self, kept: "MachineState") -> None:
        """Go back to what :meth:`kept` has."""
        self.position, self.t, self.rate, self.error, self.heading = (
            kept.position,
            kept.t,
            kept.rate,
            kept.error,
            kept.heading,
        )
        self.homed, self.pressed, self.loose_tool = kept.homed, kept.pressed, kept.loose_tool
        self.changer, self.angle, self.oriented_from = kept.changer, kept.angle, kept.oriented_from
        self.awake_from = kept.awake_from
        if self.closest and kept.passed:
            self.closest.restore(kept.passed)
        for part, length in zip(_parts(self.trace), kept.lengths, strict=True):
            del part[length:]
        if self.changer:
            self.changer = self.changer.copied()
            self.changer.stored = Stored(self.changer.stored, self.asked)
        self.trace.sorted_out = -1
        self._arranged = None

    def take_over(self, other: "VirtualMachine", kept: "MachineState", asked: Container[str]) -> None:
        """Go on where another machine was, in this one's world: with what it had :meth:`kept`, and its trace until
        then. What was not ``asked`` before (the magazine, a pocket) stands as this world has it."""
        for mine, its, length in zip(_parts(self.trace), _parts(other.trace), kept.lengths, strict=True):
            mine[:] = its[:length]
        self.restore(kept)
        self._arrangements = other._arrangements
        if "magazine" not in asked:
            self._begin_changer()
        elif self.changer and self.world.magazine:
            self.changer.place_in(self.world.magazine)
            own = self.world.magazine.stored_beside(self._first_tool)
            if self.trace.stored[0][1] != own:
                self.changer.stored = Stored(self._unasked(self.changer.stored, own, asked), self.asked)
                self.trace.stored[:] = [(t, self._unasked(there, own, asked)) for t, there in self.trace.stored]

    @staticmethod
    def _unasked(there: dict[int, int], own: dict[int, int], asked: Container[str]) -> dict[int, int]:
        """What is stored where another machine was, but in pockets that were not asked as it is here."""
        other = {pocket for pocket in {*there, *own} if f"pocket {pocket}" not in asked}
        kept = {pocket: tool for pocket, tool in there.items() if pocket not in other}
        return kept | {pocket: tool for pocket, tool in own.items() if pocket in other}

    def event(self, kind: EventKind, t: float | None = None, **data: object) -> None:
        self.trace.events.append(Event(kind, self.t if t is None else t, self.line, self.position, data))

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

    def laid_anew(self) -> None:
        """What stands in the world is another: nothing that was known of it holds any more."""
        self._arranged, self.pressed = None, None

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

    def _sweep(self, device: str, state: str, done: float) -> None:
        """What a device moves until it is ``done`` meets no body on its way. Raises Crashed where it does."""
        assert self.changer
        found: list[tuple[float, Contact, list[float]]] = []
        begun, takes = self.t, done - self.t

        def when(gone: float) -> float:
            return begun + takes * gone

        for part, way in self.changer.sweeps(device, state, self.world.tools):
            near = _beside(self.world.bodies, way, part.radius + self.world.passing)
            if not near:  # whichever tool is moved, and however long it is
                continue
            if not self.closest or _beside(near, way, part.radius):  # what is only passed closely is the same with it
                self.asked.add("stored")
            if self.longer is not None and "longer" not in self.asked and self._would_meet(device, state, self.longer):
                self.asked.add("longer")
            chords = len(way.places) - 1
            bodies = [body for body in near if body.top + self.world.passing > way.least[2] + part.low]
            for index, (start, end) in enumerate(itertools.pairwise(way.places) if bodies else ()):
                contact = first_contact((part,), bodies, start, end, part.low, part.radius)
                if self.closest and not contact:
                    self.closest.note((part,), bodies, start, end, partial(_of_chord, when, index, chords), self.line)
                if contact:
                    self.asked.add("length")
                    x, y, z = (s + (e - s) * contact.part for s, e in zip(start, end, strict=True))
                    at = [x, y, max(z + part.low, contact.body.bottom)]
                    found.append(((index + contact.part) / chords, contact, at))
                    break
        if found:
            part_of_way, contact, at = min(found, key=lambda entry: entry[0])
            self._met(contact, at, self.t + (done - self.t) * part_of_way)

    def _would_meet(self, device: str, state: str, tools: dict[int, WorldTool]) -> bool:
        """Whether what a device moves would meet a body on its way if the tools were these."""
        assert self.changer
        return any(
            first_contact((part,), list(self.world.bodies), start, end, part.low, part.radius)
            for part, way in self.changer.sweeps(device, state, tools)
            for start, end in itertools.pairwise(way.places)
        )

    def _now(self) -> Now:
        magazine = self.world.magazine
        wanted = magazine.orientation if magazine else None
        fits = wanted is None or (
            self.angle is not None and self.t >= self.oriented_from - 1e-9 and wanted.fits(self.angle)
        )
        return Now(self.t, self.true_position, self.trace.turning(self.t), fits)

    def _settle(self, t: float) -> None:
        """Let the changer's devices come to where they are at ``t``."""
        if self.changer is None or not self.changer.busy:
            return
        done = list(self.changer.until(t, self.true_position))
        for happening in done:
            self._happened(happening)
        if done:
            self._note_inputs(done[-1].t)

    def quiet_until(self) -> float:
        """Until when no input changes as long as the machine stands; now, where that can't be said."""
        moments = [ramp.t1 for ramp in self.trace.ramps[-1:]] + [self.oriented_from]
        if self.changer:
            own = list(self.changer.changes_at(self.t, bool(self.rate)))
            if self.t in own:
                return self.t
            moments += own
        return min((moment for moment in moments if moment > self.t), default=math.inf)

    def _happened(self, happening: Happening) -> None:
        self.event(happening.kind, happening.t, **happening.data)
        if happening.harm:
            raise Crashed
        self._note_holding(happening.t)

    def _note_holding(self, t: float) -> None:
        assert self.changer is not None
        held = self.changer.holds
        if held != self.trace.holding[-1][1]:
            self.trace.holding.append((t, held))
        if self.changer.stored != self.trace.stored[-1][1]:
            self.trace.stored.append((t, dict(self.changer.stored)))

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

    def law_of(self, move: Vector, way: float, feed: float) -> Law:
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

    def _note_passing(self, start: Vector, end: Vector, when: Callable[[float], float]) -> None:
        """How close a move that meets nothing comes to what is there; ``when``: at what time a part of it is gone."""
        assert self.closest
        stack = (*self._arrangement.stack, self._arrangement.tip) if self._arrangement.tip else self._arrangement.stack
        self.closest.note(stack, self._arrangement.bodies, *self._true_ends(start, end), when, self.line)

    def _hand_over(self, changer: Changing, start: Vector, end: Vector) -> None:
        """What a move does to a tool that is between spindle and pocket. Raises Crashed where it does harm."""
        self._settle(self.t)
        true_start, true_end = self._true_ends(start, end)
        happening = changer.moving(true_start, true_end, self._now())
        if happening:
            self._happened(happening)
        self._note_holding(self.t)

    def _meets(self, start: Vector, end: Vector, may_push: bool) -> tuple[Contact | None, Body | None]:
        """The first hard contact of a move, and the body that gives way and may be pressed at its end."""
        self._arrange(start, end)
        true_start, true_end = self._true_ends(start, end)
        self._ask_spots(true_start, true_end)
        bodies = self._arrangement.bodies
        if may_push or self.pressed:
            cores = [self._core_of(body, may_push) for body in bodies]
            bodies = [body for body in cores if body is not None]
        contact = self._first(bodies, true_start, true_end)
        if contact or may_push or self.pressed:
            self.asked.add("length")
        elif self.longer is not None and "longer" not in self.asked:
            with_longer = self._arrangement_of(self.longer)
            stack, low, wide = with_longer.stack, with_longer.lowest, with_longer.widest
            if first_contact(stack, with_longer.bodies, true_start, true_end, low, wide):
                self.asked.add("longer")
        if contact and not self._is_exact:
            part = self._counted_part(contact.part, start, end, true_start, true_end)
            contact = replace(contact, part=part)
        pressed = self.pressed
        if may_push and pressed is None:
            giving = [body for body in self._arrangement.bodies if body.give or self.stylus]
            soft = self._first(giving, true_start, true_end)
            pressed = soft.body if soft and (self.stylus is None or soft.mover is self._arrangement.tip) else None
        return contact, pressed

    def _core_of(self, body: Body, may_push: bool) -> Body | None:
        """A body as hard as it is where it may be pushed, or is."""
        if self.stylus:  # it gives towards whatever it meets, once it is pushed
            return _core(body, self._give(body)) if may_push or self.pressed else body
        return _core(body, self._give(body)) if body.give and (may_push or body is self.pressed) else body

    def _ask_spots(self, start: Vector, end: Vector) -> None:
        """A move asks what is stored wherever it comes near."""
        # Whatever may stand there is as wide and as high as this; so the answer holds for what another world has there.
        bottom = min(start[2], end[2]) + self._arrangement.lowest
        for pocket, x, y, radius, top in self._arrangement.spots:
            reach = radius + self._arrangement.widest
            if (
                top > bottom
                and min(start[0], end[0]) - reach < x < max(start[0], end[0]) + reach
                and min(start[1], end[1]) - reach < y < max(start[1], end[1]) + reach
            ):
                self.asked.add("stored" if pocket is None else f"pocket {pocket}")

    def _true_ends(self, start: Vector, end: Vector) -> tuple[Vector, Vector]:
        """True places of both ends of a move: the play is crossed at its beginning."""
        if self._is_exact:
            return start, end
        move = (end[0] - start[0], end[1] - start[1], end[2] - start[2])
        return self._true(start, self.heading), self._true(end, _signs(move, self.heading))

    def _counted_part(self, part: float, start: Vector, end: Vector, true_start: Vector, true_end: Vector) -> float:
        """The part of the counted way that belongs to a part of the true one: the play is crossed first."""
        if self._is_exact:
            return part
        way = math.dist(start, end)
        crossed = max(0.0, way - math.dist(true_start, true_end))
        return (crossed + part * (way - crossed)) / way if way else part

    def _turned(self, move: Vector) -> None:
        self.heading = _signs(move, self.heading)

    def _press(self, body: Body | None) -> None:
        """What gives way stays pressed as long as the spindle's stack is in it."""
        if body is None:
            return
        here = self.true_position
        inside = self._first([body], here, here) is not None
        was, self.pressed = self.pressed, body if inside else None
        if self.pressed is not None and (made := self._makes(self.pressed)) is not None:
            self.stay_made.add(made)
        if (was is None) != (self.pressed is None):
            self.event("pressed" if inside else "released", body=body.name, input=self._makes(body))
            self._note_inputs()

    def _end_stop(self, start: Vector, end: Vector, move: Vector) -> tuple[float, int] | None:
        """After which part of a move an axis stands at its hard stop, and which (its place among the axes)."""
        true_start, true_end = self._true_ends(start, end)
        found: tuple[float, int] | None = None
        for index, axis in enumerate(self.world.axes):
            way = true_end[index] - true_start[index]
            stop = axis.stop_greatest if way > 0 else axis.stop_least
            over = true_end[index] - stop if way > 0 else stop - true_end[index]
            if over > 1e-9 and abs(move[index]) > 1e-9:
                part = self._counted_part(max(0.0, 1 - over / abs(way)), start, end, true_start, true_end)
                if found is None or part < found[0]:
                    found = (part, index)
        return found

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

    def _tapped(self, law: Law, way: float) -> tuple[int | None, float | None]:
        """The input that a hand makes in this move, and the way gone until then; None: it makes none."""
        if self.tapped is None or not self.t <= self.tapped[1] < self.t + law.when(way):
            return None, None
        return self.tapped[0], law.gone(self.tapped[1] - self.t)

    def _touch_bodies(
        self, start: Vector, end: Vector, way: float, law: Law
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

    def dead(self, entry: WorldInput) -> bool:
        """Whether the control sees no touch of this input: it sees the same whether it is made or not, or the
        reverse."""
        held = self.by_hand.get(entry.number) is False
        return entry.dead or held or not entry.seen(True, self.leads.get(entry.number, "sound"))

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
                self._note_passing(before, after, partial(_of_chord, when, index, count))
            end_stop = self._end_stop(before, after, chord) if self._has_stops else None
            self._turned(chord)
            hit = min(contact.part if contact else 1.0, end_stop[0] if end_stop else 1.0)
            if contact or end_stop:
                stopped = end_stop if end_stop and end_stop[0] <= hit else None
                return (index + hit) / count, None if stopped else contact, stopped
        return 1.0, None, None

    def end_block(self, line: int, t0: float, record: float, doubtful: bool) -> None:
        self.trace.blocks.append(
            BlockState(line, t0, self.t, self.position, record, doubtful, self.trace.holding[-1][1])
        )

    def _segment(
        self,
        kind: SegmentKind,
        block: int,
        t0: float,
        t1: float,
        end: Vector,
        law: Law | None,
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

    def _limits(self, start: Vector, end: Vector) -> None:
        if not self.limited:
            return
        for axis, value in zip(self.world.axes, end, strict=True):
            for limit, beyond, name in (
                (axis.least, axis.least is not None and value < axis.least - LIMIT_TOLERANCE, "least"),
                (axis.greatest, axis.greatest is not None and value > axis.greatest + LIMIT_TOLERANCE, "greatest"),
            ):
                if beyond:
                    self.event("beyond-travel", axis=axis.name, value=value, limit=limit, side=name)
                    raise Crashed

    def _feed_fits(self, move: Vector, way: float, feed: float) -> None:
        for axis, part in zip(self.world.axes, move, strict=True):
            wanted = feed * abs(part) / way
            if wanted > axis.rapid * (1 + 1e-9):
                self.event("feed-over-axis", axis=axis.name, feed=wanted, limit=axis.rapid)

    def _arrange(self, start: Vector, end: Vector) -> None:
        """Stack and bodies for this move: the nut that the nose is threading with is no obstacle to it."""
        self.asked.add("magazine")
        changer, world = self.changer, self.world
        if changer is None:
            key: tuple[object, ...] = (self.loose_tool, None)
        else:
            upright = abs(end[0] - start[0]) < 1e-9 and abs(end[1] - start[1]) < 1e-9
            key = changer.key(self.true_position, upright)
        if key == self._arranged:
            return
        self._arranged = key
        self._arrangement = self._arrangement_of(world.tools)
        if self._arrangement.tip:
            self.asked.add("length")

    def _arrangement_of(self, tools: dict[int, WorldTool]) -> "Arrangement":
        """Stack and bodies as they were last arranged, of these tools."""
        world, changer = self.world, self.changer
        assert self._arranged
        # The machines that go on from one another's places meet the same again and again.
        key = (*self._arranged, *(changer.stored.items() if changer else ()), id(world.magazine), id(tools))
        known = self._arrangements.get(key)
        if known is None or known[0].bodies is not world.bodies or known[0].spindle is not world.spindle:
            known = self._arrangements[key] = world, self._arrange_anew(tools, self._arranged[1])
        return known[1]

    def _arrange_anew(self, tools: dict[int, WorldTool], over: object) -> "Arrangement":
        world, changer = self.world, self.changer
        parts = list(world.spindle.parts)
        tool = tools.get(self.tool)
        tip = None
        if tool:
            own = list(changer.stack(tool) if changer else [tool.alone])
            if tool.stylus:
                tip = tool.tip
                own = [tool.stem_of(part) if part.name == tool.own_name else part for part in own]
            parts += own
        return Arrangement(
            tuple(parts),
            tip,
            min((part.low for part in parts), default=0.0),
            max((part.radius for part in parts), default=0.0),
            [*world.bodies, *(changer.bodies(tools, over) if changer else ())],
            list(changer.spots()) if changer else [],
        )

    def _within(self, law: Law | None, t0: float, t1: float, rise: float, sideways: bool = False) -> Happening | None:
        """What the changer does during a move or dwell; returns the harm that ends it, if any."""
        if self.changer is None:
            return None
        self.asked.add("magazine")
        for happening in self.changer.during(Course(law, t0, t1, self.true_position, rise, sideways, self.trace.ramps)):
            if happening.harm:
                return happening
            self._happened(happening)
        return None

    def _crash(self, harm: Happening) -> None:
        self.event(harm.kind, harm.t, **harm.data)
        raise Crashed

    def _contact(self, contact: Contact, end: Vector) -> None:
        pocket, changer = contact.body.pocket, self.changer
        here = self.true_position
        over = (changer.place(here[0], here[1]), changer.place(end[0], end[1])) if changer else ()
        if pocket is not None and pocket in over and self.tool and changer:
            self.event("pocket-occupied", pocket=pocket, tool=self.tool, stored=changer.stored.get(pocket, 0))
        else:
            low = here[2] + contact.mover.low
            self._met(contact, [here[0], here[1], max(low, contact.body.bottom)])
        raise Crashed

    def _met(self, contact: Contact, at: list[float], t: float | None = None) -> None:
        """Something that moves has met a body; now, or at ``t``. Raises Crashed."""
        part_of = "changer" if contact.body.pocket is not None else contact.body.part_of
        self.event(
            "body-contact",
            t,
            mover=contact.mover.name,
            body=contact.body.name,
            at=at,
            deep=contact.deep,
            part_of=part_of,
        )
        raise Crashed
