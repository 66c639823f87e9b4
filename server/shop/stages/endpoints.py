"""What follows from a document, as a stage shows it."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router
from orthotrope.proof.case import Purpose
from orthotrope.sequence.measuring import MEASURING
from orthotrope.setup.named import Named
from pydantic import Field

from shop.endpoint import ROUTERS, computed, computed_as
from shop.stages import jobs
from shop.stages.registry import ANSWERS
from shop.taken import DocumentIn, FaultName, Number, Plausible, ProgramText, Taken

router = Router()
ROUTERS.add("stages", router)


class ByHandIn(Taken):
    """Set by hand after so many blocks: a parameter's value, or an input made (1) or idle (0)."""

    after: Number
    parameter: Annotated[int, Field(ge=0, le=9999)] = 0
    input: Number = 0
    value: Plausible = 0.0


class PreviewIn(DocumentIn):
    """``fault``: run the exchange under this fault of the proof."""

    from_tool: Number | None = None
    to_tool: Number | None = None
    profile: Annotated[str, Field(max_length=80)] | None = None
    stage: Annotated[str, Named(ANSWERS)] = "exchange"
    program: ProgramText | None = None
    purpose: Purpose | None = None
    fault: FaultName | None = None
    sequence: Annotated[str, Named(MEASURING)] | None = None
    tools: Annotated[list[Number], Field(max_length=1000)] = []
    setter: Annotated[str, Field(max_length=80)] | None = None
    routine: Annotated[str, Field(max_length=80)] | None = None
    by_hand: Annotated[list[ByHandIn], Field(max_length=50)] = []


@router.post("/preview", response=computed_as(jobs.Answer))
def preview(request: HttpRequest, body: PreviewIn) -> HttpResponse:
    """What would follow from a document, without saving it."""
    asked = body.model_dump()
    return computed(request, "preview", jobs.preview, asked.pop("document"), asked)
