"""The first approach of a pocket, in steps, as one does it on the machine: above it, down to hover, down by small steps."""

from orthotrope.calc.derived import derive
from orthotrope.errors import InputError
from orthotrope.sequence.positions import KNOWN_STATE, stand_still
from orthotrope.sequence.steps import Dwell, Move, Say, Sequence, SetModes, Step, Stop, Switch
from orthotrope.sequence.values import Number, length
from orthotrope.setup import Setup
from orthotrope.setup.styles import DropIn, SideEntry, ThreadOn
from orthotrope.units import with_unit

STEP = 0.5
"""mm that the nose goes down before it is looked at again."""

CREEP = 60.0
"""mm/min of such a step."""


ORIENTED = 5.0
"""Seconds in which any spindle stands at its angle."""


def approach(setup: Setup, pocket: int) -> list[Sequence]:
    """Three programs for a pocket, to be run one after the other with the empty spindle. The last stops after every step
    down to couple height, from hover on, or with a grip, which it opens first, over the last slow stretch; so that one looks
    for contact before going on.

    Raises:
        InputError: where there are no pockets that the spindle goes to, or no such one.
    """
    derived, changer = derive(setup), setup.changer
    if derived is None or changer is None:
        raise InputError.at("/changer", "The Setup has no changer yet; add one on the Changer stage.")
    if not isinstance(changer, ThreadOn | DropIn | SideEntry):
        raise InputError.at("/changer", "The spindle goes to no pocket here; there is none to be approached.")
    if not 1 <= pocket <= len(derived.pockets):
        raise InputError.at("/pocket", f"`pocket` must be 1 to {len(derived.pockets)}; got {pocket}.")
    place, ladder = derived.pocket(pocket), derived.ladder
    over = Move((("X", length(place.x)), ("Y", length(place.y))), note=f"over pocket {pocket}")
    begin: tuple[Step, ...] = (SetModes(KNOWN_STATE, "a known state"), *stand_still(setup))
    name = f"{setup.machine.name}, pocket {pocket}"
    down: list[Step] = []
    z = ladder.hover_z
    if not isinstance(changer, ThreadOn):
        z = ladder.couple_z + changer.grip.slow_distance
        if isinstance(changer, SideEntry):
            down += [Switch("orient the spindle", "its angle"), Dwell(Number(ORIENTED), "until it stands there")]
        down += [Switch("open the grip", "nothing is in it"), Dwell(Number(2.0), "until it is open"),
                 Move((("Z", length(z)),), length(CREEP), "near"), Stop("pause")]  # fmt: skip
    while z > ladder.couple_z + 1e-9:
        z = max(ladder.couple_z, z - STEP)
        down.append(Move((("Z", length(z)),), length(CREEP)))
        down.append(Say(f"{with_unit(z - ladder.couple_z)} above couple: is there contact?"))
        down.append(Stop("pause"))
    up = Move((("Z", length(ladder.hover_z)),), note="back to hover")
    park = Move((("Z", length(derived.park_z)),), note="park")
    return [
        Sequence(f"{name}: above it", (*begin, park, over, Stop("end"))),
        Sequence(f"{name}: down to hover", (*begin, park, over, Move((("Z", length(ladder.hover_z)),), note="hover"), Stop("end"))),
        Sequence(f"{name}: down by {with_unit(STEP)} steps", (*begin, *down, up, Stop("end"))),
    ]
