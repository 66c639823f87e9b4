"""A zero is set from a touch that was told in another work offset."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, Teller, check
from orthotrope.proof.findings import Finding
from orthotrope.proof.touching import WIDEST, Zero, zeros_of


@check("wrong-offset-active", "stop", "text")
def wrong_offset_active(case: Case, tell: Teller) -> Iterator[Finding]:
    told: set[tuple[int, int]] = set()
    for zero in zeros_of(case.main):
        key = zero.offset, zero.active
        if zero.touches and zero.offset and zero.offset != zero.active and key not in told and _mixes(zero):
            told.add(key)
            yield tell.of_event(
                zero.event,
                f"{zero.name} is set while work offset {zero.active} is active, in which the touch was told; make work "
                f"offset {zero.offset} active before the touch.",
            )


def _mixes(zero: Zero) -> bool:
    """Whether the zero is off the touch by as much as the two offsets differ: worked out in machine coordinates it is
    right whichever is active."""
    if zero.how == "place":
        return True
    places = [touch.latched[zero.axis] for touch in zero.touches if touch.latched]
    off = zero.zero - sum(places) / len(places) if places else 0.0
    return abs(off) > WIDEST and min(abs(off - zero.between), abs(off + zero.between)) <= WIDEST
