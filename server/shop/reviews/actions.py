"""Beginning a review, adding to its text, cancelling and forgetting it."""

from dataclasses import dataclass
from datetime import timedelta
from typing import Any, ClassVar

from django.contrib.auth.models import User
from django.utils import timezone
from orthotrope.errors import InputError
from orthotrope.proof.case import Purpose

from shop.action import Action
from shop.models import Machine, Review
from shop.reviews.running import is_running
from shop.reviews.texts import MOST_BYTES, TextGone, added, begin, complete, forget, text_of

KEPT = 5
"""Reviews of one machine, with their texts; the oldest go."""

SENDING_WITHIN = timedelta(hours=1)
"""A text that began to come longer ago does not come any more."""


@dataclass(slots=True)
class BeginReview(Action[Review]):
    """A review of a program of so many bytes, whose text comes in pieces."""

    name: ClassVar[str] = "review program"
    user: User
    machine: Machine
    file: str
    purpose: Purpose
    profile: str
    size: int

    def prepare(self) -> None:
        if self.size > MOST_BYTES:
            raise InputError.at("/size", f"{self.file} has {self.size / 2**20:.1f} MB; at most 100 MB are reviewed.")
        if self.size < 1:
            raise InputError.at("/size", f"{self.file} is empty.")
        setup = self.machine.head.setup
        if self.profile and self.profile not in {entry.name for entry in setup.every_profile()}:
            raise InputError.at("/profile", f"There is no control profile {self.profile}.")

    def execute(self) -> Review:
        revision = self.machine.head
        review = Review.objects.create(
            machine=self.machine,
            revision=revision,
            file=self.file,
            purpose=self.purpose,
            profile=self.profile or revision.setup.profile.name,
            size=self.size,
            author=self.user,
        )
        begin(review)
        for old in self.machine.reviews.order_by("-pk")[KEPT:]:
            if not is_running(old) and not self._comes(old):
                forget(old)
                old.delete()
        return review

    @staticmethod
    def _comes(review: Review) -> bool:
        """Whether its text is on its way still: nobody else's review takes its place."""
        return review.state == Review.State.SENDING and timezone.now() - review.started < SENDING_WITHIN

    def noted(self, outcome: Review) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"file": self.file, "purpose": self.purpose, "bytes": self.size}


@dataclass(slots=True)
class AddPiece(Action[Review]):
    """The next piece of a text; with the last one it is run."""

    name: ClassVar[str] = "add to program"
    user: User
    machine: Machine
    number: int
    at: int
    text: str

    def execute(self) -> Review:
        review = self.machine.reviews.get(pk=self.number)
        if review.author_id != self.user.pk or review.state != Review.State.SENDING:
            raise InputError.at("/number", "This program takes no more text. Open it again.")
        path, content = text_of(review), self.text.encode(errors="replace")
        if not path.exists():
            raise TextGone(review.file)
        there = path.stat().st_size
        if self.at != there:
            raise InputError.at(
                "/at", f"{there} bytes of this program are here; the next piece begins there, not at {self.at}."
            )
        if there + len(content) > review.size:
            raise InputError.at("/text", f"{review.file} was said to have {review.size} bytes; this is more.")
        added(review, there, content)
        if there + len(content) == review.size:
            review.digest, review.state = complete(review), Review.State.RUNNING
            review.save(update_fields=["state", "digest"])
        return review

    def noted(self, outcome: Review) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, None


@dataclass(slots=True)
class EndReview(Action[Review]):
    """Cancel a review that comes or runs; stopping what runs is :mod:`shop.reviews.running`'s."""

    name: ClassVar[str] = "cancel review"
    user: User
    machine: Machine
    number: int

    def execute(self) -> Review:
        review: Review = self.machine.reviews.get(pk=self.number)
        if review.state == Review.State.SENDING:
            review.state = Review.State.CANCELLED
            review.save(update_fields=["state"])
        return review

    def noted(self, outcome: Review) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"review": outcome.pk}
