"""Where the texts of reviewed programs lie: files beside the database, named by their content."""

import hashlib
import os
import time
from contextlib import suppress
from pathlib import Path

from django.conf import settings
from orthotrope.errors import OrthotropeError

from shop.models import Review

MOST_BYTES = 100 * 1024 * 1024
"""Of one text."""


FORGOTTEN = 24 * 3600.0
"""Seconds."""


def folder() -> Path:
    """The folder of the texts; it is as private as the database."""
    path: Path = settings.DATA / "reviews"
    path.mkdir(mode=0o700, exist_ok=True)
    return path


def text_of(review: Review) -> Path:
    """The file of a review's text: by its content once all of it is there, so that it is no other's after a restore; until then by
    the review and when it was begun. One that was stored before texts had digests lies under its number."""
    if review.digest:
        return folder() / f"{review.digest}.nc"
    before = folder() / f"{review.pk}.nc"
    if review.state != Review.State.SENDING and before.exists() and before.stat().st_size == review.size:
        return before
    return folder() / f"{review.pk}-{review.started:%Y%m%d%H%M%S%f}.part"


def complete(review: Review) -> str:
    """All of a text is there: it is kept by its digest, which is returned."""
    part = text_of(review)
    with part.open("rb") as file:
        digest = hashlib.file_digest(file, "sha256").hexdigest()
        os.fsync(file.fileno())
    part.replace(folder() / f"{digest}.nc")
    return digest


def added(review: Review, at: int, content: bytes) -> None:
    """Add a piece to a text that has ``at`` bytes: all of it, or none where the disk is full."""
    path = text_of(review)
    with path.open("r+b", buffering=0) as file:
        file.seek(at)
        try:
            left = memoryview(content)
            while left:
                left = left[file.write(left) :]
        except OSError:
            file.truncate(at)
            raise


def progress_of(number: int) -> Path:
    """The file in which its process says how far it is."""
    return folder() / f"{number}.progress"


class TextGone(OrthotropeError):
    """A review's text lies here no more: a backup has the reviews without their texts."""

    def __init__(self, file: str):
        super().__init__(f"The text of {file} is not on the server any more. Open the file again to review it.")


def begin(review: Review) -> None:
    """An empty text. What is left here of one that never came whole goes, a day later."""
    for part in folder().glob("*.part"):
        if time.time() - part.stat().st_mtime > FORGOTTEN:
            part.unlink(missing_ok=True)
    text_of(review).touch(mode=0o600)


def forget(review: Review) -> None:
    """Take away what lies here of a review, unless another review is of the same text."""
    shared = review.digest and Review.objects.filter(digest=review.digest).exclude(pk=review.pk).exists()
    for path in (progress_of(review.pk), *(() if shared else (text_of(review),))):
        with suppress(FileNotFoundError):
            path.unlink()
