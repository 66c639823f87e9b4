"""Changes of machines and their revisions."""

import threading
from dataclasses import asdict, dataclass
from datetime import timedelta
from typing import Any, ClassVar

from django.contrib.auth.models import User
from django.utils import timezone
from django.utils.text import slugify
from orthotrope.errors import OrthotropeError
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.changes import Conflict, changes, merge
from orthotrope.setup.migrations import migrated
from orthotrope.setup.renaming import followed, renames

from shop.action import Action, moved
from shop.models import Machine, Revision, documented, setup_of

MOST_NOTED = 50
"""Changes that an audit entry lists; how many more there are is said."""

_turns: dict[int, threading.Lock] = {}
_turning = threading.Lock()


def _turn(machine: int) -> threading.Lock:
    """Whose turn it is to save a machine; there is one server process."""
    with _turning:
        return _turns.setdefault(machine, threading.Lock())


JOIN_WITHIN = timedelta(minutes=3)
"""Small edits of one person within this time become one revision."""


class EditConflict(OrthotropeError):
    """Two people changed the same values; ``conflicts`` has both, ``revision`` is the stored one."""

    def __init__(self, conflicts: list[Conflict], revision: Revision):
        self.conflicts, self.revision = conflicts, revision
        super().__init__(f"{revision.author.get_username()} has changed the same value meanwhile.")


@dataclass(slots=True)
class CreateMachine(Action[Machine]):
    """A new machine from a Setup document."""

    name: ClassVar[str] = "create machine"
    user: User
    document: dict[str, Any]
    note: str = ""
    setup: Setup | None = None

    def prepare(self) -> None:
        self.setup = read_setup(self.document)

    def execute(self) -> Machine:
        setup = self.setup
        assert setup is not None
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
class PutAway(Action[Machine]):
    """Put a machine away, or bring it back: nothing of it is lost, and it can still be looked at."""

    name: ClassVar[str] = "put machine away"
    while_away: ClassVar[bool] = True
    user: User
    machine: Machine
    away: bool

    def execute(self) -> Machine:
        self.machine.put_away = timezone.now() if self.away else None
        self.machine.save(update_fields=["put_away"])
        return self.machine

    def noted(self, outcome: Machine) -> tuple[Machine, dict[str, Any] | None]:
        return outcome, {"away": self.away}


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
    head: Revision | None = None
    merged: dict[str, Any] | None = None

    def run(self) -> Revision:
        """One after the other for each machine: who is overtaken while others save would have to begin again and again."""
        with _turn(self.machine.pk):
            return Action.run(self)

    def prepare(self) -> None:
        self.head = head = self.machine.head
        self.before = head.document
        mine = documented(read_setup(self.document))
        if self.base == head.document:  # nobody else has changed anything
            self.merged = mine
            return
        theirs = head.setup.as_json()  # one stored by an earlier version lacks what has come since
        merged, conflicts = merge(setup_of(self.base).as_json(), mine, theirs)
        if conflicts:
            raise EditConflict(conflicts, head)
        self.merged = documented(read_setup(merged))

    def outdated(self) -> bool:
        return moved(self.machine, self.head)

    def execute(self) -> Revision:
        head, document = self.head, self.merged
        assert head is not None and document is not None
        if document == head.document:
            return head
        self._follow(renames(head.document, document))
        if self._joins(head):
            head.document = document
            head.save()
            self.joined = True
            return head
        return Revision.objects.create(
            machine=self.machine, number=head.number + 1, document=document, author=self.user
        )

    def _follow(self, moved: dict[str, str]) -> None:
        """What was measured, and the tests of inputs, go with an entry that has another number or name."""
        for old, new in moved.items():
            for reading in self.machine.readings.filter(quantity__startswith=f"{old}/"):
                reading.quantity = followed(reading.quantity, moved)
                reading.save(update_fields=["quantity"])
            section, number = old.split("/")[1:]
            if section == "inputs":
                self.machine.input_tests.filter(number=int(number)).update(number=int(new.split("/")[2]))

    def _joins(self, head: Revision) -> bool:
        recent = timezone.now() - head.created < JOIN_WITHIN
        plain = not head.note and head.number > 1
        return (
            plain
            and recent
            and head.author_id == self.user.pk
            and not head.proofs.exists()
            and not head.results.exists()
            and not head.reviews.exists()
            and not head.room_searches.exists()
        )

    def noted(self, outcome: Revision) -> tuple[Machine, dict[str, Any] | None]:
        found = [asdict(change) for change in changes(migrated(self.before or {}), outcome.document)]
        if not found:
            return self.machine, None
        return self.machine, {
            "revision": outcome.number,
            "began_from": self.base_revision,
            "joined": self.joined,
            "changes": found[:MOST_NOTED],
            **({"more_changes": len(found) - MOST_NOTED} if len(found) > MOST_NOTED else {}),
        }


@dataclass(slots=True)
class RestoreRevision(Action[Revision]):
    """Make an earlier revision the newest, as a new one."""

    name: ClassVar[str] = "restore revision"
    user: User
    machine: Machine
    number: int
    document: dict[str, Any] | None = None

    def prepare(self) -> None:
        old = Revision.objects.get(machine=self.machine, number=self.number)
        self.document = old.setup.as_json()

    def execute(self) -> Revision:
        return Revision.objects.create(
            machine=self.machine,
            number=self.machine.head.number + 1,
            document=self.document,
            author=self.user,
            note=f"restored from revision {self.number}",
        )

    def noted(self, outcome: Revision) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"revision": outcome.number, "restored": self.number}
