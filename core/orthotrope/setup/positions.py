"""Stored positions: places that the machine is sent to again and again, with the axes that move and their order."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotrope.errors import Fault, InputError
from orthotrope.setup.machine import AXES, AxisName, Name
from orthotrope.validation import Length, Record


class PositionMove(Record):
    """One move of the way there: the axes that move together, machine coordinates, mm."""

    X: Length | None = None
    Y: Length | None = None
    Z: Length | None = None

    @model_validator(mode="after")
    def _moves(self) -> "PositionMove":
        if not self.axes:
            raise InputError.at("", "A move of a stored position needs at least one axis; give X, Y or Z.")
        return self

    @property
    def axes(self) -> tuple[tuple[AxisName, float], ...]:
        return tuple((axis, value) for axis in AXES if (value := getattr(self, axis)) is not None)


class StoredPosition(Record):
    """A named place. ``moves`` in their order, each axis at most once; ``by_way_of`` another stored position that is
    gone to first."""

    name: Name
    use: Literal["exchange", "loading by hand", "end of program", "parking", "other"]
    by_way_of: Name | None = None
    moves: Annotated[list[PositionMove], Field(min_length=1, max_length=3)]

    @model_validator(mode="after")
    def _each_axis_once(self) -> "StoredPosition":
        seen: set[str] = set()
        faults = []
        for index, move in enumerate(self.moves):
            for axis, _ in move.axes:
                if axis in seen:
                    faults.append(
                        Fault(f"/moves/{index}/{axis}", f"`{axis}` moves twice on the way there; keep one of them.")
                    )
                seen.add(axis)
        if faults:
            raise InputError(faults)
        return self


def way_there(positions: list[StoredPosition], name: str) -> list[StoredPosition]:
    """The position of this name with those that are gone to before it, in the order of going.

    Raises:
        InputError: where one is not there, or the way leads back to itself.
    """
    known = {position.name: position for position in positions}
    found: list[StoredPosition] = []
    wanted: str | None = name
    while wanted is not None:
        if wanted not in known:
            raise InputError.at("/by_way_of", f'There is no stored position "{wanted}"; take another, or add it.')
        if any(position.name == wanted for position in found):
            raise InputError.at("/by_way_of", f'The way to "{name}" leads back to "{wanted}"; take another way.')
        found.append(known[wanted])
        wanted = known[wanted].by_way_of
    return found[::-1]
