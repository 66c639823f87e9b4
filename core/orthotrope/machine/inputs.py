"""Inputs: from a contact that is made to what the control sees."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property

from orthotrope.calc.wiring import Lead, Level, Wiring, seen
from orthotrope.setup.roles import INPUT_ROLES, InputRole


@dataclass(frozen=True, slots=True)
class WorldInput:
    """``wiring`` as it really is, ``level`` as the control takes it; ``filter``: how long a change must last before the
    control takes it, seconds; ``dead``: its contact is never made any more; ``dies_after``: nor is it after so many touches; ``stuck``: it
    always is; ``stays``: it stays made once it was."""

    number: int
    name: str
    role: str
    wiring: Wiring
    level: Level
    filter: float = 0.0
    dead: bool = False
    dies_after: float = math.inf
    stuck: bool = False
    stays: bool = False

    def as_dead(self, dead: bool) -> "WorldInput":
        """The same input, dead or not; nearly always itself."""
        return self if self.dead == dead else replace(self, dead=dead)

    def seen(self, made: bool, lead: Lead = "sound") -> bool:
        """What the control sees: True is made."""
        return seen(self.wiring, self.level, made, lead)


class Inputs(tuple[WorldInput, ...]):
    """The inputs of a world, and what follows from their roles and wiring: found once, however many machines run in it."""

    @cached_property
    def roles(self) -> dict[int, InputRole]:
        """The role of each, by its number."""
        return {entry.number: INPUT_ROLES[entry.role] for entry in self}

    @cached_property
    def at_rest(self) -> frozenset[int]:
        """The numbers of those that are actuated while the machine is ready."""
        return frozenset(number for number, role in self.roles.items() if role.made_at_rest)

    @cached_property
    def lamps(self) -> list[tuple[str, tuple[bool, bool], WorldInput]]:
        """Each one's name, and what the control sees while its contact is idle and while it is made; every lead sound."""
        return [(entry.name, (entry.seen(False), entry.seen(True)), entry) for entry in self]

    @cached_property
    def _by_parameter(self) -> dict[tuple[int, int], Mapping[int, WorldInput | None]]:
        return {}

    def by_parameter(self, first: int, unit: int) -> Mapping[int, WorldInput | None]:
        """What is read by reading a parameter: each input, counted from ``first``, and the caller's unit (None)."""
        known = self._by_parameter.get((first, unit))
        if known is None:
            known = self._by_parameter[first, unit] = {**{first + entry.number: entry for entry in self}, unit: None}
        return known

    @cached_property
    def _dead(self) -> dict[int, "Inputs"]:
        return {}

    def with_dead(self, number: int) -> "Inputs":
        """The same with one of them dead."""
        if number not in self._dead:
            self._dead[number] = Inputs(entry.as_dead(entry.number == number) for entry in self)
        return self._dead[number]


NO_INPUTS = Inputs()
