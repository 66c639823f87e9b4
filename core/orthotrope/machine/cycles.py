"""Canned cycles G81 to G89 as the moves they stand for (NISTIR 6556, 3.5.16), in the XY plane."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from orthotrope.program.faults import RunFault

MOST_PECKS = 2000
"""A cycle with more pecks is a slip of the pen."""

ABOVE_PECK = 0.25
"""mm; a peck begins this much above where the one before ended."""

DWELLING = (82, 86, 88, 89)
FEEDING_UP = (85, 89)


@dataclass(frozen=True, slots=True)
class CycleMove:
    """To this place at feed or rapid; ``wait``: stay there for the cycle's P instead."""

    kind: Literal["rapid", "feed", "wait"]
    x: float = 0.0
    y: float = 0.0
    z: float = 0.0


def cycle_moves(
    cycle: float,
    here: tuple[float, float, float],
    x: float,
    y: float,
    clear: float,
    deep: float,
    peck: float,
    back_to_start: bool,
) -> Iterator[CycleMove]:
    """One hole: from ``here`` over (x, y), down to ``clear`` (R) and on to ``deep`` (Z), machine mm, in pecks of
    ``peck`` for G83, and up again, to where it came from with ``back_to_start`` (G98).

    Raises:
        RunFault: where R is below Z, or there are too many pecks.
    """
    if deep > clear:
        raise RunFault("The canned cycle's R is below its Z.")
    start = here[2]
    if start < clear:
        yield CycleMove("rapid", here[0], here[1], clear)
    yield CycleMove("rapid", x, y, max(start, clear))
    yield CycleMove("rapid", x, y, clear)
    if cycle == 83 and peck > 0:
        if (clear - deep) / peck > MOST_PECKS:
            raise RunFault(f"The cycle would peck more than {MOST_PECKS} times; is Q meant?")
        depth = clear
        while depth - peck > deep:
            depth -= peck
            yield CycleMove("feed", x, y, depth)
            yield CycleMove("rapid", x, y, clear)
            yield CycleMove("rapid", x, y, min(clear, depth + ABOVE_PECK))
    yield CycleMove("feed", x, y, deep)
    if cycle in DWELLING:
        yield CycleMove("wait")
    if cycle in FEEDING_UP:
        yield CycleMove("feed", x, y, clear)
    yield CycleMove("rapid", x, y, max(start, clear) if back_to_start else clear)
