"""Something passes by less than the Setup's least clearance."""

from collections.abc import Iterator

from orthotrope.machine.passing import Passing
from orthotrope.machine.shapes import passed_by
from orthotrope.proof.case import Case, Teller, check
from orthotrope.proof.findings import Finding
from orthotrope.setup import Setup
from orthotrope.units import in_unit, with_unit

HAIR = 1e-6
"""mm; by so much less than the least clearance nothing is told."""


@check("clearance", "warn", "run")
def clearance(case: Case, tell: Teller) -> Iterator[Finding]:
    """What passes something that it does not touch on purpose; what ends in a contact is told by that."""
    if case.setup is None or case.elsewhere:
        return
    least = case.setup.machine.least_clearance
    if not least or not _near(case, least):
        return
    for passing in case.passed:
        if passing.gap < least - HAIR:
            x, y, z = passing.position
            yield tell(
                f"{passing.mover[0].upper()}{passing.mover[1:]} passes {passing.body} with {told(passing)} at X {in_unit(x)} Y "
                f"{in_unit(y)} Z {in_unit(z)}; the least clearance is {with_unit(least)}. Move one of them away.",
                passing.line,
                passing.at_seconds,
                passing.position,
                _quantity(case.setup, passing.body),
            )


def told(passing: Passing) -> str:
    """How much room there is, and which way."""
    return f"{with_unit(round(passing.gap, 2))} {'sideways' if passing.sideways > passing.height else 'in height'}"


def _quantity(setup: Setup, name: str) -> str | None:
    index = next((i for i, body in enumerate(setup.bodies) if body.name == name), None)
    return None if index is None else f"/bodies/{index}"


def _near(case: Case, least: float) -> bool:
    """Whether anything can be near enough to be worth a run: in an exchange what is stored; else what stands by itself, or is
    stored, is near a way in plan."""
    world = case.world
    if case.purpose == "exchange" and world.magazine and world.magazine.places:
        return True
    stored = world.magazine.begin(0).bodies(world.tools, None) if world.magazine else ()
    bodies = [body for body in (*world.bodies, *stored) if passed_by(body)]
    if not bodies:
        return False
    widest = max(
        [part.radius for part in world.spindle.parts]
        + [max([tool.radius, *(radius for radius, _ in tool.holder)]) for tool in world.tools.values()]
    )
    deep = max((tool.length for tool in world.tools.values()), default=0.0) + least
    rooms = [(body, body.reach + widest + least) for body in bodies]
    for segment in case.main.trace.segments:  # of a long job one after the other: memory stays flat
        (x0, y0, z0), (x1, y1, z1) = segment.start, segment.end
        bulge = 2 * segment.arc.radius if segment.arc else 0.0
        for body, room in rooms:
            beside = room + bulge
            if (
                min(z0, z1) - deep - bulge <= body.top
                and min(x0, x1) - beside < body.x < max(x0, x1) + beside
                and min(y0, y1) - beside < body.y < max(y0, y1) + beside
            ):
                return True
    return False
