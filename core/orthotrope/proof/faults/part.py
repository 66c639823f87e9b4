"""The part that a routine touches is not as it is expected."""

import math
from collections.abc import Iterator
from dataclasses import replace

from orthotrope.machine.parts import about, moved, turned
from orthotrope.machine.run import Call
from orthotrope.machine.shapes import Body, BoxBody
from orthotrope.machine.world import World
from orthotrope.proof.case import Case, ProbedPart
from orthotrope.proof.completing import works_out
from orthotrope.proof.fault_runs import SharedRun
from orthotrope.proof.faults.registry import FAULTS, Fault
from orthotrope.proof.judging import Detection, FaultResult
from orthotrope.proof.worlds import PARTS
from orthotrope.sequence.probing.qualifying import routine_named

OFF_BY, TURNED_BY = 5.0, 3.0
"""mm and degrees."""

LITTLE = (2.0, 1.5, -0.3)
"""mm; how far it lies off, where all of that is allowed."""

WITHIN_ALLOWED, JUST_BEYOND, BEYOND_ALLOWED = 0.8, 1.1, 1.5
"""Of a tolerance."""

MORE, TURNED_MORE = 0.05, 0.05
"""mm and degrees; beyond a tolerance of next to nothing, so that what a touch is uncertain by does not count."""

TOO_SMALL = 0.8
"""Of the tip's diameter: what a bore that is too small has."""

LEDGE = 3.0
"""mm; half of the width of a ledge, and how far it reaches up beside where the tip would stand."""

NEAR = 0.5
"""mm; a height that is no further below the clearance is at it."""

NOT_GUARDED = Detection(
    (), "A control whose touching move goes on at a miss, and a probe that signals every contact, would detect it."
)


class _Part(Fault):
    """Something is wrong with the part."""

    def applies(self, world: World, call: Call) -> bool:
        return any(body.part_of == "part" for body in world.bodies)

    def body(self, body: Body, world: World) -> Body | None:
        """A body of the part with it; None: it is not there."""
        return body

    def found(self, part: ProbedPart, world: World) -> ProbedPart:
        """Where what the routine finds is with it."""
        return part

    def apply_to(self, case: Case, sensor: int | None = None) -> Case:
        bodies = [self.body(body, case.world) if body.part_of == "part" else body for body in case.world.bodies]
        world = replace(case.world, bodies=tuple(body for body in bodies if body))
        routine = (
            self.found(case.routine, case.world) if case.routine and case.routine.place is not None else case.routine
        )
        return replace(Fault.apply_to(self, case), world=world, routine=routine)

    def detected_by(self, case: Case) -> Detection | None:
        tool = case.world.tools.get(case.call.from_tool)
        guarded = tool is not None and tool.stylus is not None and case.profile.touch_goes_on is not None
        return None if guarded else NOT_GUARDED


class Missing(_Part):
    """It is not there."""

    label = "the part is missing"

    def body(self, body: Body, world: World) -> Body | None:
        return None

    def found(self, part: ProbedPart, world: World) -> ProbedPart:
        return replace(part, place={}, sizes=(), kept=())


class _Off(_Part):
    """It lies elsewhere: nothing may be set where that is more than is allowed."""

    def __init__(self, name: str, label: str, by: tuple[float, float, float]):
        super().__init__(name)
        self.label, self.by = label, by

    def body(self, body: Body, world: World) -> Body | None:
        return moved(body, *self.by)

    def found(self, part: ProbedPart, world: World) -> ProbedPart:
        place = part.place or {}
        if part.place_tolerance is not None and any(abs(self.by[axis]) > part.place_tolerance for axis in place):
            return replace(part, place={}, sizes=(), kept=())
        return replace(part, place={axis: at + self.by[axis] for axis, at in place.items()}, kept=())


class SmallDeviation(_Part):
    """It lies a little off, within what is allowed: what is worked out must be right."""

    label = "the part lies a little off"

    def apply_to(self, case: Case, sensor: int | None = None) -> Case:
        return self._off(case, 1.0)

    def variants(self, case: Case) -> Iterator[Case]:
        yield from (self._off(case, way) for way in (1.0, -1.0))

    def _off(self, case: Case, way: float) -> Case:
        allowed = case.routine.place_tolerance if case.routine else None
        part = way if allowed is None else way * min(1.0, WITHIN_ALLOWED * allowed / max(map(abs, LITTLE)))
        by = tuple(part * along for along in LITTLE)
        return _Off(self.name, self.label, (by[0], by[1], by[2])).apply_to(case)


class JustBeyond(_Part):
    """It lies just further off than is allowed, along each axis and either way: nothing may be set."""

    label = "the part lies just further off than allowed"

    def variants(self, case: Case) -> Iterator[Case]:
        routine = case.routine
        if routine is None or routine.place_tolerance is None or not self._judges(case):
            return
        for axis in sorted(routine.place or {}):
            for way in (1.0, -1.0):
                by = [0.0, 0.0, 0.0]
                by[axis] = way * (JUST_BEYOND * routine.place_tolerance + MORE)
                yield _Off(self.name, self.label, (by[0], by[1], by[2])).apply_to(case)

    def apply_to(self, case: Case, sensor: int | None = None) -> Case:
        return next(self.variants(case), case) if self._judges(case) else Fault.apply_to(self, case)

    @staticmethod
    def _judges(case: Case) -> bool:
        return bool(
            case.routine and case.routine.place and case.routine.place_tolerance is not None and works_out(case.profile)
        )

    def verdict(self, case: Case, own: FaultResult, shared: SharedRun) -> FaultResult | None:
        """None where any place is allowed, or it is not the control that judges it."""
        return Fault.verdict(self, case, own, shared) if self._judges(case) else None


class SizeOff(_Part):
    """Its sizes are further off than is allowed: nothing may be set."""

    label = "the part's sizes are further off than allowed"

    def apply_to(self, case: Case, sensor: int | None = None) -> Case:
        return self._sized(case, BEYOND_ALLOWED)

    def variants(self, case: Case) -> Iterator[Case]:
        yield from (self._sized(case, share) for share in (BEYOND_ALLOWED, JUST_BEYOND, -JUST_BEYOND, -BEYOND_ALLOWED))

    def _sized(self, case: Case, share: float) -> Case:
        under, setup = Fault.apply_to(self, case), case.setup
        routine = routine_named(setup, case.routine.name) if setup and case.routine else None
        if routine is None or case.routine is None or routine.size_tolerance is None:
            return under
        more = share * routine.size_tolerance + math.copysign(MORE, share)
        sizes = {name: max(getattr(routine, name) + more, MORE) for name in routine.sizes}
        bodies = PARTS[routine.kind](routine.model_copy(update=sizes))
        others = (body for body in case.world.bodies if body.part_of != "part")
        found = replace(case.routine, place={}, sizes=(), kept=())
        return replace(under, world=replace(case.world, bodies=(*others, *bodies)), routine=found)

    def verdict(self, case: Case, own: FaultResult, shared: SharedRun) -> FaultResult | None:
        """None where any size is allowed, or it is not the control that judges it."""
        routine = routine_named(case.setup, case.routine.name) if case.setup and case.routine else None
        judges = routine is not None and routine.size_tolerance is not None and case.profile.conditions
        return Fault.verdict(self, case, own, shared) if judges else None


class Turned(_Part):
    """It is turned about its middle."""

    label = "the part is turned"

    def __init__(self, name: str, by: float = TURNED_BY):
        super().__init__(name)
        self.by = by

    def variants(self, case: Case) -> Iterator[Case]:
        """Either way; and just within and just beyond what is allowed, where something is."""
        allowed = case.routine.turn_tolerance if case.routine else None
        near = () if allowed is None else (JUST_BEYOND * allowed + TURNED_MORE, WITHIN_ALLOWED * allowed)
        for by in (TURNED_BY, *near):
            yield from (Turned(self.name, way * by).apply_to(case) for way in (1.0, -1.0))

    @staticmethod
    def _middle(world: World) -> tuple[float, float]:
        parts = [there for there in world.bodies if there.part_of == "part"]
        return sum(part.x for part in parts) / len(parts), sum(part.y for part in parts) / len(parts)

    def body(self, body: Body, world: World) -> Body | None:
        return turned(body, *self._middle(world), self.by)

    def found(self, part: ProbedPart, world: World) -> ProbedPart:
        place = part.place or {}
        if part.turn_tolerance is not None and part.turn_tolerance < abs(self.by):
            return replace(part, place={}, sizes=(), kept=())
        if not part.holds_turned:
            return replace(part, place=None, turn_deg=self.by, sizes=(), kept=())
        there = dict(place)
        if 0 in place and 1 in place:
            there[0], there[1] = about(*self._middle(world), self.by, (place[0], place[1]))
        return replace(part, place=there, turn_deg=self.by, sizes=(), kept=())


class TooSmall(_Part):
    """Its bore is smaller than the tip."""

    label = "the bore is too small for the tip"

    def applies(self, world: World, call: Call) -> bool:
        return any(isinstance(body, BoxBody) and body.wells and body.part_of == "part" for body in world.bodies)

    def apply_to(self, case: Case, sensor: int | None = None) -> Case:
        tool = case.world.tools.get(case.call.from_tool)
        radius = TOO_SMALL * tool.radius if tool else 0.0
        bodies = tuple(
            replace(body, wells=tuple(replace(well, radius=radius) for well in body.wells))
            if isinstance(body, BoxBody) and body.part_of == "part"
            else body
            for body in case.world.bodies
        )
        routine = replace(case.routine, place={}, sizes=(), kept=()) if case.routine else None
        return replace(Fault.apply_to(self, case), world=replace(case.world, bodies=bodies), routine=routine)


class InTheWay(_Part):
    """A ledge stands where the tip goes down for the first time."""

    label = "a ledge is in the way"

    def apply_to(self, case: Case, sensor: int | None = None) -> Case:
        under, place = Fault.apply_to(self, case), _guarded_down(case)
        tool = case.world.tools.get(case.call.from_tool)
        if place is None or tool is None:
            return under
        x, y, z = place
        off = tool.stylus
        top = z - tool.length + LEDGE
        at_x, at_y = (x + off.off_x, y + off.off_y) if off else (x, y)
        ledge = BoxBody("a ledge", at_x, at_y, LEDGE, LEDGE, 1.0, 0.0, top - 2 * LEDGE, top, part_of="way")
        routine = replace(case.routine, place={}, sizes=(), kept=()) if case.routine else None
        return replace(under, world=replace(case.world, bodies=(*case.world.bodies, ledge)), routine=routine)

    def verdict(self, case: Case, own: FaultResult, shared: SharedRun) -> FaultResult | None:
        """None where the tip goes down to touch only: what it meets there is what it takes for the part."""
        return Fault.verdict(self, case, own, shared) if _guarded_down(case) else None


def _guarded_down(case: Case) -> tuple[float, float, float] | None:
    """Where the first move straight down among the part ends that is to touch nothing; None: there is none."""
    clear = case.routine.clear_z if case.routine else math.inf
    tool = case.world.tools.get(case.call.from_tool)
    length = tool.length if tool else 0.0
    for segment in case.main.trace.segments:
        x, y, z = segment.end
        down = segment.start[:2] == segment.end[:2] and z < segment.start[2] and z - length < clear - NEAR
        if down and segment.kind in ("touch", "feed", "rapid"):
            touched = any(event.t == segment.t1 for event in case.main.trace.of_kind("touch"))
            return None if touched else (x, y, z)
    return None


FAULTS.add("part-missing", Missing("part-missing"))
for _name, _label, _by in (
    ("part-off-left", "the part lies 5 mm further left", (-OFF_BY, 0.0, 0.0)),
    ("part-off-right", "the part lies 5 mm further right", (OFF_BY, 0.0, 0.0)),
    ("part-off-front", "the part lies 5 mm further in front", (0.0, -OFF_BY, 0.0)),
    ("part-off-back", "the part lies 5 mm further back", (0.0, OFF_BY, 0.0)),
    ("part-low", "the part is 5 mm lower", (0.0, 0.0, -OFF_BY)),
    ("part-high", "the part is 5 mm higher", (0.0, 0.0, OFF_BY)),
):
    FAULTS.add(_name, _Off(_name, _label, _by))
FAULTS.add("part-off-little", SmallDeviation("part-off-little"))
FAULTS.add("part-off-beyond", JustBeyond("part-off-beyond"))
FAULTS.add("part-turned", Turned("part-turned"))
FAULTS.add("part-size-off", SizeOff("part-size-off"))
FAULTS.add("bore-too-small", TooSmall("bore-too-small"))
FAULTS.add("in-the-way", InTheWay("in-the-way"))
