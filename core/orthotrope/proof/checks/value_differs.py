"""A constant that stands for a quantity of the Setup and has another value."""

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from orthotrope.calc.setters import derive_setter
from orthotrope.machine.trace import Event, Segment
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.completing import off_by, result_of
from orthotrope.proof.findings import Finding
from orthotrope.proof.touching import Touch, touches_of, zeros_of
from orthotrope.units import MM_PER_INCH, feed_with_unit, in_unit, with_unit


@dataclass(frozen=True, slots=True)
class _Descent:
    """A way straight down without a move sideways or up in it: the place, where it ends, its last move, and where the
    spindle goes next, sideways at that height (None: not). ``cut``: the run ended in it."""

    x: float
    y: float
    low: float
    last: Segment
    then: Segment | None
    cut: bool


@check("value-differs", "stop", "run")
def value_differs(case: Case, report: FindingFactory) -> Iterator[Finding]:
    constants = [*_planes(case, report), *_thicknesses(case, report), *_lengths(case, report)]
    yield from constants or _found_otherwise(case, report)  # a constant is the cause of what comes of it
    yield from _feeds(case, report)
    yield from _descended(case, report)
    yield from _over_its_place(case, report)


def _found_otherwise(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """What a measuring finds beside a length, a plane height or a part's zero, is what is there in this world."""
    off, event, wanted = off_by(case), result_of(case), case.measured
    if off is None or event is None or wanted is None or case.main.trace.ended != "end":
        return
    if abs(off) > FOUND_WITHIN + 4 * case.profile.last_decimal:
        yield report.of_event(
            event,
            f"The {wanted.name} is found {with_unit(abs(off))} off what is there; check the calculation and its numbers.",
        )


FOUND_WITHIN = 0.002
"""mm; what the moves' last digits come to is less."""


def _over_its_place(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """A routine that touches nothing ends over the place that it sets its zero from: what is wrong there is seen at once, if it goes there."""
    setup, blocks = case.setup, case.main.trace.blocks
    if setup is None or case.routine is None or not blocks or case.main.trace.ended != "end":
        return
    index, routine = next(((i, r) for i, r in enumerate(setup.routines) if r.name == case.routine.name), (0, None))
    if routine is None or routine.touches_part:
        return
    last = blocks[-1]
    for axis, wanted in (("x", routine.x), ("y", routine.y)):
        stands = last.position["xy".index(axis)]
        if abs(stands - wanted) > setup.machine.axes.upright.resolution + 2 * case.profile.last_decimal:
            yield report(
                f"It ends at {axis.upper()} {in_unit(stands)}, and the place of {routine.name} is {axis.upper()} {in_unit(wanted)}; correct the "
                "one that is wrong.",
                last.line,
                last.t1,
                last.position,
                f"/routines/{index}/{axis}",
            )


def _descended(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Exchanges: where the spindle goes down to take or leave a tool, its place, its lowest height and the feed of its
    last stretch are the Setup's. A place in front of a fork is reported by the move that follows: sideways, at that
    height."""
    setup, derived = case.setup, case.derived
    if setup is None or setup.changer is None or derived is None or case.purpose != "exchange":
        return
    taking = derived.taking
    if taking is None:
        return
    resolution = max(axis.resolution for _, axis in setup.machine.axes.items())
    decimal = 10.0**-case.profile.decimals * (MM_PER_INCH if case.profile.unit == "inch" else 1.0)
    tolerance = max(resolution, 2 * decimal * len(derived.pockets))
    reported: set[str] = set()
    for way in _descents(case.main.trace.segments, derived.stored_top_z):
        if way.cut and way.last.kind == "rapid" and way.low > derived.ladder.couple_z + tolerance:
            continue  # it was on its way, and something else ended the run
        x, y, at, enters = way.x, way.y, way.last, None
        number, wanted_x, wanted_y = min(taking.places, key=lambda p: abs(p[1] - x) + abs(p[2] - y))
        if way.then and taking.feed_in is None:
            continue  # a height at which it goes across: no tool is taken or left there
        if way.then:
            (to_x, to_y, _), off = way.then.whole_end, abs(wanted_x - x) + abs(wanted_y - y)
            into = min(taking.places, key=lambda p: abs(p[1] - to_x) + abs(p[2] - to_y))
            if abs(into[1] - to_x) + abs(into[2] - to_y) < off:
                (number, wanted_x, wanted_y), x, y, at, enters = into, to_x, to_y, way.then, way.then
        if abs(wanted_x - x) + abs(wanted_y - y) > taking.near:
            continue
        name = f"pocket {number}" if number else "the exchange place"
        wanted = [
            (f"{name}, X", x, wanted_x, f"{taking.where}/x", tolerance, at),
            (f"{name}, Y", y, wanted_y, f"{taking.where}/y", tolerance, at),
            ("couple height", way.low, derived.ladder.couple_z, "/changer/heights/touch_z", tolerance, way.last),
        ]
        if way.last.kind == "feed" and not enters:
            wanted.append(
                (taking.feed.name, way.last.feed, taking.feed.value, taking.feed.where, max(0.5, decimal), way.last)
            )
        if enters and enters.kind == "feed" and taking.feed_in:
            wanted.append(
                (
                    taking.feed_in.name,
                    enters.feed,
                    taking.feed_in.value,
                    taking.feed_in.where,
                    max(0.5, decimal),
                    enters,
                )
            )
        for name, value, meant, quantity, allowed, where in wanted:
            if abs(value - meant) > allowed and name not in reported:
                reported.add(name)
                yield report(
                    f"{name[0].upper()}{name[1:]}: the program has {in_unit(value)}, the Setup {in_unit(meant)}; "
                    "correct the one that is wrong.",
                    where.line,
                    where.t0,
                    where.start,
                    quantity,
                )


def _planes(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """A length that came of a touch on a setter: the gauge line's height at the touch less the length is the plane."""
    setup = case.setup
    if setup is None:
        return
    touches = {event.data["touch"]: event.data for event in case.main.trace.of_kind("touch")}
    tolerance = setup.machine.axes.upright.resolution + 2 * 10.0**-case.profile.decimals
    for event in case.main.trace.of_kind("length-set"):
        used = [touches[number] for number in event.data["touches"] if number in touches]
        on = {data["input"] for data in used}
        setters = [(i, setter) for i, setter in enumerate(setup.setters) if {setter.input} == on]
        if len(setters) != 1:
            continue
        index, setter = setters[0]
        yield from _off_the_setter(case, report, event, used, index)
        plane = sum(data["latched"][2] for data in used) / len(used) - event.data["length"]
        if abs(plane - setter.plane_z) > tolerance:
            yield report.of_event(
                event,
                f"Plane height of {setter.name}: the program has {in_unit(plane)}, the Setup {in_unit(setter.plane_z)}; "
                "correct the one that is wrong.",
                f"/setters/{index}/plane_z",
            )


def _off_the_setter(
    case: Case, report: FindingFactory, event: Event, used: list[dict[str, Any]], index: int
) -> Iterator[Finding]:
    """A tool is touched in the middle of its setter, or off it by as much as it is to be."""
    assert case.setup
    place = derive_setter(case.setup, case.derived, index).place
    tool = next((tool for tool in case.setup.tools if tool.number == event.data["tool"]), None)
    if place is None or tool is None:
        return
    resolution = max(axis.resolution for _, axis in case.setup.machine.axes.items())
    decimal = 10.0**-case.profile.decimals * (MM_PER_INCH if case.profile.unit == "inch" else 1.0)
    x, y, _ = used[0]["latched"]
    off = math.dist((x, y), place)
    if all(abs(off - meant) > resolution + 2 * decimal for meant in (0.0, tool.off_axis)):
        setter = case.setup.setters[index]
        yield report.of_event(
            event,
            f"T{tool.number} touches {setter.name} at X {in_unit(x)} Y {in_unit(y)}, and it stands at X {in_unit(place[0])} Y "
            f"{in_unit(place[1])}; correct the one that is wrong.",
            f"/setters/{index}",
        )


def _thicknesses(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """A zero that came of touches on what is laid on a part: the tip at the touch less the zero is its thickness."""
    setup = case.setup
    if setup is None:
        return
    tolerance = setup.machine.axes.upright.resolution + 2 * 10.0**-case.profile.decimals
    for zero in zeros_of(case.main):
        on = {touch.event.data.get("input") for touch in zero.touches}
        laid = [(i, s) for i, s in enumerate(setup.setters) if {s.input} == on and s.lies_on]
        tool = case.world.tools.get(int(case.main.trace.held(zero.event.t) or 0))
        if zero.axis != 2 or zero.how != "value" or len(laid) != 1 or tool is None:
            continue
        index, setter = laid[0]
        places = [touch.latched[2] for touch in zero.touches if touch.latched]
        thick = sum(places) / len(places) - tool.length - zero.zero if places else setter.lies_on
        if abs(thick - setter.lies_on) > tolerance:
            yield report.of_event(
                zero.event,
                f"{setter.name} is {with_unit(setter.lies_on)} thick in the Setup, and the program takes "
                f"{with_unit(thick)}; correct the one that is wrong.",
                f"/setters/{index}",
            )


def _feeds(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Touches of a probe: those that a zero came of went at the feed that its effective diameter holds for, the others that
    met something at that or at its search feed."""
    yield from _feeds_at_setters(case, report)
    probes = {(probe.tool, probe.input): (i, probe) for i, probe in enumerate(case.setup.probes)} if case.setup else {}
    if not probes or case.purpose != "probe":
        return
    used = {touch.number for zero in zeros_of(case.main) for touch in zero.touches}
    reported: set[str] = set()
    for touch in touches_of(case.main):
        held = int(case.main.trace.held(touch.event.t) or 0)
        index, probe = probes.get((held, touch.event.data.get("input", 0)), (0, None))
        if touch.latched is None:
            yield from _guarded(case, report, held, touch, reported)
        if probe is None or touch.latched is None:
            continue
        feeds = {"measure_feed": ("Measuring feed", probe.measure_feed)}
        if touch.number not in used:
            feeds["search_feed"] = ("Search feed", probe.search_feed)
        if any(abs(touch.feed / case.call.override - feed) <= 0.5 for _, feed in feeds.values()):
            continue
        field, (name, feed) = list(feeds.items())[-1]
        if field not in reported:
            reported.add(field)
            yield report.of_event(
                touch.event,
                f"{name} of {probe.name}: the program has {feed_with_unit(touch.feed)}, the Setup {feed_with_unit(feed)}; "
                "correct the one that is wrong.",
                f"/probes/{index}/{field}",
            )


def _guarded(case: Case, report: FindingFactory, held: int, touch: Touch, reported: set[str]) -> Iterator[Finding]:
    """A move that would stop at whatever it meets goes no faster than the probe is to meet anything."""
    assert case.setup
    index, probe = next(((i, probe) for i, probe in enumerate(case.setup.probes) if probe.tool == held), (0, None))
    if probe is None or "guarded_feed" in reported:
        return
    feed, most = touch.feed / case.call.override, max(probe.guarded_feed, probe.search_feed)
    if feed > most + 0.5:
        reported.add("guarded_feed")
        yield report.of_event(
            touch.event,
            f"A guarded move of {probe.name} goes at {feed_with_unit(feed)}, the Setup has {feed_with_unit(most)}; correct the one "
            "that is wrong.",
            f"/probes/{index}/guarded_feed",
        )


def _feeds_at_setters(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Touches on a setter: those that a length or a zero came of went at its measuring feed, the others at most at its search feed."""
    if case.setup is None or case.purpose not in ("measure", "exchange"):
        return
    used = {n for event in case.main.trace.of_kind("length-set") for n in event.data["touches"]}
    used |= {touch.number for zero in zeros_of(case.main) for touch in zero.touches}
    reported: set[str] = set()
    for touch in touches_of(case.main):
        on = touch.event.data.get("input", 0)
        index, setter = next(((i, s) for i, s in enumerate(case.setup.setters) if s.input == on), (0, None))
        if setter is None or touch.latched is None:
            continue
        feed, counts = touch.feed / case.call.override, touch.number in used
        field, meant = ("measure_feed", setter.measure_feed) if counts else ("search_feed", setter.search_feed)
        if abs(feed - meant) <= 0.5 or (not counts and feed < meant) or field in reported:
            continue
        reported.add(field)
        name = "Measuring feed" if counts else "Search feed"
        yield report.of_event(
            touch.event,
            f"{name} of {setter.name}: the program has {feed_with_unit(touch.feed)}, the Setup {feed_with_unit(meant)}; "
            "correct the one that is wrong.",
            f"/setters/{index}/{field}",
        )


def _lengths(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Measuring: the length that is set is that of the tool in the spindle, and it came of its touches. In this world the
    tool is as long as it is; where another plane was used, that is what is reported."""
    if case.setup is None or case.purpose not in ("measure", "exchange"):
        return
    trace = case.main.trace
    touched = trace.of_kind("touch")
    for event in trace.of_kind("length-set"):
        number, held = event.data["tool"], trace.held(event.t)
        if held and number != held:
            yield report.of_event(
                event,
                f"A length is set for T{number}, and T{held:g} is in the spindle; set that of the tool that was touched.",
            )
        elif touched and not event.data["touches"]:
            yield report.of_event(
                event,
                f"The length that is set for T{number}, {in_unit(event.data['length'])}, comes of none of the touches before "
                "it; work it out of the latched place.",
            )


def _descents(segments: Iterable[Segment], meets: float) -> Iterator[_Descent]:
    """The ways down that end below ``meets``, machine Z: lower than anything is that the nose would pass over."""
    last: Segment | None = None
    for segment in [*segments, None]:
        if segment is not None and segment.kind == "dwell":
            continue
        sideways = segment is not None and segment.start[:2] != segment.whole_end[:2]
        down = segment is not None and not sideways and segment.whole_end[2] < segment.start[2]
        if last is not None and not down:
            end = last.whole_end
            if end[2] < meets:
                level = segment is not None and sideways and abs(segment.whole_end[2] - end[2]) < 1e-6
                yield _Descent(
                    end[0],
                    end[1],
                    end[2],
                    last,
                    segment if level else None,
                    segment is None or segment.start == segment.end,
                )
            last = None
        if down:
            last = segment
