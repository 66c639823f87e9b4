"""Where a setter in a pocket is."""

from orthotrope.calc.derived import DerivedChanger
from orthotrope.calc.setters import PLACES
from orthotrope.kinds.setter_in_pocket.model import SetterInPocket


@PLACES.register("in a pocket")
def place(setter: SetterInPocket, derived: DerivedChanger | None) -> tuple[float, float] | None:
    """The place of its pocket."""
    if derived is None or setter.pocket > len(derived.pockets):
        return None
    pocket = derived.pocket(setter.pocket)
    return pocket.x, pocket.y
