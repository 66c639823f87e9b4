"""Collisions: what the spindle and what it carries meet on their way, what gives way to them, how close they pass."""

import itertools
from collections.abc import Callable, Iterable, Iterator
from dataclasses import replace
from functools import partial
from typing import NamedTuple, NoReturn

from orthotrope.machine.carrier import ToolCarrier
from orthotrope.machine.changing import Magazine, Spot, Way
from orthotrope.machine.journal import Journal
from orthotrope.machine.kinematics import Kinematics
from orthotrope.machine.motion import Vector
from orthotrope.machine.passing import Closest, Pass, passes_of
from orthotrope.machine.shapes import Body, Contact, CylinderBody, StackPart, first_contact
from orthotrope.machine.signals import Signals
from orthotrope.machine.world import World, WorldSpindle, WorldTool


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


class Met(NamedTuple):
    """What a move meets of an arrangement: the first hard ``contact`` of it with all bodies as they are, and what of what is stored it
    depends on."""

    contact: Contact | None
    dependencies: frozenset[str]


class Arrangement(NamedTuple):
    """What a move carries and may meet: the spindle's ``stack``, the ``tip`` of its stylus, the stack's ``lowest`` place below the
    gauge line and its ``widest`` radius, mm; the ``bodies``, and the ``spots`` where something may be stored. ``moves`` and ``passes``:
    what was found of a move by its true ends, since the cases of a proof make the same ones again and again."""

    stack: tuple[StackPart, ...]
    tip: StackPart | None
    lowest: float
    widest: float
    bodies: list[Body]
    spots: list[Spot]
    moves: dict[tuple[Vector, Vector], Met]
    passes: dict[tuple[Vector, Vector, float], list[Pass]]


class Arranged(NamedTuple):
    """An arrangement, and what of a world it was made of."""

    magazine: Magazine | None
    tools: dict[int, WorldTool]
    bodies: tuple[Body, ...]
    spindle: WorldSpindle
    arrangement: Arrangement


NOTHING = Arrangement((), None, 0.0, 0.0, [], [], {}, {})

MOST_KNOWN = 2000
"""Arrangements that are kept; a proof of 60 tools has some hundreds for each tool in the spindle."""

MOST_MOVES = 500
"""Moves that are kept of an arrangement; a job makes each of its own once."""

NEAR_BODY = 500.0
"""mm; a body whose middle is further off in X or Y is not under the spindle."""


class Collisions:
    """What the spindle carries, among bodies.

    ``closest``: how near it passes each body, None where that is not noted. ``longer``: the same tools, each longer than it is; where they
    would meet what they do not, the run depends on "longer"."""

    def __init__(self, world: World, journal: Journal, axes: Kinematics, carrier: ToolCarrier, signals: Signals):
        self.world, self.journal, self.axes, self.carrier, self.signals = world, journal, axes, carrier, signals
        self.closest = Closest(world.passing) if world.passing else None
        self.longer: dict[int, WorldTool] | None = None
        self._arranged: tuple[object, ...] | None = None
        self._arrangement = NOTHING

    def begin(self) -> None:
        """A program may be called while the tip is on what gives way: after a stop within a touch."""
        x, y, _ = self.axes.position
        giving = [b for b in self.world.bodies if b.give and abs(b.x - x) < NEAR_BODY and abs(b.y - y) < NEAR_BODY]
        if giving:
            here = self.axes.true_position
            self._arrange(here, here)
            found = self._first(giving, here, here)
            self.signals.pressed = found.body if found else None
            self._arranged = None  # what a program does depends on the world from its beginning
            self.journal.dependencies.clear()
            if found:
                self.journal.dependencies.add("length")

    def rearranged(self) -> None:
        """What the spindle carries, or what is in the world, is another."""
        self._arranged = None

    def is_free(self, place: Vector) -> bool:
        """Whether the spindle's stack would be in no body at a place."""
        self._arrange(place, place)
        return self._first(self._arrangement.bodies, place, place) is None

    def _arrange(self, start: Vector, end: Vector) -> None:
        """Stack and bodies for this move: the nut that the nose is threading with is no obstacle to it."""
        self.journal.dependencies.add("magazine")
        changer, world = self.carrier.changer, self.world
        if changer is None:
            key: tuple[object, ...] = (self.carrier.loose_tool, None)
        else:
            upright = abs(end[0] - start[0]) < 1e-9 and abs(end[1] - start[1]) < 1e-9
            key = changer.key(self.axes.true_position, upright)
        if key == self._arranged:
            return
        self._arranged = key
        self._arrangement = self._arrangement_of(world.tools)
        if self._arrangement.tip:
            self.journal.dependencies.add("length")

    def _arrangement_of(self, tools: dict[int, WorldTool]) -> "Arrangement":
        """Stack and bodies as they were last arranged, of these tools."""
        world, changer = self.world, self.carrier.changer
        assert self._arranged
        stored = frozenset(changer.stored.items()) if changer else None
        key = (*self._arranged, stored, id(world.magazine), id(tools))
        arrangements: dict[tuple[object, ...], Arranged] = world.known
        known = arrangements.get(key)
        if known and known.tools is tools and known.bodies is world.bodies and known.spindle is world.spindle:
            return known.arrangement
        if len(arrangements) >= MOST_KNOWN:
            arrangements.clear()
        found = self._make_arrangement(tools, self._arranged[1])
        arrangements[key] = Arranged(world.magazine, tools, world.bodies, world.spindle, found)
        return found

    def _make_arrangement(self, tools: dict[int, WorldTool], over: object) -> "Arrangement":
        world, changer = self.world, self.carrier.changer
        parts = list(world.spindle.parts)
        tool = tools.get(self.carrier.tool)
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
            {},
            {},
        )

    def compliance(self, body: Body) -> Compliance:
        """How far a touch may push a body, or the stylus at it."""
        stylus = self.carrier.stylus
        return Compliance(stylus.give_across, stylus.give_up) if stylus else Compliance(body.give, body.give)

    def _first(self, bodies: list[Body], start: Vector, end: Vector) -> Contact | None:
        """The first contact of what the spindle carries, on a path; the tip of a stylus is where it is off the axis."""
        found = first_contact(
            self._arrangement.stack, bodies, start, end, self._arrangement.lowest, self._arrangement.widest
        )
        stylus, tip = self.carrier.stylus, self._arrangement.tip
        if stylus is None or tip is None:
            return found
        begin = (start[0] + stylus.off_x, start[1] + stylus.off_y, start[2])
        finish = (end[0] + stylus.off_x, end[1] + stylus.off_y, end[2])
        own = first_contact((tip,), bodies, begin, finish, tip.low, tip.radius)
        return own if own and (found is None or own.part <= found.part) else found

    def meets(self, start: Vector, end: Vector, may_push: bool) -> tuple[Contact | None, Body | None]:
        """The first hard contact of a move, and the body that gives way and may be pressed at its end."""
        self._arrange(start, end)
        true_start, true_end = self.axes.true_ends(start, end)
        contact, dependencies = self._met_by(true_start, true_end)
        self.journal.dependencies |= dependencies
        if may_push or self.signals.pressed:
            cores = [self._core_of(body, may_push) for body in self._arrangement.bodies]
            contact = self._first([body for body in cores if body is not None], true_start, true_end)
        if contact or may_push or self.signals.pressed:
            self.journal.dependencies.add("length")
        elif self.longer is not None and "longer" not in self.journal.dependencies:
            with_longer = self._arrangement_of(self.longer)
            stack, low, wide = with_longer.stack, with_longer.lowest, with_longer.widest
            if first_contact(stack, with_longer.bodies, true_start, true_end, low, wide):
                self.journal.dependencies.add("longer")
        if contact and not self.axes.is_exact:
            part = self.axes.counted_part(contact.part, start, end, true_start, true_end)
            contact = replace(contact, part=part)
        pressed = self.signals.pressed
        if may_push and pressed is None:
            giving = [body for body in self._arrangement.bodies if body.give or self.carrier.stylus]
            soft = self._first(giving, true_start, true_end)
            pressed = (
                soft.body if soft and (self.carrier.stylus is None or soft.mover is self._arrangement.tip) else None
            )
        return contact, pressed

    def _met_by(self, start: Vector, end: Vector) -> Met:
        """What a move between true places meets as things are."""
        moves = self._arrangement.moves
        found = moves.get((start, end))
        if found is None:
            if len(moves) >= MOST_MOVES:
                moves.clear()
            contact = self._first(self._arrangement.bodies, start, end)
            found = moves[start, end] = Met(contact, frozenset(self._spots_near(start, end)))
        return found

    def _core_of(self, body: Body, may_push: bool) -> Body | None:
        """A body as hard as it is where it may be pushed, or is."""
        if self.carrier.stylus:  # it gives towards whatever it meets, once it is pushed
            return _core(body, self.compliance(body)) if may_push or self.signals.pressed else body
        return _core(body, self.compliance(body)) if body.give and (may_push or body is self.signals.pressed) else body

    def _spots_near(self, start: Vector, end: Vector) -> Iterator[str]:
        """A move depends on what is stored wherever it comes near."""
        # Whatever may stand there is as wide and as high as this; so the answer holds for what another world has there.
        bottom = min(start[2], end[2]) + self._arrangement.lowest
        for pocket, x, y, radius, top in self._arrangement.spots:
            reach = radius + self._arrangement.widest
            if (
                top > bottom
                and min(start[0], end[0]) - reach < x < max(start[0], end[0]) + reach
                and min(start[1], end[1]) - reach < y < max(start[1], end[1]) + reach
            ):
                yield "stored" if pocket is None else f"pocket {pocket}"

    def press(self, body: Body | None) -> None:
        """What gives way stays pressed as long as the spindle's stack is in it."""
        if body is None:
            return
        here = self.axes.true_position
        self.signals.press(body, inside=self._first([body], here, here) is not None)

    def touched(self, body: Body) -> None:
        """A body has been touched, as was meant."""
        self.press(body)
        if self.closest:
            self.closest.touches(body.name)

    def note_passing(self, start: Vector, end: Vector, when: Callable[[float], float]) -> None:
        """How close a move that meets nothing comes to what is there; ``when``: at what time a part of it is gone."""
        assert self.closest
        here, (true_start, true_end), within = self._arrangement, self.axes.true_ends(start, end), self.closest.within
        passes = here.passes.get((true_start, true_end, within))
        if passes is None:
            if len(here.passes) >= MOST_MOVES:
                here.passes.clear()
            stack = (*here.stack, here.tip) if here.tip else here.stack
            passes = [*passes_of(stack, here.bodies, true_start, true_end, within)]
            here.passes[true_start, true_end, within] = passes
        self.closest.take(passes, when, self.journal.line)

    def sweep(self, device: str, state: str, done: float) -> None:
        """What a device moves until it is ``done`` meets no body on its way. Raises Crashed where it does."""
        assert self.carrier.changer
        found: list[tuple[float, Contact, list[float]]] = []
        begun, takes = self.journal.t, done - self.journal.t

        def when(gone: float) -> float:
            return begun + takes * gone

        for part, way in self.carrier.changer.sweeps(device, state, self.world.tools):
            near = _beside(self.world.bodies, way, part.radius + self.world.passing)
            if not near:  # whichever tool is moved, and however long it is
                continue
            if not self.closest or _beside(near, way, part.radius):  # what is only passed closely is the same with it
                self.journal.dependencies.add("stored")
            longer = self.longer if "longer" not in self.journal.dependencies else None
            if longer is not None and self._would_meet(device, state, longer):
                self.journal.dependencies.add("longer")
            chords = len(way.places) - 1
            bodies = [body for body in near if body.top + self.world.passing > way.least[2] + part.low]
            for index, (start, end) in enumerate(itertools.pairwise(way.places) if bodies else ()):
                contact = first_contact((part,), bodies, start, end, part.low, part.radius)
                if self.closest and not contact:
                    self.closest.note(
                        (part,), bodies, start, end, partial(of_chord, when, index, chords), self.journal.line
                    )
                if contact:
                    self.journal.dependencies.add("length")
                    x, y, z = (s + (e - s) * contact.part for s, e in zip(start, end, strict=True))
                    at = [x, y, max(z + part.low, contact.body.bottom)]
                    found.append(((index + contact.part) / chords, contact, at))
                    break
        if found:
            part_of_way, contact, at = min(found, key=lambda entry: entry[0])
            self._met(contact, at, self.journal.t + (done - self.journal.t) * part_of_way)

    def _would_meet(self, device: str, state: str, tools: dict[int, WorldTool]) -> bool:
        """Whether what a device moves would meet a body on its way if the tools were these."""
        assert self.carrier.changer
        return any(
            first_contact((part,), list(self.world.bodies), start, end, part.low, part.radius)
            for part, way in self.carrier.changer.sweeps(device, state, tools)
            for start, end in itertools.pairwise(way.places)
        )

    def is_stem(self, contact: Contact) -> bool:
        """Whether a probe meets something with its stem, or with what is above it, in place of its tip."""
        return self.carrier.stylus is not None and contact.mover is not self._arrangement.tip

    def contact(self, contact: Contact, end: Vector) -> NoReturn:
        """Note a hard contact of a move to ``end``.

        Raises:
            Crashed: always.
        """
        pocket, changer = contact.body.pocket, self.carrier.changer
        here = self.axes.true_position
        over = (changer.place(here[0], here[1]), changer.place(end[0], end[1])) if changer else ()
        if pocket is not None and pocket in over and self.carrier.tool and changer:
            stored = changer.stored.get(pocket, 0)
            self.journal.crash("pocket-occupied", pocket=pocket, tool=self.carrier.tool, stored=stored)
        low = here[2] + contact.mover.low
        self._met(contact, [here[0], here[1], max(low, contact.body.bottom)])

    def _met(self, contact: Contact, at: list[float], t: float | None = None) -> NoReturn:
        """Something that moves has met a body; now, or at ``t``. Raises Crashed."""
        part_of = "changer" if contact.body.pocket is not None else contact.body.part_of
        self.journal.crash(
            "body-contact",
            t,
            mover=contact.mover.name,
            body=contact.body.name,
            at=at,
            deep=contact.deep,
            part_of=part_of,
        )
