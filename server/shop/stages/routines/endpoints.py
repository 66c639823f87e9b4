"""The proof of a routine, and what follows from its touches; nothing is stored."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router
from orthotrope.proof.routines import RoutineResult
from pydantic import Field

from shop.endpoint import ROUTERS, computed, computed_as
from shop.stages.routines import jobs
from shop.taken import DocumentIn, Place, ProgramText

router = Router()
ROUTERS.add("routines", router)

Name = Annotated[str, Field(max_length=80)]


class RoutineIn(DocumentIn):
    routine: Name


class RoutineProofIn(RoutineIn):
    """``program``: one that is to make the routine in place of the written one."""

    program: ProgramText | None = None


class PlacesIn(RoutineIn):
    """``places``: machine coordinates of the gauge line where each touch was latched, in their order, mm; ``stood``: they are
    where the machine stood, which is a little further on."""

    places: Annotated[list[Place], Field(max_length=200)]
    stood: bool = False


@router.post("/routines/proof", response=computed_as(RoutineResult, 422))
def proof(request: HttpRequest, body: RoutineProofIn) -> HttpResponse:
    """What a routine comes to from every caller, under every fault, and with the part otherwise than expected."""
    return computed(request, "", jobs.prove, body.document, body.routine, body.program)


@router.post("/routines/result", response=computed_as(jobs.Summed, 422))
def result(request: HttpRequest, body: PlacesIn) -> HttpResponse:
    """What follows from where the touches were latched, and the line that sets the offset."""
    return computed(request, "result", jobs.summed, body.document, body.routine, body.places, body.stood)
