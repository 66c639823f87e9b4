"""What is proven is addressed by its content: the digest of a case is that of all that its run and its checks take."""

from dataclasses import dataclass, field
from itertools import islice
from typing import Any

from orthotrope.calc.derived import derive
from orthotrope.errors import OrthotropeError
from orthotrope.proof.case import CHECKS
from orthotrope.proof.conflicts import conflicts
from orthotrope.proof.digest import digest_of
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.review import called_at
from orthotrope.proof.sequences.registry import SEQUENCES, SequenceRef, kind_of
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.changes import Change, changes, taken_back
from orthotrope.units import shown_in


@dataclass(frozen=True, slots=True)
class Digests:
    """What the cases of all sequences are addressed by: ``shared`` by all of them, and by name the ``parts`` that the kinds of
    sequences add: for exchanges one for putting away each tool and one for fetching it, so that there are not as many as pairs."""

    shared: str
    parts: dict[str, str] = field(default_factory=dict)

    def of(self, sequence: SequenceRef) -> str:
        """The address of a sequence's case; "" where there is no such sequence."""
        names = kind_of(sequence).address(sequence)
        if any(name not in self.parts for name in names):
            return ""
        return "-".join([self.shared, *(self.parts[name] for name in names)])

    def sequences(self) -> set[SequenceRef]:
        """All that have an address."""
        return {ref for kind in SEQUENCES.values() for ref in kind.addressed(self.parts)}

    def as_json(self) -> dict[str, Any]:
        return {"shared": self.shared, "parts": self.parts}

    @classmethod
    def from_json(cls, kept: dict[str, Any]) -> "Digests":
        """As :meth:`as_json` gave them; of a proof that has none, such as belong to no case."""
        return cls(kept.get("shared", ""), kept.get("parts", {}))


def digests_of(setup: Setup, imported: str = "") -> Digests:
    """The digests of every sequence's case: of its text (remarks aside, which no control reads), the world, the call, the
    profile, what the checks take of the Setup, and which checks and faults there are. With ``imported`` of that program
    in place of the written text. What is only for people to read is in none of it."""
    profile, derived, world = setup.profile, derive(setup), nominal_world(setup)
    with shown_in("mm"):  # so that a conflict's sentence is the same whatever is shown
        reported = [(conflict.message, conflict.where) for conflict in conflicts(setup, derived)]
    looked_at = derived.looked_at() if derived else ()
    axes = [(axis.resolution, axis.measured is not None) for _, axis in setup.machine.axes.items()]
    shared = [
        profile.model_dump(exclude={"name", "description"}),
        world,
        looked_at,
        axes,
        reported,
        called_at(setup),
        [*CHECKS],
        [*FAULTS],
    ]
    shared += [text for kind in SEQUENCES.values() if (text := kind.text(setup, imported))]
    parts = [kind.digests(setup, imported) for kind in SEQUENCES.values() if kind.imports or not imported]
    return Digests(digest_of(shared), {name: digest for part in parts for name, digest in part.items()})


def responsible(
    before: Setup, after: Setup, wanted: Digests, imported: str = "", most: int | None = None
) -> list[Change]:
    """The changes between two documents that make a proof of the first stale (the first ``most`` of them): each is
    taken back alone, and is one of them where that changes the digest of a case from the ``wanted`` ones, those of the
    second. Where none does so alone, all of them are reported; and a single one needs no trial."""
    document = after.as_json()
    made = changes(before.as_json(), document)
    if len(made) == 1:
        return made
    reported = list(islice((change for change in made if _matters(document, change, wanted, imported)), most))
    return reported or made


def _matters(document: dict[str, Any], change: Change, wanted: Digests, imported: str) -> bool:
    try:
        back = read_setup(taken_back(document, change))
    except (OrthotropeError, LookupError):  # it can't be taken back alone: it may well be
        return True
    return digests_of(back, imported) != wanted
