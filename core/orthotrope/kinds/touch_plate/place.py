"""Where a touch plate is."""

from orthotrope.calc.derived import DerivedChanger
from orthotrope.calc.setters import PLACES
from orthotrope.kinds.touch_plate.model import TouchPlate


@PLACES.register("touch plate")
def place(setter: TouchPlate, derived: DerivedChanger | None) -> tuple[float, float]:
    """Where it is laid."""
    return setter.x, setter.y
