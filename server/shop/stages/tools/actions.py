"""Rearranging all tools at once."""

from dataclasses import dataclass
from typing import Any, ClassVar, Literal

from django.contrib.auth.models import User
from orthotrope.calc.storage import ARRANGEMENTS, Arrangement, arranged
from orthotrope.setup import read_setup

from shop.action import Action, moved
from shop.models import Machine, Revision
from shop.roles import Denial, may_arrange


@dataclass(slots=True)
class ArrangePockets(Action[Revision]):
    """Fill in order, empty all, or number the tools by their pockets: one revision, by a supervisor."""

    name: ClassVar[str] = "arrange pockets"
    user: User
    machine: Machine
    how: Arrangement
    head: Revision | None = None
    document: dict[str, Any] | None = None

    def allowed(self) -> "Literal[True] | Denial":
        return may_arrange(self.user)

    def prepare(self) -> None:
        self.head = self.machine.head
        setup = self.head.setup
        self.document = read_setup({**setup.as_json(), "tools": arranged(setup, self.how)}).as_json()

    def outdated(self) -> bool:
        return moved(self.machine, self.head)

    def execute(self) -> Revision:
        assert self.head is not None
        return Revision.objects.create(
            machine=self.machine,
            number=self.head.number + 1,
            document=self.document,
            author=self.user,
            note=ARRANGEMENTS[self.how],
        )

    def noted(self, outcome: Revision) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"how": self.how, "revision": outcome.number}
