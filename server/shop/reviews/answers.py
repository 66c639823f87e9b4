"""What a stored review says."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from orthotrope.proof.case import Purpose
from orthotrope.proof.findings import FINDING, Finding
from orthotrope.proof.program_values import ProgramValue
from orthotrope.proof.text_fixes.trying import TextFix

from shop.models import Review
from shop.reviews import running
from shop.reviews.jobs import PROGRAM_VALUE, TEXT_FIX
from shop.reviews.texts import text_of

State = Literal["sending", "running", "done", "cancelled", "failed"]


@dataclass(frozen=True, slots=True)
class ReviewSummary:
    """A program that was reviewed: ``size`` in bytes, of which ``here`` have come; ``doing`` and ``share`` (0 to 1): how far it is;
    ``count`` of findings and ``seconds`` that it takes, None: it can't be run, or was not yet."""

    id: int
    file: str
    purpose: Purpose
    profile: str
    size: int
    here: int
    state: State
    doing: str
    share: float
    error: str
    count: int
    seconds: float | None
    revision: int
    author: str
    started: datetime


@dataclass(frozen=True, slots=True)
class WholeReview(ReviewSummary):
    """With what was found: the worst findings, the seconds of each line that takes any, the lines that fix one, and
    what the program believes."""

    findings: list[Finding]
    by_line: list[tuple[int, float]]
    fixes: list[TextFix]
    program_values: list[ProgramValue]


def _summary(review: Review) -> dict[str, Any]:
    state, (doing, share) = review.state, ("", 0.0)
    if state == Review.State.RUNNING and not running.is_running(review):
        review.refresh_from_db()  # it may have ended since it was read
        state = (
            review.state if review.state != Review.State.RUNNING else Review.State.CANCELLED
        )  # the server was stopped
    if state == Review.State.RUNNING:
        doing, share = running.how_far(review)
    path = text_of(review)
    return {
        "id": review.pk,
        "file": review.file,
        "purpose": review.purpose,
        "profile": review.profile,
        "size": review.size,
        "here": path.stat().st_size if path.exists() else 0,
        "state": str(state),
        "doing": doing,
        "share": share,
        "error": review.error,
        "count": review.found.get("count", 0),
        "seconds": review.found.get("seconds"),
        "revision": review.revision.number,
        "author": review.author.get_username(),
        "started": review.started,
    }


def summary(review: Review) -> ReviewSummary:
    """How far a review is."""
    return ReviewSummary(**_summary(review))


def whole(review: Review) -> WholeReview:
    """A review with all that it found."""
    reported = _summary(review)
    return WholeReview(
        **reported,
        findings=[FINDING.validate_python(entry) for entry in review.found.get("findings", [])],
        by_line=[(line, seconds) for line, seconds in review.found.get("by_line", [])],
        program_values=[PROGRAM_VALUE.validate_python(entry) for entry in review.found.get("program_values", [])],
        fixes=[TEXT_FIX.validate_python(entry) for entry in review.found.get("fixes", [])],
    )
