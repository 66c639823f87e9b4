"""Inputs: from a contact that is made to what the control sees."""

from dataclasses import dataclass, replace

from orthotrope.calc.wiring import Lead, Level, Wiring, seen


@dataclass(frozen=True, slots=True)
class WorldInput:
    """``wiring`` as it really is, ``level`` as the control takes it; ``filter``: how long a change must last before the
    control takes it, seconds; ``dead``: its contact is never made any more; ``stuck``: it always is; ``stays``: it stays made once it
    was."""

    number: int
    name: str
    role: str
    wiring: Wiring
    level: Level
    filter: float = 0.0
    dead: bool = False
    stuck: bool = False
    stays: bool = False

    def as_dead(self, dead: bool) -> "WorldInput":
        """The same input, dead or not; nearly always itself."""
        return self if self.dead == dead else replace(self, dead=dead)

    def seen(self, made: bool, lead: Lead = "sound") -> bool:
        """What the control sees: True is made."""
        return seen(self.wiring, self.level, made, lead)
