"""Results of routines that are kept: what was found, when and by whom, beside what was found the last time."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any, ClassVar

from django.contrib.auth.models import User

from shop.action import Action
from shop.models import Machine, ProbedResult

MOST_LISTED = 50


@dataclass(slots=True)
class KeepResult(Action[ProbedResult]):
    """Keep what a routine has found: ``found`` as :class:`shop.stages.routines.jobs.Summed` has it, worked out of ``places`` with
    the newest revision."""

    name: ClassVar[str] = "keep result"
    user: User
    machine: Machine
    routine: str
    places: list[list[float]]
    found: dict[str, Any]

    def execute(self) -> ProbedResult:
        return ProbedResult.objects.create(
            machine=self.machine,
            revision=self.machine.head,
            routine=self.routine,
            places=self.places,
            found=self.found,
            author=self.user,
        )

    def noted(self, outcome: ProbedResult) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"routine": self.routine, "result": outcome.pk}


@dataclass(frozen=True, slots=True)
class KeptQuantity:
    """``value`` in mm, or degrees where its unit is that; ``half_width_95`` of it."""

    name: str
    unit: str
    value: float
    half_width_95: float
    fits: bool


@dataclass(frozen=True, slots=True)
class KeptResult:
    """A result as it was kept. ``places``: where its touches were latched, machine coordinates, mm; ``stood``: they were read off after
    the machine stood; ``says``: why nothing was to be set, "": it was."""

    id: int
    routine: str
    revision: int
    quantities: list[KeptQuantity]
    places: list[tuple[float, float, float]]
    stood: bool
    says: str
    author: str
    taken: datetime

    @classmethod
    def of(cls, kept: ProbedResult) -> "KeptResult":
        quantities = [
            KeptQuantity(q["name"], q["unit"], q["value"], q["half_width_95"], q["fits"])
            for q in kept.found["quantities"]
        ]
        author = kept.author.get_username()
        places = [(x, y, z) for x, y, z in kept.places]
        stood = kept.found.get("stood", False)
        number, says = kept.revision.number, kept.found["says"]
        return cls(kept.pk, kept.routine, number, quantities, places, stood, says, author, kept.taken)


def kept_results(machine: Machine, routine: str) -> list[KeptResult]:
    """Result by a routine, the newest first."""
    found = machine.results.filter(routine=routine).order_by("-pk").select_related("revision", "author")
    return [KeptResult.of(entry) for entry in found[:MOST_LISTED]]


def last_values(machine: Machine, routine: str) -> dict[str, float]:
    """What the routine found the last time, by the quantity's name."""
    newest = machine.results.filter(routine=routine).order_by("-pk").first()
    return {entry["name"]: entry["value"] for entry in newest.found["quantities"]} if newest else {}
