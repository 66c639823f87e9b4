"""Reviews of programs that the technician brings: begun, sent in pieces, followed, cancelled, read back."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router
from orthotrope.proof.case import Purpose
from pydantic import Field

from shop.endpoint import ROUTERS, responses, user_of
from shop.machines.answers import machine_named
from shop.reviews import running
from shop.reviews.actions import AddPiece, BeginReview, EndReview
from shop.reviews.answers import ReviewSummary, WholeReview, summary, whole
from shop.reviews.texts import TextGone, text_of
from shop.taken import Number, ProgramText, Taken

router = Router()
ROUTERS.add("reviews", router)

PIECE = 4_000_000
"""Bytes of a text that are sent at a time."""


class ReviewIn(Taken):
    """``size``: bytes that the text has in UTF-8; ``profile`` "": the machine's."""

    file: Annotated[str, Field(min_length=1, max_length=120)]
    purpose: Purpose
    profile: Annotated[str, Field(max_length=80)] = ""
    size: Number


class PieceIn(Taken):
    """``at``: how many bytes are there already."""

    at: Number
    text: ProgramText


@router.post("/machines/{slug}/reviews", response=responses(ReviewSummary, 403, 404, 422))
def begin_review(request: HttpRequest, slug: str, body: ReviewIn) -> ReviewSummary:
    """Begin a review; its text follows in pieces."""
    machine = machine_named(slug)
    return summary(BeginReview(user_of(request), machine, body.file, body.purpose, body.profile, body.size).run())


@router.post("/machines/{slug}/reviews/{number}/pieces", response=responses(ReviewSummary, 403, 404, 422))
def add_piece(request: HttpRequest, slug: str, number: Number, body: PieceIn) -> ReviewSummary:
    """The next piece of the text; with the last one it is run."""
    review = AddPiece(user_of(request), machine_named(slug), number, body.at, body.text).run()
    if review.state == review.State.RUNNING:
        running.start(review)
    return summary(review)


@router.get("/machines/{slug}/reviews", response=responses(list[ReviewSummary], 404))
def every_review(request: HttpRequest, slug: str) -> list[ReviewSummary]:
    """The programs of a machine that were reviewed, the newest first."""
    found = machine_named(slug).reviews.order_by("-pk").select_related("revision", "author")
    return [summary(review) for review in found]


@router.get("/machines/{slug}/reviews/{number}", response=responses(WholeReview, 404))
def one_review(request: HttpRequest, slug: str, number: Number) -> WholeReview:
    return whole(machine_named(slug).reviews.select_related("revision", "author").get(pk=number))


@router.get("/machines/{slug}/reviews/{number}/text", response=responses(str, 404, 422))
def reviewed_text(request: HttpRequest, slug: str, number: Number, at: Number = 0) -> HttpResponse:
    """A piece of the text as it was imported, from so many bytes on; empty: that was all of it."""
    review = machine_named(slug).reviews.get(pk=number)
    if not text_of(review).exists():
        raise TextGone(review.file)
    with text_of(review).open("rb") as file:
        file.seek(at)
        return HttpResponse(file.read(PIECE), content_type="text/plain; charset=utf-8")


@router.post("/machines/{slug}/reviews/{number}/cancel", response=responses(ReviewSummary, 403, 404, 422))
def cancel_review(request: HttpRequest, slug: str, number: Number) -> ReviewSummary:
    review = EndReview(user_of(request), machine_named(slug), number).run()
    running.cancel(review)
    return summary(review)
