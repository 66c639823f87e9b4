"""What the spindle and what it carries meet on their way, and what the changer's devices do: contact, closeness, what gives way."""

import itertools
from collections.abc import Callable, Container, Iterable
from dataclasses import replace
from functools import partial
from typing import NamedTuple

from orthotrope.machine.changing import Magazine, Spot, Stored, Way
from orthotrope.machine.motion import Vector
from orthotrope.machine.shapes import Body, Contact, CylinderBody, StackPart, first_contact
from orthotrope.machine.standing import MachineState, Standing, parts_of
from orthotrope.machine.stops import Crashed
from orthotrope.machine.world import World, WorldSpindle, WorldTool

LIMIT_TOLERANCE = 1e-6


class Compliance(NamedTuple):
    """How far something can be pushed sideways, and from above, mm."""

    across: float
    up: float


def _core(body: Body, give: Compliance) -> Body | None:
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


def of_chord(when: Callable[[float], float], index: int, chords: int, part: float) -> float:
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


class Arranged(NamedTuple):
    """An arrangement, and what of a world it was made of."""

    magazine: Magazine | None
    tools: dict[int, WorldTool]
    bodies: tuple[Body, ...]
    spindle: WorldSpindle
    arrangement: Arrangement


NOTHING = Arrangement((), None, 0.0, 0.0, [], [])

MOST_KNOWN = 2000
"""Arrangements that are kept; a proof of 60 tools has some hundreds for each tool in the spindle."""

NEAR_BODY = 500.0
"""mm; a body whose middle is further off in X or Y is not under the spindle."""


class Meeting(Standing):
    """A machine among bodies. One that is not ``fresh`` is to :meth:`take_over` another's place and trace."""

    def __init__(self, world: World, at: Vector, tool: int, fresh: bool = True):
        super().__init__(world, at, tool)
        self._arranged: tuple[object, ...] | None = None
        self._arrangement = NOTHING
        self._arrangements: dict[tuple[object, ...], Arranged] = {}
        if fresh:
            self.trace.holding.append((0.0, tool))
            self._begin_changer()
            self._begin_pressed()
            self._note_inputs()

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

    def take_over(self, other: "Meeting", kept: "MachineState", asked: Container[str]) -> None:
        """Go on where another machine was, in this one's world: with what it had :meth:`kept`, and its trace until
        then. What was not ``asked`` before (the magazine, a pocket) stands as this world has it."""
        for mine, its, length in zip(parts_of(self.trace), parts_of(other.trace), kept.lengths, strict=True):
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

    def restore(self, kept: MachineState) -> None:
        super().restore(kept)
        self._arranged = None

    def laid_anew(self) -> None:
        """What stands in the world is another: nothing that was known of it holds any more."""
        self._arranged, self.pressed = None, None

    def stands_free(self, place: Vector) -> bool:
        """Whether the spindle's stack would be in no body at a place."""
        self._arrange(place, place)
        self._ask_spots(place, place)
        return self._first(self._arrangement.bodies, place, place) is None

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
        if known and known.tools is tools and known.bodies is world.bodies and known.spindle is world.spindle:
            return known.arrangement
        if len(self._arrangements) >= MOST_KNOWN:
            self._arrangements.clear()
        found = self._arrange_anew(tools, self._arranged[1])
        self._arrangements[key] = Arranged(world.magazine, tools, world.bodies, world.spindle, found)
        return found

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

    def _give(self, body: Body) -> Compliance:
        """How far a touch may push a body, or the stylus at it."""
        stylus = self.stylus
        return Compliance(stylus.give_across, stylus.give_up) if stylus else Compliance(body.give, body.give)

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

    def _note_passing(self, start: Vector, end: Vector, when: Callable[[float], float]) -> None:
        """How close a move that meets nothing comes to what is there; ``when``: at what time a part of it is gone."""
        assert self.closest
        stack = (*self._arrangement.stack, self._arrangement.tip) if self._arrangement.tip else self._arrangement.stack
        self.closest.note(stack, self._arrangement.bodies, *self._true_ends(start, end), when, self.line)

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
                    self.closest.note((part,), bodies, start, end, partial(of_chord, when, index, chords), self.line)
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
