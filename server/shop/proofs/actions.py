"""Starting and stopping proofs."""

from dataclasses import dataclass, field
from typing import Any, ClassVar

from django.contrib.auth.models import User
from orthotrope.proof.digests import digests_of
from orthotrope.proof.whole import sequences

from shop.action import Action, moved
from shop.models import Machine, Proof, Revision


@dataclass(slots=True)
class StartProof(Action[Proof]):
    """A proof of the newest revision's exchanges, of measuring its tools and of its routines, through the written text or an ``imported`` one; running it is
    :mod:`shop.proving`'s."""

    name: ClassVar[str] = "start proof"
    user: User
    machine: Machine
    imported: str = ""
    file: str = ""
    head: Revision | None = None
    digests: dict[str, Any] = field(default_factory=dict)
    total: int = 0

    def prepare(self) -> None:
        self.head = self.machine.head
        setup = self.head.setup
        self.digests, self.total = (
            digests_of(setup, self.imported).as_json(),
            len(sequences(setup, bool(self.imported))),
        )

    def outdated(self) -> bool:
        return moved(self.machine, self.head)

    def execute(self) -> Proof:
        assert self.head is not None
        return Proof.objects.create(
            machine=self.machine,
            revision=self.head,
            digests=self.digests,
            total=self.total,
            author=self.user,
            imported=self.imported,
            file=self.file[:120],
        )

    def noted(self, outcome: Proof) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"proof": outcome.pk, "revision": outcome.revision.number}


@dataclass(slots=True)
class CancelProof(Action[Proof]):
    """Stop a running proof; stopping what runs is :mod:`shop.proving`'s."""

    name: ClassVar[str] = "cancel proof"
    user: User
    machine: Machine
    number: int

    def execute(self) -> Proof:
        return Proof.objects.get(machine=self.machine, pk=self.number)

    def noted(self, outcome: Proof) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"proof": outcome.pk}
