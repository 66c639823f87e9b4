"""Calibrating a setter, and checking it on a block; nothing is stored."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router
from orthotrope.calc.calibration import BlockCheck, Calibration
from orthotrope.proof.measuring import ToolResult
from pydantic import Field

from shop.endpoint import ROUTERS, computed, computed_as
from shop.stages.setter import jobs
from shop.taken import DocumentIn, Number, Plausible

router = Router()
ROUTERS.add("setter", router)

Uncertain = Annotated[float, Field(ge=0, le=10)]


class CalibrationIn(DocumentIn):
    """``planes``: the plane height that each calibration gave; ``growth``: how much the machine grows as it warms up,
    mm."""

    setter: Annotated[str, Field(max_length=80)]
    tool: Number
    reference_u: Uncertain
    planes: Annotated[list[Plausible], Field(max_length=200)]
    growth: Uncertain = 0.0


class ToolIn(DocumentIn):
    tool: Number


class BlockIn(DocumentIn):
    """``reading``: what the readout shows with the tool resting on the block, mm."""

    setter: Annotated[str, Field(max_length=80)]
    tool: Number
    block_height: Plausible
    reading: Plausible
    reference_u: Uncertain


@router.post("/setter/calibration", response=computed_as(Calibration, 422))
def calibration(request: HttpRequest, body: CalibrationIn) -> HttpResponse:
    """The plane height from several calibrations, with its uncertainty and the shares of it."""
    given = (body.setter, body.tool, body.reference_u, body.planes, body.growth)
    return computed(request, "calibration", jobs.calibrate, body.document, *given)


@router.post("/setter/proof", response=computed_as(ToolResult, 422))
def proof(request: HttpRequest, body: ToolIn) -> HttpResponse:
    """What measuring a tool comes to under every fault; nothing is stored."""
    return computed(request, "", jobs.prove, body.document, body.tool)


@router.post("/setter/block", response=computed_as(BlockCheck, 422))
def block(request: HttpRequest, body: BlockIn) -> HttpResponse:
    """What a tool that rests on a block of known height says of the plane height."""
    given = (body.setter, body.tool, body.block_height, body.reading, body.reference_u)
    return computed(request, "block", jobs.check_on_block, body.document, *given)
