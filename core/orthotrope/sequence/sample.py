"""A short program that uses what a control profile can do, to see it written while the profile is edited."""

from collections.abc import Iterator

from orthotrope.sequence.positions import KNOWN_STATE
from orthotrope.sequence.steps import (
    Choose,
    Compute,
    Dwell,
    Label,
    Move,
    Remark,
    Say,
    Sequence,
    SetLength,
    SetModes,
    SetOffset,
    Spindle,
    Step,
    Stop,
    Switch,
    Touch,
)
from orthotrope.sequence.values import Binary, Number, length, parameter
from orthotrope.setup.control import ControlProfile

WAITS = 50
"""Most turns of a loop that waits for an input."""


def sample(profile: ControlProfile) -> Sequence:
    """Moves, a touch that sets an offset, a wait for input 1, an output, a message and a stop, as far as the profile
    goes."""
    return Sequence(f"a sample for {profile.name}", tuple(_steps(profile)))


def _steps(profile: ControlProfile) -> Iterator[Step]:
    known = profile.parameters
    yield SetModes(KNOWN_STATE, "a known state")
    yield Spindle("stop")
    yield Move((("Z", length(-1.0)),), note="up")
    yield Move((("X", length(127.5)), ("Y", length(63.5))), note="over the plate")
    yield Switch("open the grip")
    if profile.wait == "loop":
        turns = known.working_first
        yield Remark("wait for input 1")
        yield Compute(turns, Number(0))
        yield Label(10)
        yield Choose(Binary("EQ", parameter(known.input_first + 1), Number(1)), 20, "it is made")
        yield Dwell(Number(profile.wait_pause))
        yield Compute(turns, Binary("+", parameter(turns), Number(1)))
        yield Choose(Binary("LT", parameter(turns), Number(WAITS)), 10)
        yield Say("Input 1 did not come")
        yield Stop("pause")
        yield Label(20)
    else:
        yield Dwell(Number(0.5), "time for the grip: this control can't wait for an input")
    yield Switch("close the grip")
    touching = profile.touch_stops if profile.touch_stops is not None else profile.touch_goes_on
    if touching is None:
        yield Remark("this control has no touching move")
    else:
        yield Touch((("Z", length(-20.0)),), length(120.0), profile.touch_stops is not None, "the plate")
        yield from _offset(profile)
    if profile.length_word != "entry card":
        yield SetLength(Number(1), length(61.35), "length of T1")
    yield Say("The plate can be taken off")
    yield Stop("pause")
    yield Stop("end")


def _offset(profile: ControlProfile) -> Iterator[Step]:
    """Z of work offset 1 from the touch, the plate being 12.7 mm thick."""
    known = profile.parameters
    thick = length(12.7)
    if profile.offset_word == "G10 L20":
        yield SetOffset(1, (("Z", thick),), True, "the plate's thickness")
    elif profile.offset_word == "G10 L2" and profile.arithmetic and profile.latched != "none":
        top = Binary("-", parameter(known.latched_first + 2), thick)
        if profile.latched == "part":
            top = Binary("+", top, parameter(5223))
        yield SetOffset(1, (("Z", top),), False, "latched less the plate's thickness")
    else:
        yield Remark("the offset is worked out from the reading and keyed in by the entry card")
