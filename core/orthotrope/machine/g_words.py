"""G words that set a mode: one function for each group of RS-274 (NISTIR 6556, table 5), found by the word."""

import math
from collections.abc import Callable, Iterable

from orthotrope.machine.memory import ControlMemory
from orthotrope.program.faults import RunFault
from orthotrope.program.words import WORK_OFFSET_OF
from orthotrope.setup.numbering import ACTIVE_OFFSET

SetMode = Callable[[ControlMemory, float, dict[str, float]], None]
"""Takes the word and the other words of its block; those that are its own it takes out of them."""

MODE_WORDS: dict[float, SetMode] = {}
"""By the word's number, how it sets its mode; motion modes are the control's own."""

MOTION_WORDS = frozenset({0, 1, 2, 3})
"""Motion modes of every control, beside canned cycles (80 to 89); touching moves are the profile's."""


def _sets(*codes: float) -> Callable[[SetMode], SetMode]:
    def register(function: SetMode) -> SetMode:
        MODE_WORDS.update(dict.fromkeys(codes, function))
        return function

    return register


def _plain(field: str, codes: Iterable[int]) -> None:
    """Words that are kept as they are, in a field of the modes."""

    def keep(memory: ControlMemory, code: float, values: dict[str, float]) -> None:
        setattr(memory.modes, field, int(code))

    _sets(*codes)(keep)


_plain("plane", (17, 18, 19))
_plain("distance", (90, 91))
_plain("feed_mode", (93, 94))
_plain("cutter", (40, 41, 42))
_plain("return_level", (98, 99))


@_sets(20, 21)
def _unit(memory: ControlMemory, code: float, values: dict[str, float]) -> None:
    if memory.unit_first is None:
        memory.unit_first = not (memory.unit_used or memory.parameters.unit_met)
    memory.modes.unit = int(code)
    memory.parameters.inch = code == 20


@_sets(43)
def _length(memory: ControlMemory, code: float, values: dict[str, float]) -> None:
    modes, number = memory.modes, round(values.get("H", memory.machine.tool))
    if number not in memory.lengths and number != 0:
        raise RunFault(f"There is no length offset H{number}.")
    modes.length_mode, modes.length = 43, memory.lengths.get(number, 0.0)
    modes.length_old, modes.length_number = "", number
    memory.machine.journal.event("length-active", tool=number, length=modes.length)
    memory.offset = memory.offset_now()


@_sets(61, 61.1, 64)
def _path(memory: ControlMemory, code: float, values: dict[str, float]) -> None:
    """Each move is run to its standstill, which is exact stop (G61.1)."""
    if code == 64:
        memory.not_simulated("blending (G64); each move is run to a standstill, so that the time is longer")


@_sets(49)
def _no_length(memory: ControlMemory, code: float, values: dict[str, float]) -> None:
    memory.modes.length_mode, memory.modes.length = 49, 0.0
    memory.modes.length_old = ""
    memory.offset = memory.offset_now()


@_sets(*WORK_OFFSET_OF)
def _work_offset(memory: ControlMemory, code: float, values: dict[str, float]) -> None:
    memory.modes.work_offset = WORK_OFFSET_OF[code]
    memory.parameters.values[ACTIVE_OFFSET] = memory.modes.work_offset
    memory.offset = memory.offset_now()


@_sets(68)
def _rotation(memory: ControlMemory, code: float, values: dict[str, float]) -> None:
    modes = memory.modes
    modes.rotation = 68
    modes.turned = (
        values.pop("X", 0.0) * modes.scale,
        values.pop("Y", 0.0) * modes.scale,
        math.radians(values.pop("R", 0.0)),
    )
    x, y, turn = modes.turned
    memory.machine.journal.event("turned", x=x, y=y, degrees=math.degrees(turn), active=modes.work_offset)


@_sets(69)
def _no_rotation(memory: ControlMemory, code: float, values: dict[str, float]) -> None:
    memory.modes.rotation, memory.modes.turned = 69, (0.0, 0.0, 0.0)
