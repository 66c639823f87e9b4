"""Where the texts of reviewed programs lie: files beside the database, named by the review's number."""

from contextlib import suppress
from pathlib import Path

from django.conf import settings
from orthotrope.errors import OrthotropeError

MOST_BYTES = 100 * 1024 * 1024
"""Of one text."""


def folder() -> Path:
    """The folder of the texts; it is as private as the database."""
    path: Path = settings.DATA / "reviews"
    path.mkdir(mode=0o700, exist_ok=True)
    return path


def text_of(number: int) -> Path:
    """The file of a review's text."""
    return folder() / f"{number}.nc"


def told_of(number: int) -> Path:
    """The file in which its process says how far it is."""
    return folder() / f"{number}.told"


class TextGone(OrthotropeError):
    """A review's text lies here no more: a backup has the reviews without their texts."""

    def __init__(self, file: str):
        super().__init__(f"The text of {file} is not on the server any more. Open the file again to review it.")


def begin(number: int) -> None:
    """An empty text; what lay here under this number is of another database."""
    forget(number)
    text_of(number).touch(mode=0o600)


def forget(number: int) -> None:
    """Take away what lies here of a review."""
    for path in (text_of(number), told_of(number)):
        with suppress(FileNotFoundError):
            path.unlink()
