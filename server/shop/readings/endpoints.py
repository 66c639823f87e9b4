"""Readings: offered, taken and listed."""

from datetime import datetime
from typing import Annotated, Literal

from django.http import HttpRequest, HttpResponse
from link import hub
from link.reader import SLOW
from ninja import Router
from pydantic import Field

from shop.endpoint import ROUTERS, computed, computed_as, responses, user_of
from shop.machines.answers import machine_named
from shop.models import Machine
from shop.readings import jobs
from shop.readings.actions import MachineSeen, TakeReading, TakeSeries, TeachPocket
from shop.readings.answers import PocketTaught, ReadingKept, ReadingResponse
from shop.taken import DocumentIn, Number, Plausible, Position, Taken, Whole

router = Router()
ROUTERS.add("readings", router)

MOST_READINGS = 500


class OfferIn(DocumentIn):
    quantity: Annotated[str, Field(max_length=200)]
    position: Position | None = None
    tool: Whole | None = None


class ReadingIn(Taken):
    quantity: Annotated[str, Field(max_length=200)]
    source: Literal["machine", "typed", "dial", "read-back"]
    seen: Position | None = None
    value: Plausible | None = None
    came: Whole = 0
    how: Annotated[str, Field(max_length=200)] = ""
    rests_on: Annotated[dict[Annotated[str, Field(max_length=200)], Plausible | None], Field(max_length=40)] = {}
    half_width_95: Annotated[float | None, Field(ge=0, le=1e6)] = None
    measured: Annotated[datetime | None, Field(strict=False)] = None


class SeriesIn(Taken):
    quantity: Annotated[str, Field(max_length=200)]
    readings: Annotated[list[Number], Field(max_length=500)]


class TeachIn(Taken):
    pocket: Number
    seen: Position
    with_height: bool = False


def _standing(machine: Machine) -> MachineSeen | None:
    link = hub.link_of(machine.slug, machine.agent_address, machine.agent_device)
    if link is None or not link.heard_once:
        return None
    state = link.frozen()
    return MachineSeen(state.vector(), state.tool, state.offset, state.dials, link.age < SLOW)


@router.post("/offers", response=computed_as(jobs.Offered))
def make_offer(request: HttpRequest, body: OfferIn) -> HttpResponse:
    """Which number of the machine would go into a quantity; nothing is stored."""
    kind = "offer" if body.position else "targets"
    return computed(request, kind, jobs.make_offer, body.document, body.quantity, body.position, body.tool)


@router.post("/machines/{slug}/readings", response=responses(ReadingKept, 403, 404, 409, 422))
def take_reading(request: HttpRequest, slug: str, body: ReadingIn) -> ReadingKept:
    found = machine_named(slug)
    seen = (body.seen[0], body.seen[1], body.seen[2]) if body.seen else None
    action = TakeReading(
        user_of(request),
        found,
        body.quantity,
        body.source,
        _standing(found),
        seen,
        body.value,
        body.came,
        body.how,
        body.rests_on,
        body.measured,
        body.half_width_95,
    )
    reported = ReadingResponse.of(action.run(), found.head.document)
    made = action.offer
    return ReadingKept(reported, made.edit_at if made else None, made.edit if made else None)


@router.post("/machines/{slug}/series", response=responses(ReadingKept, 403, 404, 409, 422))
def take_series(request: HttpRequest, slug: str, body: SeriesIn) -> ReadingKept:
    """What a series of dial readings says about the scatter of home or the backlash of an axis."""
    found = machine_named(slug)
    reading = TakeSeries(user_of(request), found, body.quantity, body.readings).run()
    return ReadingKept(ReadingResponse.of(reading, found.head.document), body.quantity, reading.value)


@router.post("/machines/{slug}/teach", response=responses(PocketTaught, 403, 404, 409, 422))
def teach_pocket(request: HttpRequest, slug: str, body: TeachIn) -> PocketTaught:
    """Teach a pocket where the machine stands."""
    found = machine_named(slug)
    seen = (body.seen[0], body.seen[1], body.seen[2])
    action = TeachPocket(user_of(request), found, body.pocket, seen, body.with_height, _standing(found))
    kept = action.run()
    listed = [ReadingResponse.of(reading, found.head.document) for reading in kept]
    return PocketTaught(listed, "/changer/rack/taught", action.taught)


@router.get("/machines/{slug}/readings", response=responses(list[ReadingResponse], 404))
def readings(request: HttpRequest, slug: str) -> list[ReadingResponse]:
    """The readings of a machine, the newest first."""
    found = machine_named(slug)
    document = found.head.setup.as_json()
    newest = found.readings.select_related("author").order_by("-pk")[:MOST_READINGS]
    return [ReadingResponse.of(reading, document) for reading in newest]
