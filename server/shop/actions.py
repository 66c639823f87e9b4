"""Every change to what is stored. An action has a check, an atomic execution and an audit entry."""

from abc import ABC, abstractmethod
from dataclasses import dataclass
from datetime import timedelta
from typing import Any, ClassVar, Generic, TypeVar

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone
from django.utils.text import slugify
from orthotrope.errors import OrthotropeError
from orthotrope.proof.exchanges import pairs, proof_digest
from orthotrope.setup import read_setup
from orthotrope.setup.changes import Conflict, changes, merge

from shop.models import AuditEntry, Machine, Proof, Revision
from shop.roles import may_change

JOIN_WITHIN = timedelta(minutes=3)
"""Small edits of one person within this time become one revision."""

Outcome = TypeVar("Outcome")


class NotAllowed(OrthotropeError):
    """The user's role does not allow it."""


class EditConflict(OrthotropeError):
    """Two people changed the same values; ``conflicts`` has both, ``revision`` is the stored one."""

    def __init__(self, conflicts: list[Conflict], revision: Revision):
        self.conflicts, self.revision = conflicts, revision
        super().__init__(f"{revision.author.get_username()} has changed the same value meanwhile.")


class Action(ABC, Generic[Outcome]):
    """One change, by one user."""

    name: ClassVar[str]
    user: User

    def run(self) -> Outcome:
        """Check, execute and note it.

        Raises:
            NotAllowed: with the reason.
        """
        allowed = may_change(self.user)
        if not allowed:
            raise NotAllowed(allowed.reason)
        with transaction.atomic():
            outcome = self.execute()
            machine, details = self.noted(outcome)
            if details is not None:
                AuditEntry.objects.create(user=self.user, action=self.name, machine=machine, details=details)
        return outcome

    @abstractmethod
    def execute(self) -> Outcome: ...

    @abstractmethod
    def noted(self, outcome: Outcome) -> tuple[Machine, dict[str, Any] | None]:
        """The machine and the figures for the audit; None: nothing was changed."""


@dataclass(slots=True)
class CreateMachine(Action[Machine]):
    """A new machine from a Setup document, decoded or as the bytes of its file."""

    name: ClassVar[str] = "create machine"
    user: User
    document: dict[str, Any] | bytes
    note: str = ""

    def execute(self) -> Machine:
        setup = read_setup(self.document)
        base = slugify(setup.machine.name)[:70] or "machine"
        slug, count = base, 1
        while Machine.objects.filter(slug=slug).exists():
            count += 1
            slug = f"{base}-{count}"
        machine = Machine.objects.create(slug=slug)
        Revision.objects.create(machine=machine, number=1, document=setup.as_json(), author=self.user, note=self.note)
        return machine

    def noted(self, outcome: Machine) -> tuple[Machine, dict[str, Any] | None]:
        return outcome, {"note": self.note}


@dataclass(slots=True)
class SaveSetup(Action[Revision]):
    """Store an edited document. ``base`` is the document that the edit began from: what others changed since is merged;
    the same value changed by both is refused."""

    name: ClassVar[str] = "save setup"
    user: User
    machine: Machine
    base_revision: int
    base: dict[str, Any]
    document: dict[str, Any]
    joined: bool = False
    before: dict[str, Any] | None = None

    def execute(self) -> Revision:
        head = Machine.objects.select_for_update().get(pk=self.machine.pk).head
        mine = read_setup(self.document).as_json()
        merged, conflicts = merge(self.base, mine, head.document)
        if conflicts:
            raise EditConflict(conflicts, head)
        self.before = head.document
        document = read_setup(merged).as_json()
        if document == head.document:
            return head
        if self._joins(head):
            head.document = document
            head.save()
            self.joined = True
            return head
        return Revision.objects.create(machine=self.machine, number=head.number + 1, document=document, author=self.user)

    def _joins(self, head: Revision) -> bool:
        recent = timezone.now() - head.created < JOIN_WITHIN
        plain = not head.note and head.number > 1
        return plain and recent and head.author_id == self.user.pk and not head.proofs.exists()

    def noted(self, outcome: Revision) -> tuple[Machine, dict[str, Any] | None]:
        found = [change.as_json() for change in changes(self.before, outcome.document)]
        if not found:
            return self.machine, None
        return self.machine, {"revision": outcome.number, "began_from": self.base_revision, "joined": self.joined,
                              "changes": found[:50]}  # fmt: skip


@dataclass(slots=True)
class RestoreRevision(Action[Revision]):
    """Make an earlier revision the newest, as a new one."""

    name: ClassVar[str] = "restore revision"
    user: User
    machine: Machine
    number: int

    def execute(self) -> Revision:
        old = Revision.objects.get(machine=self.machine, number=self.number)
        head = Machine.objects.select_for_update().get(pk=self.machine.pk).head
        return Revision.objects.create(
            machine=self.machine, number=head.number + 1, document=read_setup(old.document).as_json(), author=self.user,
            note=f"restored from revision {self.number}")  # fmt: skip

    def noted(self, outcome: Revision) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"revision": outcome.number, "restored": self.number}


@dataclass(slots=True)
class StartProof(Action[Proof]):
    """A proof of the newest revision's exchanges; running it is :mod:`shop.proving`'s."""

    name: ClassVar[str] = "start proof"
    user: User
    machine: Machine

    def execute(self) -> Proof:
        head = self.machine.head
        setup = read_setup(head.document)
        return Proof.objects.create(machine=self.machine, revision=head, digest=proof_digest(setup),
                                    total=len(pairs(setup)) if setup.changer else 0, author=self.user)  # fmt: skip

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
