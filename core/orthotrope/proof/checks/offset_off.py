"""A zero that is not on what was touched."""

import math
from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.proof.touching import WIDEST, Zero, middle, zeros_of
from orthotrope.units import MM_PER_INCH, in_unit, with_unit

WITHIN = 0.005
"""mm; a zero is on what was touched when it is no further off."""

TURNED_WITHIN = 0.05
"""mm; on a part that is turned: a face that is met aslant is met beside where it should be."""

TURN_WITHIN = 0.02
"""Degrees."""


@check("offset-off", "stop", "run", harms=True)
def offset_off(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Of a routine the place is known where the zero has to be; else the middle between touches from two sides."""
    yield from _turn(case, report)
    yield from _sizes(case, report)
    yield from _kept(case, report)
    for zero in zeros_of(case.main):
        reported = _of_routine(case, zero, report)
        if reported:
            yield reported
            continue
        place = middle(zero.touches, zero.axis)
        ways = [touch.way[zero.axis] for touch in zero.touches]
        two_sided = bool(ways) and min(ways) < -0.5 and max(ways) > 0.5
        off = abs(zero.zero - place) if place is not None and two_sided else 0.0
        if case.routine is None and zero.how == "value" and WITHIN < off <= WIDEST:
            yield report.of_event(
                zero.event,
                f"{zero.name} is {with_unit(off)} off the middle of what was touched; check the calculation.",
            )


def _of_routine(case: Case, zero: Zero, report: FindingFactory) -> Finding | None:
    """What is wrong with a zero that a routine has set."""
    routine = case.routine
    if routine is None or routine.place is None:
        return None
    if zero.offset != routine.offset:
        what = f"work offset {routine.offset}" if routine.offset else "no zero"
        return report.of_event(zero.event, f"{zero.name} is set; {routine.name} is to set {what}.")
    wanted = routine.zero(zero.axis)
    if wanted is None:
        return report.of_event(
            zero.event, f"{zero.name} is set to {in_unit(zero.zero)}, and there is nothing that it could be set by."
        )
    allowed = (TURNED_WITHIN if routine.turn_deg else WITHIN) + 4 * case.profile.last_decimal
    off = zero.zero - wanted
    if abs(off) <= allowed:
        return None
    return report.of_event(
        zero.event,
        f"{zero.name} is set to {in_unit(zero.zero)}; what {routine.name} touches is at {in_unit(wanted)}, "
        f"{with_unit(abs(off))} off. Check the calculation.",
    )


def _turn(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """The turn that a routine sets, about the zero that it sets."""
    routine = case.routine
    if routine is None:
        return
    turns, zeros = case.main.trace.of_kind("turned"), case.main.trace.of_kind("zero-set")
    if routine.sets_turn and zeros and not turns and case.main.trace.ended == "end":
        yield report.of_event(
            zeros[-1],
            f"The zero of {routine.name} is set, and how far it is turned is not; turn the part coordinates too.",
        )
    for event in turns:
        if routine.sets_turn and event.data["active"] != routine.offset:
            yield report.of_event(
                event,
                f"The part coordinates are turned while work offset {event.data['active']} is active, and {routine.name} is "
                f"about the zero of work offset {routine.offset}; make that one active first.",
            )
            return
        x, y, degrees = event.data["x"], event.data["y"], event.data["degrees"]
        wanted = routine.turn_deg if routine.sets_turn and routine.place != {} else None
        if wanted is None:
            yield report.of_event(event, f"The part coordinates are turned; {routine.name} is not to do that.")
        elif math.hypot(x, y) > WITHIN or abs(degrees - wanted) > TURN_WITHIN:
            yield report.of_event(
                event,
                f"The part coordinates are turned by {degrees:.3f}° about X {in_unit(x)} Y {in_unit(y)}; what {routine.name} "
                f"touches is turned by {wanted:.3f}°, about its zero. Check the calculation.",
            )


def _sizes(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """The sizes that a routine keeps at its end."""
    routine, trace = case.routine, case.main.trace
    if routine is None or trace.ended != "end" or not (trace.of_kind("zero-set") or _calculated(case)):
        return
    factor = MM_PER_INCH if case.profile.unit == "inch" else 1.0
    kept = {event.data["parameter"]: event for event in case.main.trace.of_kind("set")}
    for parameter, name, size in routine.sizes:
        event = kept.get(parameter)
        value = event.data["value"] * factor if event else 0.0
        if abs(value - size) > WITHIN + 8 * case.profile.last_decimal:
            says = f"The {name.replace('_', ' ')} in #{parameter} is {in_unit(value)}; what is touched has {in_unit(size)}."
            yield (
                report.of_event(event, says)
                if event
                else report(f"Nothing is calculated for the {name} in #{parameter}.")
            )


def _calculated(case: Case) -> bool:
    """Whether a routine that sets no zero has kept what it finds."""
    calculated = {event.data["parameter"] for event in case.main.trace.of_kind("set")}
    kept = case.routine.kept if case.routine else ()
    return bool(kept) and all(parameter in calculated for parameter, _ in kept)


def _kept(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Where a routine that sets no zero finds what it touches, which lies where it is expected."""
    routine = case.routine
    if routine is None or case.main.trace.ended != "end" or not _calculated(case):
        return
    factor = MM_PER_INCH if case.profile.unit == "inch" else 1.0
    kept = {event.data["parameter"]: event for event in case.main.trace.of_kind("set")}
    for parameter, axis in routine.kept:
        event = kept[parameter]
        off = event.data["value"] * factor
        if abs(off) > WITHIN + 8 * case.profile.last_decimal:
            yield report.of_event(
                event,
                f"{'XYZ'[axis]} in #{parameter} is {with_unit(abs(off))} off what {routine.name} touches. Check the calculation.",
            )
