"""The room of each quantity: searched, followed, stopped."""

from django.http import HttpRequest
from ninja import Router

from shop.endpoint import ROUTERS, responses, user_of
from shop.machines.answers import machine_named
from shop.rooms import running
from shop.rooms.actions import CancelRooms, StartRooms
from shop.rooms.answers import WholeRoomSearch, latest, whole
from shop.taken import Number

router = Router()
ROUTERS.add("rooms", router)


@router.post("/machines/{slug}/rooms", response=responses(WholeRoomSearch, 403, 404, 422))
def start_rooms(request: HttpRequest, slug: str) -> WholeRoomSearch:
    """Find how wrong each quantity of the newest Setup may be."""
    machine = machine_named(slug)
    action = StartRooms(user_of(request), machine)
    action.permit()
    under_way = latest(machine)
    if under_way and running.is_running(under_way):
        return whole(under_way)
    search = action.run()
    running.start(search)
    return whole(search)


@router.get("/machines/{slug}/rooms/latest", response=responses(WholeRoomSearch | None, 404))
def newest_rooms(request: HttpRequest, slug: str) -> WholeRoomSearch | None:
    """The newest search, and what it has found so far."""
    found = latest(machine_named(slug))
    return whole(found) if found else None


@router.post("/machines/{slug}/rooms/{number}/cancel", response=responses(WholeRoomSearch, 403, 404, 422))
def cancel_rooms(request: HttpRequest, slug: str, number: Number) -> WholeRoomSearch:
    """Stop a search; what it has found is kept."""
    search = CancelRooms(user_of(request), machine_named(slug), number).run()
    running.cancel(search)
    return whole(search)
