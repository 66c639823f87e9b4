"""The modes of a control."""

from dataclasses import dataclass


@dataclass(slots=True)
class Modes:
    """Modes in force, by the G numbers that set them; ``feed`` in mm/min, ``length`` the active length offset in mm,
    that of tool ``length_number``; ``length_old``: why it is not the one to go by any more, "": it is;
    ``shift_off``: the shift of the zero is kept in its parameters and not in force (G92.2)."""

    motion: float = 0
    plane: int = 17
    distance: int = 90
    feed_mode: int = 94
    unit: int = 21
    cutter: int = 40
    length_mode: int = 49
    length: float = 0.0
    length_number: int = 0
    length_old: str = ""
    work_offset: int = 1
    return_level: int = 98
    rotation: int = 69
    turned: tuple[float, float, float] = (0.0, 0.0, 0.0)
    feed: float = 500.0
    speed: float = 0.0
    selected: int = 0
    override_locked: bool = False
    shift_off: bool = False

    @property
    def scale(self) -> float:
        """Millimetres of one length unit."""
        return 25.4 if self.unit == 20 else 1.0

    def kept(self) -> dict[str, float]:
        """What a caller wants back as it was: mode → its G number."""
        canned = self.motion if 81 <= self.motion <= 89 else 80
        return {
            "distance": self.distance,
            "plane": self.plane,
            "feed mode": self.feed_mode,
            "cutter compensation": self.cutter,
            "rotation": self.rotation,
            "canned cycle": canned,
            "work offset": _OFFSET_CODES[self.work_offset - 1],
            "unit": self.unit,
        }


_OFFSET_CODES = (54, 55, 56, 57, 58, 59, 59.1, 59.2, 59.3)

NORMAL: dict[str, float] = {
    "distance": 90,
    "plane": 17,
    "feed mode": 94,
    "cutter compensation": 40,
    "rotation": 69,
    "canned cycle": 80,
}
"""The normal state of a control profile; its unit is the profile's own."""
