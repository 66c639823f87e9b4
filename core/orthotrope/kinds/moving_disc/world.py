"""A moving disc in the world."""

from orthotrope.calc.derived import DerivedChanger
from orthotrope.kinds.moving_disc.machine import MovingDiscPockets
from orthotrope.kinds.moving_disc.model import MovingDisc
from orthotrope.proof.discs import disc_pockets_of
from orthotrope.proof.worlds import WORLDS, Placed
from orthotrope.setup import Setup


@WORLDS.register("moving disc")
def place(setup: Setup, changer: MovingDisc, derived: DerivedChanger) -> Placed:
    """Its pockets, which keep a tool when a closed grip pulls."""
    return Placed(MovingDiscPockets(**disc_pockets_of(setup, changer, derived), holds_down=True))
