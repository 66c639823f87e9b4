"""What follows from drop-in pockets."""

from orthotrope.calc.derived import DERIVING, DerivedChanger
from orthotrope.calc.rack import derive_gripped
from orthotrope.kinds.drop_in.model import DropIn
from orthotrope.setup import Setup


@DERIVING.register("drop-in")
def derive(setup: Setup, changer: DropIn) -> DerivedChanger:
    """All that follows from drop-in pockets."""
    return derive_gripped(setup, changer, changer.grip, changer.hole_diameter)
