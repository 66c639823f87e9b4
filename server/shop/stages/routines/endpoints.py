"""The proof of a routine, what follows from its touches, and the results that are kept."""

import json
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import Router
from orthotrope.proof.sequences.registry import SequenceResult
from orthotrope.proof.text_fixes.trying import TextFix
from pydantic import Field

from shop.asking import ask
from shop.endpoint import ROUTERS, computed, computed_as, file, responses, user_of
from shop.machines.answers import machine_named
from shop.stages.routines import jobs
from shop.stages.routines.results import KeepResult, KeptResult, kept_results, last_values
from shop.taken import DocumentIn, Place, Plausible, ProgramText, Taken

router = Router()
ROUTERS.add("routines", router)

Name = Annotated[str, Field(max_length=80)]


class RoutineIn(DocumentIn):
    routine: Name


class RoutineProofIn(RoutineIn):
    """``program``: one that is to make the routine in place of the written one."""

    program: ProgramText | None = None


class TextFixRequest(RoutineIn):
    program: ProgramText


class PlacesIn(RoutineIn):
    """``places``: machine coordinates of the gauge line where each touch was latched, in their order, mm; ``stood``: they are
    where the machine stood, which is a little further on; ``last``: what was found the last time, by the quantity's name."""

    places: Annotated[list[Place], Field(max_length=200)]
    stood: bool = False
    last: Annotated[dict[str, Plausible], Field(max_length=20)] | None = None


@router.post("/routines/proof", response=computed_as(SequenceResult, 422))
def proof(request: HttpRequest, body: RoutineProofIn) -> HttpResponse:
    """What a routine comes to from every caller, under every fault, and with the part otherwise than expected."""
    return computed(request, "", jobs.prove, body.document, body.routine, body.program)


@router.post("/routines/fixes", response=computed_as(list[TextFix], 422))
def fixes(request: HttpRequest, body: TextFixRequest) -> HttpResponse:
    """Suggested fixes of a program that was imported, each tried; nothing is stored."""
    return computed(request, "fixes", jobs.fixes, body.document, body.routine, body.program)


class KeptPlacesIn(Taken):
    """As :class:`PlacesIn`, for the newest revision."""

    routine: Name
    places: Annotated[list[Place], Field(max_length=200)]
    stood: bool = False


@router.post("/routines/result", response=computed_as(jobs.Summed, 422))
def result(request: HttpRequest, body: PlacesIn) -> HttpResponse:
    """What follows from where the touches were latched, and the line that sets the offset."""
    return computed(request, "result", jobs.summed, body.document, body.routine, body.places, body.stood, body.last)


@router.get("/machines/{slug}/routines/results", response=responses(list[KeptResult], 404))
def results(request: HttpRequest, slug: str, routine: str) -> list[KeptResult]:
    """What a routine has found until now, the newest first."""
    return kept_results(machine_named(slug), routine)


@router.post("/machines/{slug}/routines/results", response=responses(KeptResult, 403, 404, 422, 429, 503))
def keep_result(request: HttpRequest, slug: str, body: KeptPlacesIn) -> KeptResult:
    """Keep what a routine has found, worked out with the newest revision."""
    machine = machine_named(slug)

    def calculate(document: dict[str, Any]) -> dict[str, Any]:
        found: dict[str, Any] = json.loads(
            ask(request, "", jobs.summed, document, body.routine, body.places, body.stood)
        )
        return {**found, "stood": body.stood}

    kept = KeepResult(user_of(request), machine, body.routine, body.places, calculate).run()
    return KeptResult.of(kept, machine.head.setup.as_json())


@router.post("/machines/{slug}/routines/sheet", response=responses(str, 404, 422, 429, 503))
def result_sheet(request: HttpRequest, slug: str, body: PlacesIn) -> HttpResponse:
    """A result on paper, beside the last one that was kept: a PDF."""
    machine = machine_named(slug)
    last, by = body.last or last_values(machine, body.routine), user_of(request).get_username()
    made = ask(request, "", jobs.sheet, body.document, body.routine, body.places, body.stood, last, by)
    return file(made, "application/pdf", f"{slug}-{slugify(body.routine) or 'result'}.pdf")
