"""A zero that is not in the middle of what was touched from two sides."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, Teller, check
from orthotrope.proof.findings import Finding
from orthotrope.proof.touching import WIDEST, middle, zeros_of
from orthotrope.units import with_unit

WITHIN = 0.005
"""mm; a zero is in the middle when it is no further off."""


@check("offset-off", "stop", "text")
def offset_off(case: Case, tell: Teller) -> Iterator[Finding]:
    for zero in zeros_of(case.main):
        place = middle(zero.touches, zero.axis)
        ways = [touch.way[zero.axis] for touch in zero.touches]
        two_sided = bool(ways) and min(ways) < -0.5 and max(ways) > 0.5
        if zero.how == "value" and two_sided and place is not None and WITHIN < abs(zero.zero - place) <= WIDEST:
            yield tell.of_event(
                zero.event,
                f"{zero.name} is {with_unit(abs(zero.zero - place))} off the middle of what was touched; look at how it is "
                "worked out.",
            )
