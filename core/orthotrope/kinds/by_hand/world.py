"""A loading place in the world."""

from orthotrope.calc.derived import DerivedChanger
from orthotrope.kinds.by_hand.machine import LoadingPlace
from orthotrope.kinds.by_hand.model import ByHand
from orthotrope.proof.worlds import WORLDS, Placed
from orthotrope.setup import Setup


@WORLDS.register("by hand")
def place(setup: Setup, changer: ByHand, derived: DerivedChanger) -> Placed:
    """Where a person changes the tool."""
    return Placed(LoadingPlace(style=changer.style, x=changer.x, y=changer.y, z=changer.z))
