"""What stands in pockets that no tool can have."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Occupant:
    """``what`` stands in a ``pocket``, its diameter and machine Z of its top, mm. ``makes``: the number of the input
    that a touch of it makes (None: none), ``give``: how far it may be pushed, mm."""

    pocket: int
    what: str
    diameter: float
    top_z: float
    makes: int | None = None
    give: float = 0.0
