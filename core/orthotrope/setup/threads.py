"""Standard threads of collet nuts (ISO 965 fine pitches) with the sizes that go with them; a Setup can add its own."""

from functools import cache
from importlib import resources
from typing import Annotated

from pydantic import Field

from orthotrope.setup.machine import Name
from orthotrope.validation import PositiveLength, Record, Speed, parse, read_json


class Thread(Record):
    """One size: ``lead``, ``engaged_length`` and the nut's and hole's diameters, mm; ``speed_cap``, rev/min: turning
    faster against the pocket's flats would tighten the nut too hard."""

    name: Name
    lead: PositiveLength
    engaged_length: PositiveLength
    nut_diameter: PositiveLength
    hole_diameter: PositiveLength
    speed_cap: Speed


class _Library(Record):
    threads: Annotated[list[Thread], Field(min_length=1)]


@cache
def shipped_threads() -> list[Thread]:
    """The threads that come with Orthotrope."""
    text = (resources.files("orthotrope.setup") / "threads.json").read_text(encoding="utf-8")
    return parse(_Library, {"threads": read_json(text)}).threads
