"""Starting and stopping the search for the room of each quantity."""

from dataclasses import dataclass, field
from typing import Any, ClassVar

from django.contrib.auth.models import User
from orthotrope.errors import InputError
from orthotrope.proof.digests import digests_of
from orthotrope.proof.room import quantities
from orthotrope.proof.whole import sequences

from shop.action import Action, moved
from shop.models import Machine, Revision, RoomSearch


@dataclass(slots=True)
class StartRooms(Action[RoomSearch]):
    """A search of the newest revision; running it is :mod:`shop.rooms.running`'s."""

    name: ClassVar[str] = "start room search"
    user: User
    machine: Machine
    head: Revision | None = None
    digests: dict[str, Any] = field(default_factory=dict)
    total: int = 0

    def prepare(self) -> None:
        self.head = self.machine.head
        setup = self.head.setup
        if not sequences(setup):
            raise InputError.at(
                "", "There is no sequence to try. A changer and a stored tool, a setter, or a probe are needed."
            )
        self.digests, self.total = digests_of(setup).as_json(), len(quantities(setup))

    def outdated(self) -> bool:
        return moved(self.machine, self.head)

    def execute(self) -> RoomSearch:
        assert self.head is not None
        return RoomSearch.objects.create(
            machine=self.machine, revision=self.head, digests=self.digests, total=self.total, author=self.user
        )

    def noted(self, outcome: RoomSearch) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"room search": outcome.pk, "revision": outcome.revision.number}


@dataclass(slots=True)
class CancelRooms(Action[RoomSearch]):
    """Stop a search; stopping what runs is :mod:`shop.rooms.running`'s."""

    name: ClassVar[str] = "cancel room search"
    user: User
    machine: Machine
    number: int

    def execute(self) -> RoomSearch:
        found: RoomSearch = self.machine.room_searches.get(pk=self.number)
        return found

    def noted(self, outcome: RoomSearch) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"room search": outcome.pk}
