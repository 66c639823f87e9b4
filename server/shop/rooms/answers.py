"""What a stored search for room says."""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from orthotrope.proof.digests import Digests
from orthotrope.proof.findings import Finding
from orthotrope.proof.room import ROOM, Room, known_of, tightest_first, too_tight
from orthotrope.setup import Setup
from orthotrope.setup.keys import at, unkeyed

from shop.models import Machine, Reading, RoomSearch
from shop.proofs.answers import digests_now
from shop.rooms import running


@dataclass(frozen=True, slots=True)
class Known:
    """How a value is known: typed, measured by a reading (its source), or as the Setup says; to ± ``half_width`` (in its unit, None:
    that is not known)."""

    how: Literal["typed", "measured", "from the Setup"]
    half_width: float | None


@dataclass(frozen=True, slots=True)
class RoomResponse:
    """A quantity's room, and what is known of the value."""

    room: Room
    known: Known


@dataclass(frozen=True, slots=True)
class WholeRoomSearch:
    """A search, how far it is, and what it has found, the tightest first; ``stale``: what it rests on has changed since."""

    id: int
    state: Literal["running", "done", "cancelled", "failed"]
    done: int
    total: int
    error: str
    revision: int
    author: str
    started: datetime
    stale: bool
    rooms: list[RoomResponse]
    findings: list[Finding]


def latest(machine: Machine) -> RoomSearch | None:
    """The newest search of a machine."""
    found: RoomSearch | None = machine.room_searches.order_by("-pk").select_related("revision", "author").first()
    return found


def whole(search: RoomSearch) -> WholeRoomSearch:
    """A search with all that it has found."""
    state = search.state
    if state == RoomSearch.State.RUNNING and not running.is_running(search):
        search.refresh_from_db()  # it may have ended since it was read
        state = search.state if search.state != RoomSearch.State.RUNNING else RoomSearch.State.CANCELLED
    setup = search.revision.setup
    rooms = tightest_first(ROOM.validate_python(entry) for entry in search.found)
    known = {room.where: _known(search, setup, room) for room in rooms}
    halves = {where: entry.half_width for where, entry in known.items() if entry.half_width}
    return WholeRoomSearch(
        id=search.pk,
        state=str(state),  # type: ignore[arg-type]
        done=search.done,
        total=search.total,
        error=search.error,
        revision=search.revision.number,
        author=search.author.get_username(),
        started=search.started,
        stale=digests_now(search.machine.head) != Digests.from_json(search.digests),
        rooms=[RoomResponse(room, known[room.where]) for room in rooms],
        findings=too_tight(setup, rooms, halves),
    )


def _known(search: RoomSearch, setup: Setup, room: Room) -> Known:
    """By the newest reading whose value still stands, or by what the Setup says."""
    by_setup = known_of(setup).get(room.where)
    if by_setup is not None:
        return Known("from the Setup", by_setup)
    document = search.revision.document
    taken = Reading.objects.filter(machine=search.machine, quantity=room.key).exclude(source=Reading.Source.READ_BACK)
    reading = taken.order_by("-pk").first()
    where = unkeyed(document, room.key)
    if reading is None or not where or abs(at(document, where) - reading.value) > SAME:
        return Known("typed", None)
    return Known("measured", reading.step / 2 if reading.step else None)


SAME = 1e-6
"""By so much a value may differ from its reading and is still that."""
