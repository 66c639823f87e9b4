"""Results of routines that are kept: what was found, when and by whom, beside what was found the last time."""

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, ClassVar

from django.contrib.auth.models import User
from orthotrope.calc.resting import RestsOn, named, of_probe, replaced
from orthotrope.errors import InputError
from orthotrope.sequence.probing import tip_of
from orthotrope.sequence.probing.qualifying import routine_named

from shop.action import Action, moved
from shop.models import Machine, ProbedResult, Revision

MOST_LISTED = 50


@dataclass(slots=True)
class KeepResult(Action[ProbedResult]):
    """Keep what a routine has found: what ``calculate`` makes of a document, as :class:`shop.stages.routines.jobs.Summed` has it; filed
    under the very revision that it was calculated with."""

    name: ClassVar[str] = "keep result"
    user: User
    machine: Machine
    routine: str
    places: list[list[float]]
    calculate: Callable[[dict[str, Any]], dict[str, Any]]
    head: Revision | None = None
    found: dict[str, Any] = field(default_factory=dict)

    def prepare(self) -> None:
        self.head = self.machine.head
        self.found = self.calculate(self.head.document)

    def outdated(self) -> bool:
        return moved(self.machine, self.head)

    def execute(self) -> ProbedResult:
        assert self.head is not None
        return ProbedResult.objects.create(
            machine=self.machine,
            revision=self.head,
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
    the machine stood; ``says``: why nothing was to be set, "": it was; ``replaced``: what of the probe and home it was found with has another value now,
    in words."""

    id: int
    routine: str
    revision: int
    quantities: list[KeptQuantity]
    places: list[tuple[float, float, float]]
    stood: bool
    says: str
    replaced: list[str]
    author: str
    taken: datetime

    @classmethod
    def of(cls, kept: ProbedResult, document: Any) -> "KeptResult":
        quantities = [
            KeptQuantity(q["name"], q["unit"], q["value"], q["half_width_95"], q["fits"])
            for q in kept.found["quantities"]
        ]
        author = kept.author.get_username()
        places = [(x, y, z) for x, y, z in kept.places]
        stood = kept.found.get("stood", False)
        number, says = kept.revision.number, kept.found["says"]
        gone = [named(keyed) for keyed in replaced(document, _rests_on(kept))]
        return cls(kept.pk, kept.routine, number, quantities, places, stood, says, gone, author, kept.taken)


def _rests_on(kept: ProbedResult) -> RestsOn:
    """What it was found with, as its revision has it."""
    setup = kept.revision.setup
    try:
        tip = tip_of(setup, routine_named(setup, kept.routine))
    except InputError:
        return {}  # the routine was kept of another revision by an earlier version
    return of_probe(setup, tip.probe) if tip else {}


def kept_results(machine: Machine, routine: str) -> list[KeptResult]:
    """Result by a routine, the newest first."""
    found = machine.results.filter(routine=routine).order_by("-pk").select_related("revision", "author")
    document = machine.head.setup.as_json()
    return [KeptResult.of(entry, document) for entry in found[:MOST_LISTED]]


def last_values(machine: Machine, routine: str) -> dict[str, float]:
    """What the routine found the last time, by the quantity's name."""
    newest = machine.results.filter(routine=routine).order_by("-pk").first()
    return {entry["name"]: entry["value"] for entry in newest.found["quantities"]} if newest else {}
