"""Where a setter on the table is."""

from orthotrope.calc.derived import DerivedChanger
from orthotrope.calc.setters import PLACES
from orthotrope.kinds.setter_on_table.model import SetterOnTable


@PLACES.register("on the table")
def place(setter: SetterOnTable, derived: DerivedChanger | None) -> tuple[float, float]:
    """Its middle."""
    return setter.x, setter.y
