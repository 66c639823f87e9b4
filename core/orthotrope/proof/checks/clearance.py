"""Something passes by less than the Setup's least clearance."""

from collections.abc import Iterator

from orthotrope.machine.passing import Passing
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.setup import Setup
from orthotrope.units import in_unit, with_unit

HAIR = 1e-6
"""mm; by so much less than the least clearance nothing is reported."""


@check("clearance", "warn", "run")
def clearance(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """What passes something that it does not touch on purpose; what ends in a contact is reported by that."""
    if case.setup is None or case.elsewhere:
        return
    least = case.setup.machine.least_clearance
    if not least:
        return
    for passing in case.passed:
        if passing.gap < least - HAIR:
            x, y, z = passing.position
            yield report(
                f"{passing.mover[0].upper()}{passing.mover[1:]} passes {passing.body} with {described(passing)} at X {in_unit(x)} Y "
                f"{in_unit(y)} Z {in_unit(z)}; the least clearance is {with_unit(least)}. Move one of them away.",
                passing.line,
                passing.at_seconds,
                passing.position,
                _quantity(case.setup, passing.body),
            )


def described(passing: Passing) -> str:
    """How much room there is, and which way."""
    return f"{with_unit(round(passing.gap, 2))} {'sideways' if passing.sideways > passing.height else 'in height'}"


def _quantity(setup: Setup, name: str) -> str | None:
    index = next((i for i, body in enumerate(setup.bodies) if body.name == name), None)
    return None if index is None else f"/bodies/{index}"
