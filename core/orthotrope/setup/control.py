"""Control profiles: what a control can do, as data, never by a maker's name."""

from collections.abc import Sequence
from functools import cache
from importlib import resources
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from orthotrope.errors import Fault, InputError
from orthotrope.setup.machine import Name
from orthotrope.units import MM_PER_INCH
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
    pockets_first: Parameter = 500
    exchange_from: Parameter
    exchange_to: Parameter
    working_first: Parameter


Word = Annotated[str, Field(pattern=r"^[GM][0-9]{1,3}(\.[0-9])?$")]


class ControlProfile(Record):
    """What a control can do.

    ``touch_stops``, ``touch_goes_on``: the G words of a touching move that stops at a miss, or goes on; None: it has
    none. ``latched``: in which coordinates the touched position is found. ``offset_word``, ``length_word``: how a
    program sets a work offset and a tool's length. ``wait``: whether a program can wait for an input, in a loop of
    dwells of ``wait_pause`` seconds. ``unit`` and the normal state (absolute, XY, per minute) are what a program may
    leave; ``dwell_seconds`` is one unit of a dwell's letter in seconds. ``line_numbers``: the step of the N words; 0:
    none. ``exchange_call``: how a job calls the exchange."""

    name: Name
    description: Annotated[str, Field(max_length=200)]
    arithmetic: bool
    conditions: bool
    record: Literal["parameter", "entry card"]
    touch_stops: float | None
    touch_goes_on: float | None
    latched: Literal["part", "machine", "none"]
    offset_word: Literal["G10 L2", "G10 L20", "entry card"]
    length_word: Literal["G10 L1", "entry card"]
    grip_close: Word
    grip_open: Word
    orient: Word
    wait: Literal["loop", "none"]
    wait_pause: Annotated[float, Field(gt=0, le=10, json_schema_extra={"unit": "s"})]
    message: Literal["remark", "none"]
    pause: Word
    end: Word
    back: Word
    unit: Literal["mm", "inch"]
    decimals: Annotated[int, Field(ge=0, le=8)]
    trailing_zeros: bool
    line_numbers: Annotated[int, Field(ge=0, le=100)]
    percent_signs: bool
    dwell_letter: Literal["P", "X"]
    dwell_seconds: Annotated[float, Field(gt=0)]
    file_ending: Annotated[str, Field(pattern=r"^\.[a-z0-9]{1,8}$")]
    exchange_call: Literal["T M6", "G65"]
    exchange_program: Annotated[int, Field(ge=1, le=99_999)]
    g_words: list[float]
    m_words: list[int]
    parameters: Parameters

    @model_validator(mode="after")
    def _fits_together(self) -> "ControlProfile":
        faults = []
        if self.conditions and not self.arithmetic:
            faults.append(
                Fault(
                    "/conditions",
                    "`conditions` need arithmetic: a condition compares parameters; switch "
                    "arithmetic on, or conditions off.",
                )
            )
        if self.record == "parameter" and not self.arithmetic:
            faults.append(Fault("/record", "`record` in a parameter needs arithmetic; keep it on the entry card."))
        if self.wait == "loop" and not self.conditions:
            faults.append(Fault("/wait", "`wait` in a loop needs conditions; switch them on, or take none."))
        for field in ("touch_stops", "touch_goes_on"):
            word = getattr(self, field)
            if word is not None and word not in self.g_words:
                faults.append(
                    Fault(f"/{field}", f"`{field}` G{word:g} is not among the G words of this profile; add it there.")
                )
        for field in ("grip_close", "grip_open", "orient", "pause", "end", "back"):
            word = getattr(self, field)
            known = self.g_words if word[0] == "G" else self.m_words
            if float(word[1:]) not in known:
                faults.append(
                    Fault(
                        f"/{field}", f"`{field}` {word} is not among the {word[0]} words of this profile; add it there."
                    )
                )
        if faults:
            raise InputError(faults)
        return self

    @property
    def last_decimal(self) -> float:
        """What a length is rounded to in its texts, mm."""
        return float(10.0**-self.decimals * (MM_PER_INCH if self.unit == "inch" else 1.0))


@cache
def shipped_profiles() -> dict[str, ControlProfile]:
    """The control profiles that come with Orthotrope, by name."""
    found = {}
    for file in sorted((resources.files("orthotrope.setup") / "profiles").iterdir(), key=lambda entry: entry.name):
        profile = parse(ControlProfile, read_json(file.read_text(encoding="utf-8")))
        found[profile.name] = profile
    return found


def find_profile(name: str, own: Sequence[ControlProfile] = ()) -> ControlProfile:
    """The profile of this name, shipped or among a Setup's ``own``.

    Raises:
        InputError: that lists the names there are.
    """
    profiles = {**shipped_profiles(), **{profile.name: profile for profile in own}}
    if name not in profiles:
        known = ", ".join(f'"{known}"' for known in profiles)
        raise InputError.at("/profile", f'`profile` must be one of {known}; got "{name}".')
    return profiles[name]


def read_profile(source: str | bytes | dict[str, Any]) -> ControlProfile:
    """A control profile from its file or decoded JSON.

    Raises:
        InputError: with every fault and its JSON pointer.
    """
    return parse(ControlProfile, read_json(source) if isinstance(source, str | bytes) else source)
