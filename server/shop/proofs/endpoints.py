"""Proofs: started, followed, stopped; and what is worked out of one exchange beside its proof."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router
from orthotrope.errors import InputError
from orthotrope.proof.savings import Saving
from pydantic import Field

from shop.asking import ask
from shop.endpoint import ROUTERS, computed, computed_as, responses, user_of
from shop.machines.answers import machine_named
from shop.proofs import jobs, running
from shop.proofs.actions import CancelProof, StartProof
from shop.proofs.answers import WholeProof, latest_proof, whole
from shop.taken import Number, PairIn, ProgramText, Taken

router = Router()
ROUTERS.add("proofs", router)


class ProofIn(Taken):
    """A program that was imported, to be proven in place of the written one; "" the written one."""

    text: ProgramText
    file: Annotated[str, Field(max_length=120)]


@router.post("/machines/{slug}/proofs", response=responses(WholeProof, 403, 404, 422))
def start_proof(request: HttpRequest, slug: str, body: ProofIn) -> WholeProof:
    """Prove every sequence of the newest Setup, exchanges through the written text or one that is imported."""
    action = StartProof(user_of(request), machine_named(slug), body.text, body.file)
    action.permit()
    if body.text and (wrong := ask(request, "", jobs.unreadable, body.text)):
        raise InputError.at("/text", f"The program can't be read, nothing is proven. {wrong}")
    proof = action.run()
    running.start(proof)
    return whole(proof)


@router.get("/machines/{slug}/proofs/latest", response=responses(WholeProof | None, 404))
def newest_proof(request: HttpRequest, slug: str, imported: bool = False, brief: bool = False) -> WholeProof | None:
    """The newest proof; ``brief``: while it runs only how far it is, and the worst of each pair."""
    proof = latest_proof(machine_named(slug), imported)
    return whole(proof, brief) if proof else None


@router.post("/machines/{slug}/proofs/{number}/cancel", response=responses(WholeProof, 403, 404, 422))
def cancel_proof(request: HttpRequest, slug: str, number: Number) -> WholeProof:
    proof = CancelProof(user_of(request), machine_named(slug), number).run()
    running.cancel(proof)
    return whole(proof)


@router.post("/savings", response=computed_as(list[Saving]))
def time_savings(request: HttpRequest, body: PairIn) -> HttpResponse:
    """What would save most time in an exchange, each change tried; nothing is stored."""
    return computed(request, "", jobs.time_savings, body.document, body.from_tool, body.to_tool)


@router.post("/recovery", response=computed_as(jobs.RecoverySheet))
def recovery_sheet(request: HttpRequest, body: PairIn) -> HttpResponse:
    """What may be where after this exchange was stopped, block by block, and how the record is set; nothing is
    stored."""
    return computed(request, "recovery", jobs.recovery_sheet, body.document, body.from_tool, body.to_tool)
