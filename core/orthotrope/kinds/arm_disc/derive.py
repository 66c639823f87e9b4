"""What follows from a disc with an arm."""

from orthotrope.calc.derived import DERIVING, DerivedChanger
from orthotrope.calc.disc import derive_disc
from orthotrope.kinds.arm_disc.model import ArmDisc
from orthotrope.setup import Setup


@DERIVING.register("disc with arm")
def derive(setup: Setup, changer: ArmDisc) -> DerivedChanger:
    """All that follows from a disc with an arm; it stands two hands' reach behind the exchange place."""
    return derive_disc(setup, changer, 2 * changer.arm.reach)
