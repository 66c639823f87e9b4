"""What every change to what is stored is: a check, work that is done before anything is locked, an atomic
execution that is short, and an audit entry."""

from abc import ABC, abstractmethod
from typing import Any, ClassVar, Generic, Literal, TypeVar

from django.contrib.auth.models import User
from django.db import transaction
from orthotrope.errors import InputError, OrthotropeError

from shop.models import AuditEntry, Machine, Revision
from shop.roles import Denial, may_change

Outcome = TypeVar("Outcome")


class NotAllowed(OrthotropeError):
    """The user's role does not allow it."""


TRIES = 4
"""Times that an action is prepared before it makes others wait."""


MOST_TEXT = 200
"""Characters of a text in the audit log; a longer one is cut, and says so."""


def noted(user: Any, action: str, **details: Any) -> None:
    """An entry in the audit log for what changes no machine: coming and going; ``user`` None: nobody who is known."""
    cut = {key: _cut(value) if isinstance(value, str) else value for key, value in details.items()}
    AuditEntry.objects.create(user=user if isinstance(user, User) else None, action=action, details=cut)


def _cut(text: str) -> str:
    return text if len(text) <= MOST_TEXT else f"{text[:MOST_TEXT]} … ({len(text)} characters)"


class Action(ABC, Generic[Outcome]):
    """One change, by one user."""

    name: ClassVar[str]
    while_away: ClassVar[bool] = False
    """Whether it can be done with a machine that is put away."""
    user: User

    def run(self) -> Outcome:
        """Check, prepare, execute and note it.

        Raises:
            NotAllowed: with the reason.
        """
        self.permit()
        self._there()
        for last in (*(False,) * TRIES, True):
            if not last:
                self.prepare()
            with transaction.atomic():
                if last:  # others are faster again and again: now they wait
                    self.prepare()
                if self.outdated():
                    continue
                self._there()
                outcome = self.execute()
                machine, details = self.noted(outcome)
                if details is not None:
                    AuditEntry.objects.create(user=self.user, action=self.name, machine=machine, details=details)
            return outcome
        raise AssertionError("what was prepared under the lock is outdated")

    def _there(self) -> None:
        machine = getattr(self, "machine", None)
        if machine and not self.while_away and Machine.objects.filter(pk=machine.pk, put_away__isnull=False).exists():
            raise InputError.at("", "This machine is put away. Bring it back in the shop; then this can be done.")

    def permit(self) -> None:
        """Check only.

        Raises:
            NotAllowed: with the reason.
        """
        allowed = self.allowed()
        if not allowed:
            raise NotAllowed(allowed.reason)

    def prepare(self) -> None:
        """All that takes time and changes nothing; the database is not locked meanwhile."""

    def outdated(self) -> bool:
        """Whether what was prepared does not hold any more; it is prepared again then."""
        return False

    def allowed(self) -> "Literal[True] | Denial":
        """Whether this user may; most changes are a technician's."""
        return may_change(self.user)

    @abstractmethod
    def execute(self) -> Outcome: ...

    @abstractmethod
    def noted(self, outcome: Outcome) -> tuple[Machine, dict[str, Any] | None]:
        """The machine and the figures for the audit; None: nothing was changed."""


def moved(machine: Machine, head: Revision | None) -> bool:
    """Whether a machine's newest revision is another one now, or was added to."""
    now = machine.revisions.order_by("-number").values_list("pk", "changed").first()
    return head is None or now != (head.pk, head.changed)
