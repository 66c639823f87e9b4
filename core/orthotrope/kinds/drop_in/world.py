"""Drop-in pockets in the world."""

from orthotrope.calc.derived import DerivedChanger
from orthotrope.kinds.drop_in.model import DropIn
from orthotrope.machine.gripping import GripPockets
from orthotrope.proof.worlds import NUT_CLEARANCE, WORLDS, Placed, gripped, rack_bodies, rack_of_pockets
from orthotrope.setup import Setup


@WORLDS.register("drop-in")
def place(setup: Setup, changer: DropIn, derived: DerivedChanger) -> Placed:
    """Its pockets with the grip, and its block."""
    pockets = GripPockets(**rack_of_pockets(setup, changer, derived), **gripped(setup, changer.grip), holds_down=False)
    recess = changer.grip.holder_diameter / 2 + NUT_CLEARANCE
    return Placed(pockets, rack_bodies(setup, changer, derived, recess, changer.hole_diameter / 2))
