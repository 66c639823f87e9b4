"""What is worked out of whole documents for someone who waits."""

from dataclasses import dataclass
from typing import Any

from orthotrope.proof.starting import MACHINE_KINDS, started
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.changes import Conflict, merge

from shop.job import answers


@dataclass(frozen=True, slots=True)
class Merged:
    """``left``: values that were changed otherwise in between; they stand as they are."""

    document: Setup
    left: list[Conflict]


@answers(Merged)
def merged(theirs: dict[str, Any], base: dict[str, Any], mine: dict[str, Any]) -> Merged:
    """What ``mine`` has other than ``base``, in ``theirs``; what was changed otherwise in between is left as it is and
    reported."""
    began, ours, stored = (read_setup(each).as_json() for each in (base, mine, theirs))
    document, left = merge(began, ours, stored)
    return Merged(read_setup(document), left)


def checked(source: bytes | dict[str, Any]) -> dict[str, Any]:
    """A Setup file, read: its document in the present version."""
    return read_setup(source).as_json()


def begun(name: str, kind: str, unit: str, travel: list[float] | None, style: str) -> dict[str, Any]:
    """The document of a machine to begin with; ``travel`` None: what is usual for its kind."""
    x, y, z = travel or MACHINE_KINDS.find(kind, "/kind").travel
    return started(name, kind, unit, (x, y, z), style).as_json()
