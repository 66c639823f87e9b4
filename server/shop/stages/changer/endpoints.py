"""A changer: its pockets from a drawing, its first approach, its mounting pattern."""

from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router
from orthotrope.formats.mounting import mounting_pattern

from shop.endpoint import ROUTERS, computed, computed_as, file, responses
from shop.machines.answers import machine_named
from shop.stages.changer import jobs
from shop.taken import DocumentIn, Number, ProgramText, Taken

router = Router()
ROUTERS.add("changer", router)


class LayoutIn(Taken):
    """A DXF as text; ``unit``: where it states none."""

    text: ProgramText
    unit: Literal["mm", "inch", "as stated"] = "as stated"


class ApproachIn(DocumentIn):
    pocket: Number


@router.post("/layout", response=computed_as(list[jobs.Layer]))
def layout(request: HttpRequest, body: LayoutIn) -> HttpResponse:
    """The circles and points of a drawing, by layer, in every order that pockets may be numbered in; nothing is
    stored."""
    return computed(request, "", jobs.layers, body.text, body.unit)


@router.post("/approach", response=computed_as(list[jobs.ApproachText]))
def approach_texts(request: HttpRequest, body: ApproachIn) -> HttpResponse:
    """The programs of a pocket's first approach, in the Setup's control profile; nothing is stored."""
    return computed(request, "approach", jobs.approach_texts, body.document, body.pocket)


@router.get("/machines/{slug}/mounting.dxf", response=responses(str, 404, 422))
def mounting(
    request: HttpRequest, slug: str, unit: Literal["mm", "inch"] = "mm", frame: Literal["machine", "rack"] = "rack"
) -> HttpResponse:
    """The rack's mounting pattern as DXF, in millimetres or inches, in the rack's own frame or the machine's."""
    text = mounting_pattern(machine_named(slug).head.setup, unit, frame)
    return file(text, "application/dxf", f"{slug}-mounting-{unit}.dxf")
