"""Control profiles: what a control can do, as data, never by a maker's name."""

from functools import cache
from importlib import resources
from typing import Annotated, Literal

from pydantic import Field

from orthotrope.errors import InputError
from orthotrope.setup.machine import Name
from orthotrope.validation import Record, parse, read_json

Parameter = Annotated[int, Field(ge=1, le=99_999)]


class Parameters(Record):
    """The numbered parameters through which a control tells a program what it needs to know."""

    touch_made: Parameter
    latched_first: Parameter
    called_at_first: Parameter
    called_unit: Parameter
    called_distance: Parameter
    input_first: Parameter
    record: Parameter
    record_doubtful: Parameter
    exchange_from: Parameter
    exchange_to: Parameter
    working_first: Parameter


class ControlProfile(Record):
    """What a control can do. ``unit`` and the normal state (absolute, XY, per minute) are what a program may leave;
    ``dwell_seconds`` is one unit of a dwell's P in seconds."""

    name: Name
    description: str
    arithmetic: bool
    conditions: bool
    record: Literal["parameter", "entry card"]
    unit: Literal["mm", "inch"]
    decimals: Annotated[int, Field(ge=0, le=8)]
    dwell_seconds: Annotated[float, Field(gt=0)]
    file_ending: Annotated[str, Field(pattern=r"^\.[a-z0-9]{1,8}$")]
    g_words: list[float]
    m_words: list[int]
    parameters: Parameters


@cache
def shipped_profiles() -> dict[str, ControlProfile]:
    """The control profiles that come with Orthotrope, by name."""
    found = {}
    for file in sorted((resources.files("orthotrope.setup") / "profiles").iterdir(), key=lambda entry: entry.name):
        profile = parse(ControlProfile, read_json(file.read_text(encoding="utf-8")))
        found[profile.name] = profile
    return found


def find_profile(name: str) -> ControlProfile:
    """The profile of this name.

    Raises:
        InputError: that lists the names there are.
    """
    profiles = shipped_profiles()
    if name not in profiles:
        known = ", ".join(f'"{known}"' for known in profiles)
        raise InputError.at("/profile", f'`profile` must be one of {known}; got "{name}".')
    return profiles[name]
