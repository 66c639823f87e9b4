"""Calibrating a setter, and checking it on a block; nothing is stored."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router
from orthotrope.calc.calibration import BlockCheck
from orthotrope.proof.sequences.registry import SequenceResult
from pydantic import Field

from shop.endpoint import ROUTERS, computed, computed_as
from shop.stages.setter import jobs
from shop.taken import DocumentIn, Number, Plausible, Taken

router = Router()
ROUTERS.add("setter", router)

Uncertain = Annotated[float, Field(ge=0, le=10)]


class RunIn(Taken):
    """The ``plane`` height that a calibration gave, mm, and the how-manieth homing it was made after (null: it is not known)."""

    plane: Plausible
    homing: Number | None = None


class CalibrationIn(DocumentIn):
    """``growth``: how much the machine grows as it warms up, mm."""

    setter: Annotated[str, Field(max_length=80)]
    tool: Number
    reference_u: Uncertain
    runs: Annotated[list[RunIn], Field(max_length=200)]
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


@router.post("/setter/calibration", response=computed_as(jobs.PlaneFound, 422))
def calibration(request: HttpRequest, body: CalibrationIn) -> HttpResponse:
    """The plane height from several calibrations, with its uncertainty and the shares of it."""
    runs = [(run.plane, run.homing) for run in body.runs]
    given = (body.setter, body.tool, body.reference_u, runs, body.growth)
    return computed(request, "calibration", jobs.calibrate, body.document, *given)


class MeasuredIn(Taken):
    """``value`` of a tool's length, mm."""

    tool: Number
    value: Plausible


class LengthsIn(DocumentIn):
    """``plane_half``: the half width at 95 % of the plane height, mm; null: it is not known."""

    setter: Annotated[str, Field(max_length=80)]
    plane_half: Uncertain | None
    lengths: Annotated[list[MeasuredIn], Field(max_length=1000)]


@router.post("/setter/lengths", response=computed_as(list[jobs.LengthOf], 422))
def lengths(request: HttpRequest, body: LengthsIn) -> HttpResponse:
    """What lengths measured at a setter are uncertain by."""
    given = [(each.tool, each.value) for each in body.lengths]
    return computed(request, "lengths", jobs.lengths, body.document, body.setter, body.plane_half, given)


@router.post("/setter/proof", response=computed_as(SequenceResult, 422))
def proof(request: HttpRequest, body: ToolIn) -> HttpResponse:
    """What measuring a tool comes to under every fault; nothing is stored."""
    return computed(request, "", jobs.prove, body.document, body.tool)


@router.post("/setter/block", response=computed_as(BlockCheck, 422))
def block(request: HttpRequest, body: BlockIn) -> HttpResponse:
    """What a tool that rests on a block of known height says of the plane height."""
    given = (body.setter, body.tool, body.block_height, body.reading, body.reference_u)
    return computed(request, "block", jobs.check_on_block, body.document, *given)
