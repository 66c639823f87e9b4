"""What the worlds of the styles with a disc share."""

from typing import Any

from orthotrope.calc.derived import DerivedChanger
from orthotrope.calc.disc import disc_middle
from orthotrope.calc.points import unit_vector
from orthotrope.machine.discs import WorldDisc
from orthotrope.proof.worlds import gripped, oriented, pockets_of, word_number
from orthotrope.setup import Setup
from orthotrope.setup.disc import DiscChanger


def disc_pockets_of(setup: Setup, changer: DiscChanger, derived: DerivedChanger) -> dict[str, Any]:
    """By the field names of :class:`DiscPockets`; the spindle meets every pocket at the one exchange place."""
    data = changer.disc
    disc = WorldDisc(
        data.count,
        data.radius,
        unit_vector(data.bearing_deg),
        disc_middle(changer, 0.0),
        derived.middle,
        1 if data.sense == "ccw" else -1,
        data.way == "shorter",
        data.seconds_per_step,
    )
    places = {pocket.pocket: (changer.exchange.x, changer.exchange.y) for pocket in derived.pockets}
    return {
        **pockets_of(setup, changer, derived),
        **gripped(setup, changer.grip),
        "places": places,
        "aligned": changer.grip.reach,
        "orientation": oriented(setup, changer.orientation),
        "disc": disc,
        "turn_word": word_number(data.turn_word),
    }
