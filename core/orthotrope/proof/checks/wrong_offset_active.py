"""A zero or a length is set from a touch that was made in another work offset."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.proof.touching import WIDEST, Zero, touches_of, zeros_of


@check("wrong-offset-active", "stop", "text")
def wrong_offset_active(case: Case, report: FindingFactory) -> Iterator[Finding]:
    yield from _lengths(case, report)
    reported: set[tuple[int, int]] = set()
    for zero in zeros_of(case.main):
        key = zero.offset, zero.active
        if zero.touches and zero.offset and zero.offset != zero.active and key not in reported and _mixes(zero):
            reported.add(key)
            yield report.of_event(
                zero.event,
                f"{zero.name} is set while work offset {zero.active} is active, in which the touch was reported; make work "
                f"offset {zero.offset} active before the touch.",
            )


def _lengths(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """A setter that belongs to a work offset: a length that is off by as much as that one and the active one differ."""
    setters = {setter.input: setter for setter in case.setup.setters if setter.work_offset} if case.setup else {}
    offsets = case.world.work_offsets
    touches = {touch.number: touch for touch in touches_of(case.main)}
    for event in case.main.trace.of_kind("length-set"):
        used = [touches[number] for number in event.data["touches"] if number in touches]
        setter = setters.get(used[0].event.data.get("input", 0)) if used else None
        active = event.data["active"]
        if setter is None or setter.work_offset in (None, active) or setter.work_offset not in offsets:
            continue
        plane = sum(touch.latched[2] for touch in used if touch.latched) / len(used) - event.data["length"]
        between = offsets[setter.work_offset][2] - offsets.get(active, (0.0, 0.0, 0.0))[2]
        off = plane - setter.plane_z
        if abs(between) > WITHIN and min(abs(off - between), abs(off + between)) <= WITHIN:
            yield report.of_event(
                event,
                f"The length of T{event.data['tool']} is set while work offset {active} is active, and {setter.name} belongs "
                f"to work offset {setter.work_offset}; make that one active before the touch.",
            )


WITHIN = 0.05
"""mm; a length is off by the offsets where it is no further from that."""


def _mixes(zero: Zero) -> bool:
    """Whether the zero is off the touch by as much as the two offsets differ: worked out in machine coordinates it is
    right whichever is active."""
    if zero.how == "place":
        return True
    places = [touch.latched[zero.axis] for touch in zero.touches if touch.latched]
    off = zero.zero - sum(places) / len(places) if places else 0.0
    return abs(off) > WIDEST and min(abs(off - zero.between), abs(off + zero.between)) <= WIDEST
