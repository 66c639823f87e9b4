"""What comes with Orthotrope and is the same for every machine: quantities as they are typed, words, profiles, threads,
the schema of the Setup."""

from dataclasses import dataclass
from typing import Annotated, Any, Literal

from django.http import HttpRequest
from ninja import Router
from orthotrope.errors import QuantityError
from orthotrope.setup import setup_schema
from orthotrope.setup.control import ControlProfile, shipped_profiles
from orthotrope.setup.threads import Thread, shipped_threads
from orthotrope.units import KINDS, read_quantity
from pydantic import Field

from shop.endpoint import ROUTERS
from shop.reference.vocabulary import Vocabulary, vocabulary
from shop.taken import Taken

router = Router()
ROUTERS.add("reference", router)


class QuantityIn(Taken):
    text: Annotated[str, Field(max_length=1000)]
    kind: Literal["length", "feed", "angle", "speed", "surface speed", "time", "acceleration", "count"]
    unit: Literal["mm", "inch"] = "mm"


@dataclass(frozen=True, slots=True)
class QuantityUnderstood:
    """``value`` in the core's ``unit``; or ``what`` is wrong, at ``column`` from 0."""

    value: float | None
    unit: str
    what: str = ""
    column: int = 0


MOST_AT_ONCE = 5000
"""Quantities that are understood at once: a block of cells from a spreadsheet."""


class QuantitiesIn(Taken):
    every: Annotated[list[QuantityIn], Field(max_length=MOST_AT_ONCE)]


@router.post("/quantity", response=QuantityUnderstood)
def quantity(request: HttpRequest, body: QuantityIn) -> QuantityUnderstood:
    """What is understood of a typed quantity."""
    return _understood(body)


@router.post("/quantities", response=list[QuantityUnderstood])
def quantities(request: HttpRequest, body: QuantitiesIn) -> list[QuantityUnderstood]:
    """What is understood of several, in their order."""
    return [_understood(one) for one in body.every]


def _understood(body: QuantityIn) -> QuantityUnderstood:
    try:
        found = read_quantity(body.text, body.kind, body.unit)
    except QuantityError as bad:
        return QuantityUnderstood(None, KINDS[body.kind].unit, bad.what, bad.column)
    return QuantityUnderstood(found.value, found.unit)


@router.get("/vocabulary", response=Vocabulary)
def words(request: HttpRequest) -> Vocabulary:
    """The words that the screen offers: they are the core's."""
    return vocabulary()


@router.get("/setup-schema", auth=None, response=dict[str, Any])
def published_schema(request: HttpRequest) -> dict[str, Any]:
    """JSON Schema of the Setup file."""
    return setup_schema()


@router.get("/profiles", response=list[ControlProfile])
def profiles(request: HttpRequest) -> list[ControlProfile]:
    """The control profiles that come with Orthotrope."""
    return list(shipped_profiles().values())


@router.get("/threads", response=list[Thread])
def threads(request: HttpRequest) -> list[Thread]:
    """The standard threads of collet nuts that come with Orthotrope."""
    return list(shipped_threads())
