"""What a machine is read from: an agent, or the practice machine."""

from typing import Annotated

from django.http import HttpRequest
from link import hub
from ninja import Router
from pydantic import Field

from shop.endpoint import ROUTERS, responses, user_of
from shop.linking.actions import BuildPractice, SetAgent
from shop.machines.answers import StoredMachine, machine_named
from shop.taken import Taken, Whole

router = Router()
ROUTERS.add("linking", router)


class AgentIn(Taken):
    """An empty ``address``: the practice machine."""

    address: Annotated[str, Field(max_length=200)]
    device: Annotated[str, Field(max_length=80)]


class Practice(Taken):
    seed: Whole


@router.put("/machines/{slug}/agent", response=responses(StoredMachine, 403, 404, 409, 422))
def set_agent(request: HttpRequest, slug: str, body: AgentIn) -> StoredMachine:
    """Read the machine from this agent; an empty address: from the practice machine."""
    found = SetAgent(user_of(request), machine_named(slug), body.address.strip(), body.device.strip()).run()
    hub.moved(slug, found.agent_address, found.agent_device)
    return StoredMachine.of(found)


@router.post("/machines/{slug}/practice", response=responses(Practice, 403, 404, 409, 422))
def build_practice(request: HttpRequest, slug: str, body: Practice) -> Practice:
    """Build the practice machine anew from the newest Setup."""
    return Practice(seed=BuildPractice(user_of(request), machine_named(slug), body.seed).run())
