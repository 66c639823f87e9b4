"""Qualifying a probe; nothing is stored."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router
from orthotrope.sequence.probing.qualified import OffCentre, QualifiedDiameter, QualifiedLength
from pydantic import Field

from shop.endpoint import ROUTERS, computed, computed_as
from shop.stages.probes import jobs
from shop.taken import DocumentIn, Place, Plausible

router = Router()
ROUTERS.add("probes", router)

Places = Annotated[list[Place], Field(max_length=100)]


class RoundIn(DocumentIn):
    """``places``: machine coordinates of the gauge line where each touch was latched, mm."""

    probe: Annotated[str, Field(max_length=80)]
    places: Places


class HalfTurnIn(RoundIn):
    """``turned``: the same touches with the spindle half a turn further."""

    turned: Places


class LengthIn(DocumentIn):
    """``heights``: machine Z of the gauge line at repeated touches of the reference face, mm."""

    probe: Annotated[str, Field(max_length=80)]
    heights: Annotated[list[Plausible], Field(max_length=200)]


@router.post("/probes/diameter", response=computed_as(QualifiedDiameter, 422))
def diameter(request: HttpRequest, body: RoundIn) -> HttpResponse:
    """The effective diameter from touches round the clock, with its form."""
    return computed(request, "diameter", jobs.diameter, body.document, body.probe, body.places)


@router.post("/probes/off-centre", response=computed_as(OffCentre, 422))
def off_centre(request: HttpRequest, body: HalfTurnIn) -> HttpResponse:
    """Where the tip stands off the spindle's axis, by half a turn."""
    return computed(request, "off-centre", jobs.off_centre, body.document, body.probe, body.places, body.turned)


@router.post("/probes/length", response=computed_as(QualifiedLength, 422))
def length(request: HttpRequest, body: LengthIn) -> HttpResponse:
    """The length from touches of the reference face, with the scatter of one."""
    return computed(request, "length", jobs.length, body.document, body.probe, body.heights)
