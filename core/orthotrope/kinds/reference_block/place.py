"""Where a reference block is."""

from orthotrope.calc.derived import DerivedChanger
from orthotrope.calc.setters import PLACES
from orthotrope.kinds.reference_block.model import ReferenceBlock


@PLACES.register("reference block")
def place(setter: ReferenceBlock, derived: DerivedChanger | None) -> tuple[float, float]:
    """Where it is laid."""
    return setter.x, setter.y
