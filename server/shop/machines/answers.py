"""A machine as it is stored, as it stands in the shop, and its revisions."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from django.db.models import Max
from orthotrope.calc.derived import derive
from orthotrope.errors import Fault, InputError
from orthotrope.machine.report import Scene
from orthotrope.proof.conflicts import Conflict as Contradiction
from orthotrope.proof.conflicts import conflicts
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup
from orthotrope.setup.changes import Change, changes
from orthotrope.setup.migrations import migrated
from orthotrope.validation import pointer

from shop.kept import Kept
from shop.models import InputTest, Machine, Proof, Reading, Revision
from shop.proofs.answers import latest_proof, summary
from shop.proofs.summary import ProofSummary
from shop.stages.registry import Evidence, Mark, StageMark, marks
from shop.stages.signals.answers import tested
from shop.stages.signals.tested import TestedInput


def machine_named(slug: str) -> Machine:
    """The machine of this address.

    Raises:
        Machine.DoesNotExist: there is none.
    """
    return Machine.objects.get(slug=slug)


_conflicts: Kept[list[Contradiction]] = Kept()


def _marks(setup: Setup, proof: ProofSummary | None, tests: list[TestedInput], head: Revision) -> list[StageMark]:
    reported = _conflicts.of((head.pk, head.changed), lambda: list(conflicts(setup, derive(setup))))
    return marks(Evidence(setup, proof, tests, reported, _qualified(head.machine_id, setup)))


def _qualified(machine: int, setup: Setup) -> dict[str, datetime]:
    """When the effective diameter of each probe was found last, by its name."""
    places = {pointer(("probes", probe.name, "effective_diameter")): probe.name for probe in setup.probes}
    if not places:
        return {}
    found = Reading.objects.filter(machine=machine, quantity__in=places).values("quantity").annotate(last=Max("taken"))
    return {places[entry["quantity"]]: entry["last"] for entry in found}


@dataclass(frozen=True, slots=True)
class StoredMachine:
    """The newest revision, and how far it is. ``agent``: the address that it is read from, "" the practice machine."""

    slug: str
    put_away: datetime | None
    revision: int
    author: str
    changed: datetime
    document: Setup
    stages: list[StageMark]
    proof: ProofSummary | None
    agent: str
    device: str
    tests: list[TestedInput]

    @classmethod
    def of(cls, machine: Machine, head: Revision | None = None) -> "StoredMachine":
        """Read from what is stored; ``head``: its newest revision, where that is known.

        Raises:
            InputError: where its Setup can't be read.
        """
        head, proof = head or machine.head, latest_proof(machine)
        reported = summary(proof, head) if proof else None
        setup = head.setup
        tests = tested(InputTest.newest(machine), setup)
        return cls(
            slug=machine.slug,
            put_away=machine.put_away,
            revision=head.number,
            author=head.author.get_username(),
            changed=head.changed,
            document=setup,
            stages=_marks(setup, reported, tests, head),
            proof=reported,
            agent=machine.agent,
            device=machine.device,
            tests=tests,
        )


@dataclass(frozen=True, slots=True)
class ShopEntry:
    """A machine in the shop. ``missing``: the first stage that is not done, and why; "" where all is proven; ``stages``: the mark of each;
    ``pending``: it is being worked out. ``unreadable``: what is wrong with a stored Setup that can't be read. ``put_away``: since when it is
    (None: it is not)."""

    slug: str
    put_away: datetime | None
    revision: int
    changed: datetime
    author: str
    name: str
    description: str
    travel: list[tuple[float, float]]
    unit: Literal["mm", "inch"]
    stages: dict[str, Mark]
    missing: str
    pending: bool
    unreadable: tuple[Fault, ...]

    @classmethod
    def of(cls, head: Revision, known: dict[str, Any] | None) -> "ShopEntry":
        """From what is kept of it; None: nothing yet."""
        slug = head.machine.slug
        shared = (slug, head.machine.put_away, head.number, head.changed, head.author.get_username())
        if known is None:
            return cls(*shared, slug, "", [], "mm", {}, "", True, ())
        travel = [(low, high) for low, high in known["travel"]]
        faults = tuple(Fault(**fault) for fault in known["unreadable"])
        return cls(
            *shared,
            known["name"],
            known["description"],
            travel,
            known["unit"],
            known["stages"],
            known["missing"],
            False,
            faults,
        )


WORST_FIRST: tuple[Mark, ...] = ("failing", "stale", "open", "filled")
"""What of the stages is reported first in the shop."""


def card_of(head: Revision, proof: Proof | None) -> dict[str, Any]:
    """What the shop shows of a machine; one whose Setup can't be read is shown as such, and the others stay."""
    try:
        setup = head.setup
    except InputError as bad:
        reported = head.document.get("machine") if isinstance(head.document, dict) else None
        name = str(reported.get("name", head.machine.slug)) if isinstance(reported, dict) else head.machine.slug
        faults = [{"where": fault.where, "what": fault.what} for fault in bad.faults[:20]]
        return {
            "name": name,
            "description": "This Setup can't be read.",
            "travel": [],
            "unit": "mm",
            "stages": {},
            "missing": "",
            "unreadable": faults,
        }
    tests = tested(InputTest.newest(head.machine), setup)
    every = _marks(setup, summary(proof, head) if proof else None, tests, head)
    first = next((stage for mark in WORST_FIRST for stage in every if stage.mark == mark), None)
    return {
        "name": setup.machine.name,
        "description": setup.machine.description,
        "travel": [(axis.travel.least, axis.travel.greatest) for _, axis in setup.machine.axes.items()],
        "unit": setup.machine.unit,
        "stages": {stage.name: stage.mark for stage in every},
        "missing": f"{first.name}: {first.why}" if first else "",
        "unreadable": [],
    }


@dataclass(frozen=True, slots=True)
class RevisionListed:
    number: int
    author: str
    created: datetime
    changed: datetime
    note: str
    changes: list[Change]

    @classmethod
    def of(cls, revision: Revision, before: Any) -> "RevisionListed":
        """A revision, and what it changed in the document ``before`` it (None: it is the first)."""
        found = changes(migrated(before), migrated(revision.document)) if before is not None else []
        author = revision.author.get_username()
        return cls(revision.number, author, revision.created, revision.changed, revision.note, found)


@dataclass(frozen=True, slots=True)
class OldRevision:
    """An earlier document, who left it so and when, and how another (``against``, the newest where none was asked for) differs from it;
    what both look like."""

    number: int
    author: str
    changed: datetime
    against: int
    document: Setup
    changes: list[Change]
    scene: Scene
    against_scene: Scene

    @classmethod
    def of(cls, revision: Revision, other: Revision) -> "OldRevision":
        """One revision beside another."""
        one, two = revision.setup, other.setup
        found = changes(one.as_json(), two.as_json())
        scenes = [Scene.of(nominal_world(setup)) for setup in (one, two)]
        author = revision.author.get_username()
        return cls(revision.number, author, revision.changed, other.number, one, found, *scenes)
