"""The first approach of a pocket, in steps, as one does it on the machine: above it, down to hover, down by small
steps."""

from orthotrope.errors import InputError
from orthotrope.sequence.exchanges.frame import CREEP
from orthotrope.sequence.exchanges.registry import planner_of
from orthotrope.sequence.positions import KNOWN_STATE, stand_still
from orthotrope.sequence.steps import Move, Say, Sequence, SetModes, Step, Stop
from orthotrope.sequence.values import length
from orthotrope.setup import Setup
from orthotrope.units import with_unit

STEP = 0.5
"""mm that the nose goes down before it is looked at again."""


def approach(setup: Setup, pocket: int) -> list[Sequence]:
    """Three programs for a pocket, to be run one after the other with the empty spindle. The last stops after every
    step down to couple height, from hover on, or with a grip, which it opens first, over the last slow stretch; so that
    one looks for contact before going on.

    Raises:
        InputError: where there are no pockets that the spindle goes to, or no such one.
    """
    planner, derived = planner_of(setup)
    descent = planner.descent(setup, derived)
    if not 1 <= pocket <= len(derived.pockets):
        raise InputError.at("/pocket", f"`pocket` must be 1 to {len(derived.pockets)}; got {pocket}.")
    place, ladder = derived.pocket(pocket), derived.ladder
    over = Move((("X", length(place.x)), ("Y", length(place.y))), note=f"over pocket {pocket}")
    begin: tuple[Step, ...] = (SetModes(KNOWN_STATE, "a known state"), *stand_still(setup))
    name = f"{setup.machine.name}, pocket {pocket}"
    down, z = list(descent.before), descent.begin
    while z > ladder.couple_z + 1e-9:
        z = max(ladder.couple_z, z - STEP)
        down.append(Move((("Z", length(z)),), length(CREEP)))
        down.append(Say(f"{with_unit(z - ladder.couple_z)} above couple: is there contact?"))
        down.append(Stop("pause"))
    up = Move((("Z", length(ladder.hover_z)),), note="back to hover")
    park = Move((("Z", length(derived.park_z)),), note="park")
    return [
        Sequence(f"{name}: above it", (*begin, park, over, Stop("end"))),
        Sequence(
            f"{name}: down to hover",
            (*begin, park, over, Move((("Z", length(ladder.hover_z)),), note="hover"), Stop("end")),
        ),
        Sequence(f"{name}: down by {with_unit(STEP)} steps", (*begin, *down, up, Stop("end"))),
    ]
