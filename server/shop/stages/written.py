"""The text of a sequence in every control profile, as the stages that have one show it."""

from collections.abc import Callable
from dataclasses import dataclass

from orthotrope.errors import OrthotropeError
from orthotrope.setup import Setup
from orthotrope.setup.control import ControlProfile

MOST_PLAYED = 20_000
"""Moves of a program that is played; one that makes more is reported as one without an end."""


@dataclass(frozen=True, slots=True)
class WrittenText:
    """The text of a sequence in one control profile; ``text`` null: ``why`` not."""

    profile: str
    file: str
    text: str | None
    why: str = ""


def in_every_profile(
    setup: Setup, named: Callable[[ControlProfile], str], write: Callable[[ControlProfile], str]
) -> list[WrittenText]:
    """What ``write`` makes in each profile, under the name of a file without its ending."""
    texts: list[WrittenText] = []
    for entry in setup.every_profile():
        file = f"{setup.machine.name.lower()}-{named(entry)}{entry.file_ending}".replace(" ", "-")
        try:
            texts.append(WrittenText(entry.name, file, write(entry)))
        except OrthotropeError as failed:
            texts.append(WrittenText(entry.name, file, None, str(failed)))
    return texts
