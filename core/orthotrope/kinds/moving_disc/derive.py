"""What follows from a moving disc."""

from orthotrope.calc.derived import DERIVING, DerivedChanger
from orthotrope.calc.disc import derive_disc
from orthotrope.kinds.moving_disc.model import MovingDisc
from orthotrope.setup import Setup


@DERIVING.register("moving disc")
def derive(setup: Setup, changer: MovingDisc) -> DerivedChanger:
    """All that follows from a moving disc; at home it stands back by its swing."""
    return derive_disc(setup, changer, changer.swing)
