"""The tests of inputs are kept."""

from typing import Annotated

from django.http import HttpRequest
from ninja import Router
from orthotrope.calc.wiring import Seen
from pydantic import Field

from shop.endpoint import ROUTERS, responses, user_of
from shop.machines.answers import StoredMachine, machine_named
from shop.stages.signals.actions import KeepInputTest
from shop.taken import Number, Taken

router = Router()
ROUTERS.add("signals", router)


class EdgeIn(Taken):
    after: float
    made: bool


class InputTestIn(Taken):
    seen: Annotated[list[Seen], Field(max_length=3)]
    edges: Annotated[list[EdgeIn], Field(max_length=500)] = []
    by_hand: bool = False


@router.post("/machines/{slug}/inputs/{number}/tests", response=responses(StoredMachine, 403, 404, 409, 422))
def keep_input_test(request: HttpRequest, slug: str, number: Number, body: InputTestIn) -> StoredMachine:
    found = machine_named(slug)
    edges = [edge.model_dump() for edge in body.edges]
    KeepInputTest(user_of(request), found, number, list(body.seen), edges, body.by_hand).run()
    return StoredMachine.of(found)
