"""Exchanges of forks: in along the mouth, open, up out of the taper; over the next fork, down, close, out along its
mouth."""

import math
from collections.abc import Iterator

from orthotrope.calc.derived import DerivedChanger
from orthotrope.calc.points import unit_vector
from orthotrope.kinds.side_entry.model import SideEntry
from orthotrope.sequence.exchanges.frame import Frame, Parts, Place, every, one, open_above, park, take
from orthotrope.sequence.exchanges.registry import EMPTY, PLANNERS, Descent, Exchange, Planner
from orthotrope.sequence.steps import AxisName, Choose, ComputeIf, Dwell, Move, Sequence, Step, Switch
from orthotrope.sequence.values import Binary, Number, Value, length, parameter
from orthotrope.setup import Setup
from orthotrope.setup.control import ControlProfile
from orthotrope.setup.gripping import Grip

ORIENTED = 5.0
"""Seconds in which any spindle stands at its angle."""


class _SideEntryParts:
    """In along the mouth, open, up out of the taper; over the next fork, down, close, out along its mouth."""

    def __init__(self, changer: SideEntry):
        self.forks, self.grip = changer.forks, changer.grip

    def begins(self, frame: Frame) -> Iterator[Step]:
        """Not among the forks: a tool that is gripped there comes out along the mouth only, and straight up pulls at the fork."""
        low = _among_the_forks(frame.derived, frame.setup.profile, self.grip)
        yield Choose(low, frame.use.label("in the changer"), "among the forks: not straight up")

    def prepare(self, frame: Frame) -> Iterator[Step]:
        yield from frame.orient()
        yield park(frame)

    def put_away(self, frame: Frame) -> Iterator[Step]:
        yield from self._front(frame, frame.place_from, frame.from_pocket)
        yield from frame.doubtful()
        yield Move(self._axes(frame.place_from, self._fixed), length(self.forks.feed), "slowly into the fork")
        yield from frame.grip(True)
        yield Move((("Z", frame.heights["hover"]),), note="hover: out of the taper")
        yield from frame.record(Number(EMPTY))

    def fetch(self, frame: Frame) -> Iterator[Step]:
        across, along = self._order
        place = {"X": frame.place_to[0], "Y": frame.place_to[1]}
        yield Move(((across, place[across]),), note="over the fork")
        yield Move(((along, place[along]),))
        yield from take(frame, self.grip.feed, self.grip.slow_distance)
        yield from self._mouth(frame, frame.to_pocket)
        away = self._away(frame, frame.place_to, frame.to_pocket)
        yield Move(self._axes(away, self._fixed), length(self.forks.feed), "out along the mouth")
        yield park(frame)
        yield from frame.record(frame.to_tool)

    @property
    def _fixed(self) -> bool:
        """Whether all forks open along one axis: the moves in and out are of that axis alone."""
        cos, sin = unit_vector(self.forks.mouth_deg)
        return not self.forks.mouths and min(abs(cos), abs(sin)) < 1e-9

    @property
    def _order(self) -> tuple[AxisName, AxisName]:
        """The axis across the mouths, and the one along them: in this order a tool comes near."""
        cos, sin = unit_vector(self.forks.mouth_deg)
        return ("Y", "X") if abs(cos) > abs(sin) else ("X", "Y")

    def _axes(self, place: Place, one_axis: bool) -> tuple[tuple[AxisName, Value], ...]:
        axes: tuple[tuple[AxisName, Value], ...] = (("X", place[0]), ("Y", place[1]))
        return tuple(entry for entry in axes if not one_axis or entry[0] == self._order[1])

    def _away(self, frame: Frame, place: Place, pocket: Value) -> Place:
        """In front of a fork: its place and the lead-in along its mouth."""
        lead = self.forks.lead_in
        if isinstance(pocket, Number):
            cos, sin = unit_vector(self.forks.mouth_of(round(pocket.value)))
            return _plus(place[0], lead * cos), _plus(place[1], lead * sin)
        if not self.forks.mouths:
            cos, sin = unit_vector(self.forks.mouth_deg)
            return _plus(place[0], lead * cos), _plus(place[1], lead * sin)
        return Binary("+", place[0], frame.use.value("mouth x")), Binary("+", place[1], frame.use.value("mouth y"))

    def _mouth(self, frame: Frame, pocket: Value) -> Iterator[Step]:
        """The way out of the fork, where they differ and the program serves all."""
        if isinstance(pocket, Number) or not self.forks.mouths:
            return
        lead = self.forks.lead_in
        for number in sorted({tool.pocket or 0 for tool in frame.setup.stored()}):
            cos, sin = unit_vector(self.forks.mouth_of(number))
            condition = Binary("EQ", pocket, Number(number))
            yield ComputeIf(condition, frame.use.number("mouth x"), length(lead * cos))
            yield ComputeIf(condition, frame.use.number("mouth y"), length(lead * sin))

    def _front(self, frame: Frame, place: Place, pocket: Value) -> Iterator[Step]:
        """To the place in front of a fork, at park height an axis at a time, and down."""
        yield from self._mouth(frame, pocket)
        away = self._away(frame, place, pocket)
        values = {"X": away[0], "Y": away[1]}
        across, along = self._order
        yield Move(((across, values[across]),), note="in line with the fork")
        yield Move(((along, values[along]),), note="in front of it")
        yield Move((("Z", frame.heights["couple"]),), note="couple, in front of the fork")

    def between(self, frame: Frame) -> Iterator[Step]:
        yield Move((("Z", frame.heights["empty"]),), note="empty")

    def from_empty(self, frame: Frame) -> Iterator[Step]:
        yield from frame.grip(True, on_tool=False)

    def leave_empty(self, frame: Frame) -> Iterator[Step]:
        yield from frame.grip(False, on_tool=False)

    def parts(self) -> Parts:
        return Parts(
            self.prepare,
            self.put_away,
            self.between,
            self.from_empty,
            self.fetch,
            self.leave_empty,
            begins=self.begins,
        )


def _sum(one: tuple[Value, float], other: tuple[Value, float]) -> Value:
    """A coordinate along a way: the parts of it that are not 0."""
    parts = [value if factor == 1 else Binary("*", value, Number(factor)) for value, factor in (one, other) if factor]
    return parts[0] if len(parts) == 1 else Binary("+", parts[0], parts[1])


def _plus(value: Value, more: float) -> Value:
    if abs(more) < 1e-9:
        return value
    if isinstance(value, Number):
        return length(value.value + more)
    return Binary("+" if more > 0 else "-", value, length(math.fabs(more)))


def _among_the_forks(derived: DerivedChanger, profile: ControlProfile, grip: Grip) -> Value:
    """Called among the forks, lower than hover."""
    known, pockets = profile.parameters, derived.pockets
    x, y, z = (parameter(known.called_at_first + axis) for axis in range(3))
    bearing = math.atan2(pockets[-1].y - pockets[0].y, pockets[-1].x - pockets[0].x) if len(pockets) > 1 else 0.0
    cos, sin = (0.0 if abs(part) < 1e-9 else part for part in (math.cos(bearing), math.sin(bearing)))
    near, low = grip.holder_diameter / 2, Binary("LT", z, length(derived.ladder.hover_z))
    for ways in (((x, cos), (y, sin)), ((x, -sin), (y, cos))):
        places = [p.x * ways[0][1] + p.y * ways[1][1] for p in pockets]
        along = _sum(*ways)
        low = Binary("AND", low, Binary("GT", along, length(min(places) - near)))
        low = Binary("AND", low, Binary("LT", along, length(max(places) + near)))
    return low


class SideEntryPlanner(Planner):
    """Both kinds of text of forks."""

    def one(self, setup: Setup, derived: DerivedChanger, exchange: Exchange) -> Sequence:
        return one(_parts(setup), setup, derived, exchange)

    def every(self, setup: Setup, derived: DerivedChanger, part: bool = False) -> Sequence:
        return every(_parts(setup), setup, derived, f"{setup.machine.name}: every exchange of the fork rack", part)

    def held_where(self, setup: Setup, derived: DerivedChanger, profile: ControlProfile) -> Value:
        assert isinstance(setup.changer, SideEntry)
        return _among_the_forks(derived, profile, setup.changer.grip)

    def descent(self, setup: Setup, derived: DerivedChanger) -> Descent:
        assert isinstance(setup.changer, SideEntry)
        before = (Switch("orient the spindle", "its angle"), Dwell(Number(ORIENTED), "until it stands there"))
        return open_above(setup, derived, setup.changer.grip, before)


def _parts(setup: Setup) -> Parts:
    assert isinstance(setup.changer, SideEntry)
    return _SideEntryParts(setup.changer).parts()


PLANNERS.add("side-entry", SideEntryPlanner())
