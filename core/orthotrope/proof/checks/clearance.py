"""Something passes by less than the Setup's least clearance."""

import math
from collections.abc import Iterator
from dataclasses import replace

from orthotrope.machine.events import EventKind
from orthotrope.machine.executor import run_program
from orthotrope.machine.shapes import stands_alone
from orthotrope.machine.trace import Event
from orthotrope.proof.case import Case, Teller, check
from orthotrope.proof.findings import Finding
from orthotrope.units import in_unit, with_unit

HALVINGS = 7
"""Times that what is left is halved to tell how much it is: to a hundredth of the least clearance."""

MOST_HALVED = 50_000
"""Moves of a run whose room is told; of a longer one, that it is too little."""

CRASHES: tuple[EventKind, ...] = (
    "body-contact",
    "pocket-occupied",
    "dropped-tool",
    "moved-ungripped",
    "driven-in",
    "beyond-travel",
    "not-homed",
    "end-stop",
)


@check("clearance", "warn", "run")
def clearance(case: Case, tell: Teller) -> Iterator[Finding]:
    """The same run past bodies that are grown until they touch. What is touched on purpose does not grow, and what ends in a contact is
    told by that."""
    if case.setup is None or case.elsewhere:
        return
    least, main = case.setup.machine.least_clearance, case.main
    if not least or main.endless or main.fault or main.trace.of_kind(*CRASHES) or not main.trace.segments:
        return
    if not _near(case, least):
        return
    met = _met(case, least)
    if met is None:
        return
    clear, close = 0.0, least
    long = len(main.trace.segments) > MOST_HALVED
    for _ in range(0 if long else HALVINGS):
        middle = (clear + close) / 2
        found = _met(case, middle)
        if found is None:
            clear = middle
        else:
            close, met = middle, found
    mover, (x, y, z) = met.data["mover"], met.data["at"]
    index = next((i for i, body in enumerate(case.setup.bodies) if body.name == met.data["body"]), None)
    room = f"less than {with_unit(least)}" if long else with_unit(round(clear, 2))
    yield tell.of_event(
        met,
        f"{mover[0].upper()}{mover[1:]} passes {met.data['body']} with {room} at X {in_unit(x)} Y {in_unit(y)} "
        f"Z {in_unit(z)}; the least clearance is {with_unit(least)}. Move one of them away.",
        None if index is None else f"/bodies/{index}",
    )


def _near(case: Case, least: float) -> bool:
    """Whether anything that stands by itself is near enough to any way in plan to be worth a run."""
    world = case.world
    bodies = [body for body in world.bodies if stands_alone(body)]
    if not bodies:
        return False
    widest = max(
        [part.radius for part in world.spindle.parts]
        + [max([tool.radius, *(radius for radius, _ in tool.holder)]) for tool in world.tools.values()]
        + [world.magazine.needed_radius if world.magazine else 0.0]
    )
    deep = max((tool.length for tool in world.tools.values()), default=0.0) + least
    disc = world.magazine.shapes().disc if world.magazine else None
    circles = [(disc.home, disc.rim), (disc.out, disc.rim)] if disc else []
    if disc and disc.arm:
        circles.append((disc.arm.pivot, disc.arm.reach + disc.arm.hand.radius))
    longest = max((tool.radius for tool in world.tools.values()), default=0.0)
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
    for body in bodies:
        if any(math.hypot(body.x - x, body.y - y) < body.reach + rim + longest + least for (x, y), rim in circles):
            return True
    return False


def _met(case: Case, grown: float) -> Event | None:
    """What is met first where everything is grown by so much; None: nothing is."""
    run = run_program(case.program, case.profile, replace(case.world, grown=grown), case.call, case.tell)
    return next(iter(run.trace.of_kind("body-contact")), None)
