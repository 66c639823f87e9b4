"""A disc with an arm in the world."""

from orthotrope.calc.derived import DerivedChanger
from orthotrope.kinds.arm_disc.machine import ArmPockets
from orthotrope.kinds.arm_disc.model import ArmDisc
from orthotrope.proof.discs import disc_pockets_of
from orthotrope.proof.worlds import WORLDS, Placed
from orthotrope.setup import Setup


@WORLDS.register("disc with arm")
def place(setup: Setup, changer: ArmDisc, derived: DerivedChanger) -> Placed:
    """Its pockets, and how far its arm reaches."""
    arm = changer.arm
    pockets = disc_pockets_of(setup, changer, derived)
    return Placed(
        ArmPockets(
            **pockets,
            holds_down=False,
            arm_reach=arm.reach,
            arm_stroke=arm.stroke,
            swaps=arm.tools != "keep their pockets",
        )
    )
