"""The virtual machine: position, time, spindle, and what it carries, in a world."""

import math

from orthotrope.machine.coupling import Coupling, Happening, stretches
from orthotrope.machine.motion import Arc, Law, Ramp, Vector, trapezoid
from orthotrope.machine.shapes import Body, Contact, CylinderBody, StackPart, first_contact
from orthotrope.machine.trace import BlockState, Event, Segment, SegmentKind, Trace
from orthotrope.machine.world import World

AXES = ("X", "Y", "Z")
LIMIT_TOLERANCE = 1e-6
CHORD = 0.01
"""mm; an arc is cut into chords within this for contact."""


class Crashed(Exception):
    """The machine has stopped by itself; the trace tells why."""


class VirtualMachine:
    """Moves in a world and writes the trace. All positions: gauge line, machine coordinates, mm."""

    def __init__(self, world: World, at: Vector, tool: int):
        self.world = world
        self.trace = Trace()
        self.position, self.t, self.rate = at, 0.0, 0.0
        self.line = 0
        self.homed = world.homed
        rack = world.rack
        self.coupling = Coupling(rack, stored=dict(rack.stored)) if rack else None
        self.loose_tool = tool
        if self.coupling and rack and tool:
            self.coupling.tool, self.coupling.engaged = tool, rack.engaged
            for pocket, stored in rack.stored.items():
                if stored == tool:
                    self.coupling.stored.pop(pocket)
        self.trace.holding.append((0.0, tool))
        self._arranged: tuple[object, ...] | None = None
        self._stack: tuple[StackPart, ...] = ()
        self._bodies: list[Body] = []
        self._lowest = self._widest = 0.0

    @property
    def tool(self) -> int:
        """The tool that is in the spindle, tight or not; 0 is none."""
        return self.coupling.tool if self.coupling else self.loose_tool

    def event(self, kind: str, t: float | None = None, **data: object) -> None:
        self.trace.events.append(Event(kind, self.t if t is None else t, self.line, self.position, data))

    def change_tool(self, number: int) -> None:
        """Put another tool into the spindle by hand; the one that was in it goes back to where it belongs."""
        rack = self.world.rack
        if self.coupling and rack:
            home = {tool: pocket for pocket, tool in rack.stored.items()}
            if self.coupling.tool in home:
                self.coupling.stored[home[self.coupling.tool]] = self.coupling.tool
            self.coupling.tool, self.coupling.engaged = number, rack.engaged if number else 0.0
            self.coupling.stored.pop(home.get(number, -1), None)
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
        self.event("spindle", speed=speed)

    def dwell(self, seconds: float, block: int) -> None:
        """Stand for a time."""
        start = self.t
        harm = self._couple(None, start, start + seconds, 0.0) if self.coupling else None
        self._segment("dwell", block, start, harm.t if harm else start + seconds, self.position, None, None, 0.0, False)
        if harm:
            self._crash(harm)

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
        """A straight move. Raises Crashed where the machine stops by itself."""
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
        contact = None
        if self.world.bodies or self.coupling:
            self._arrange(start, end)
            contact = first_contact(self._stack, self._bodies, start, end, self._lowest, self._widest)
        until = t0 + law.when(contact.part * way) if contact else t1
        harm = self._couple(law, t0, until, move[2], sideways=(move[0], move[1])) if self.coupling else None
        if harm:
            until = harm.t
        place = end
        if until < t1 or contact:
            part = law.gone(until - t0) / way
            place = (start[0] + move[0] * part, start[1] + move[1] * part, start[2] + move[2] * part)
        self._segment(kind, block, t0, until, place, law, None, feed, machine_frame)
        if harm:
            self._crash(harm)
        if contact:
            self._contact(contact)

    def touch(self, end: Vector, feed: float, block: int, part: float) -> Vector:
        """A touching move whose input is made when ``part`` of its way is gone; returns where that was. The machine goes
        on by its deceleration, no further than the move."""
        start = self.position
        move = (end[0] - start[0], end[1] - start[1], end[2] - start[2])
        way = math.sqrt(move[0] ** 2 + move[1] ** 2 + move[2] ** 2)
        if way < 1e-9:
            return start
        self._limits(start, end)
        self._feed_fits(move, way, feed)
        law = self.law_of(move, way, feed)
        speed = law.speed_at(law.when(part * way))
        latched = (start[0] + move[0] * part, start[1] + move[1] * part, start[2] + move[2] * part)
        gone = min(way, part * way + speed * speed / (2 * law.acceleration))
        until = self.t + law.when(gone)
        share = gone / way
        place = (start[0] + move[0] * share, start[1] + move[1] * share, start[2] + move[2] * share)
        self._segment("touch", block, self.t, until, place, law, None, feed, False)
        return latched

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
        if self.world.bodies or self.coupling or any(axis.least is not None for axis in self.world.axes):
            half = math.acos(max(-1.0, 1 - CHORD / max(arc.radius, CHORD)))
            count = max(1, math.ceil(abs(arc.sweep) / (2 * half)))
        before = start
        for index in range(1, count + 1):
            after = arc.at(start, index / count) if index < count else end
            self._limits(before, after)
            self._arrange(before, after)
            contact = first_contact(self._stack, self._bodies, before, after, self._lowest, self._widest)
            if contact:
                gone = (index - 1 + contact.part) / count
                self._segment("feed", block, self.t, self.t + law.when(gone * arc.length), arc.at(start, gone), law, arc,
                              feed, machine_frame)  # fmt: skip
                self._contact(contact)
            before = after
        self._segment("feed", block, self.t, self.t + law.seconds, end, law, arc, feed, machine_frame)

    def end_block(self, line: int, t0: float, record: float, doubtful: bool) -> None:
        self.trace.blocks.append(BlockState(line, t0, self.t, self.position, record, doubtful, self.trace.holding[-1][1]))

    def _segment(self, kind: SegmentKind, block: int, t0: float, t1: float, end: Vector, law: Law | None,
                 arc: Arc | None, feed: float, machine_frame: bool) -> None:  # fmt: skip
        self.trace.segments.append(Segment(self.line, block, kind, t0, t1, self.position, end, law, arc, feed, machine_frame))
        self.position, self.t = end, t1

    def _limits(self, start: Vector, end: Vector) -> None:
        for index in (0, 1, 2):
            axis = self.world.axes[index]
            value = end[index]
            for limit, beyond, name in (
                (axis.least, axis.least is not None and value < axis.least - LIMIT_TOLERANCE, "least"),
                (axis.greatest, axis.greatest is not None and value > axis.greatest + LIMIT_TOLERANCE, "greatest"),
            ):
                if beyond:
                    self.event("beyond-travel", axis=AXES[index], value=value, limit=limit, side=name)
                    raise Crashed

    def _feed_fits(self, move: Vector, way: float, feed: float) -> None:
        for index in (0, 1, 2):
            wanted = feed * abs(move[index]) / way
            if wanted > self.world.axes[index].rapid * (1 + 1e-9):
                self.event("feed-over-axis", axis=AXES[index], feed=wanted, limit=self.world.axes[index].rapid)

    def _arrange(self, start: Vector, end: Vector) -> None:
        """Stack and bodies for this move: the nut that the nose is threading with is no obstacle to it."""
        coupling, world = self.coupling, self.world
        if coupling is None:
            key: tuple[object, ...] = (self.loose_tool,)
        else:
            upright = abs(end[0] - start[0]) < 1e-9 and abs(end[1] - start[1]) < 1e-9
            pocket = coupling.place(start[0], start[1]) if upright and not coupling.tool else None
            key = (coupling.tool, pocket, coupling.holds, tuple(coupling.stored))
        if key == self._arranged:
            return
        self._arranged = key
        parts = list(world.spindle.parts)
        tool = world.tools.get(self.tool)
        if tool:
            nut = tool.stick_out - tool.length
            if coupling:
                parts.append(StackPart(f"the nut of T{tool.number}", coupling.rack.nut_radius, nut, coupling.rack.engaged))
            parts.append(StackPart(f"T{tool.number}", tool.radius, -tool.length, nut if coupling else 0.0))
        self._stack = tuple(parts)
        self._lowest = min((part.low for part in parts), default=0.0)
        self._widest = max((part.radius for part in parts), default=0.0)
        bodies = list(world.bodies)
        if coupling:
            rack = coupling.rack
            for number, stored in coupling.stored.items():
                if number == key[1] or (coupling.tool == stored):
                    continue
                x, y = rack.places[number]
                nut_low = world.tools[stored].stick_out - world.tools[stored].length if stored in world.tools else -10.0
                bodies.append(CylinderBody(f"the nut of T{stored} in pocket {number}", x, y, rack.nut_radius,
                                           rack.couple_z + nut_low, rack.couple_z + rack.engaged, number))  # fmt: skip
        self._bodies = bodies

    def _couple(self, law: Law | None, t0: float, t1: float, dz: float,
                sideways: tuple[float, float] = (0.0, 0.0)) -> Happening | None:  # fmt: skip
        """What the thread does during a move or dwell; returns the harm that ends it, if any."""
        coupling = self.coupling
        assert coupling is not None
        x, y, z = self.position
        height = z - coupling.rack.couple_z
        if min(height, height + dz) > coupling.zone:
            return None
        if abs(sideways[0]) > 1e-9 or abs(sideways[1]) > 1e-9:
            if coupling.holds is None:
                data = {"pocket": coupling.pocket, "tool": coupling.tool, "engaged": coupling.engaged,
                        "fetching": coupling.fetching}  # fmt: skip
                return Happening("moved-ungripped", t0, True, data)
            return None
        pocket = coupling.place(x, y)
        if pocket is None or t1 <= t0:
            return None
        sign = math.copysign(1.0, dz)
        for happening in coupling.advance(pocket, stretches(law, t0, t1, height, sign, self.trace.ramps)):
            if happening.harm:
                return happening
            self.event(happening.kind, happening.t, **happening.data)
            held = coupling.holds
            if held != self.trace.holding[-1][1]:
                self.trace.holding.append((happening.t, held))
        return None

    def _crash(self, harm: Happening) -> None:
        self.event(harm.kind, harm.t, **harm.data)
        raise Crashed

    def _contact(self, contact: Contact) -> None:
        pocket = contact.body.pocket
        rack = self.world.rack
        over = self.coupling.place(self.position[0], self.position[1]) if self.coupling else None
        if pocket is not None and over == pocket and self.tool and rack and self.coupling:
            self.event("pocket-occupied", pocket=pocket, tool=self.tool, stored=self.coupling.stored.get(pocket, 0))
        else:
            low = self.position[2] + contact.mover.low
            at = [self.position[0], self.position[1], max(low, contact.body.bottom)]
            self.event("body-contact", mover=contact.mover.name, body=contact.body.name, at=at, deep=contact.deep)
        raise Crashed
