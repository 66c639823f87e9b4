"""A pattern of bores: where it is, and how far it is turned."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotrope.errors import InputError
from orthotrope.setup.routines import ROUTINES, Routine, Spot
from orthotrope.validation import PositiveLength


@ROUTINES.register("bore pattern")
class BorePattern(Routine):
    """Bores of ``diameter``; ``bores``: where their middles are expected, from the place, mm; ``turn``: whether the turn is set as
    well."""

    kind: Literal["bore pattern"]
    diameter: PositiveLength
    bores: Annotated[list[Spot], Field(min_length=2, max_length=6)]
    turn: bool = False

    @model_validator(mode="after")
    def _apart(self) -> "BorePattern":
        for index, one in enumerate(self.bores):
            for other in self.bores[:index]:
                if (one.x - other.x) ** 2 + (one.y - other.y) ** 2 < self.diameter**2:
                    near = f"`bores` {index + 1} overlaps another one; give each its own place."
                    raise InputError.at(f"/bores/{index}", near)
        return self

    @property
    def axes(self) -> tuple[str, ...]:
        return ("x", "y")

    @property
    def finds_turn(self) -> bool:
        return True

    @property
    def sets_turn(self) -> bool:
        return self.turn
