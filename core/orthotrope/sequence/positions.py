"""The way to a stored position."""

from orthotrope.sequence.steps import Dwell, Move, Remark, Sequence, SetModes, Spindle, Step, Stop
from orthotrope.sequence.values import Number, length
from orthotrope.setup import Setup
from orthotrope.setup.positions import way_there

KNOWN_STATE = (Number(21, "unit"), *(Number(code) for code in (17, 90, 94, 40, 80)))
"""The control's unit, XY, absolute, per minute, no compensation of the cutter, no canned cycle."""

NO_LENGTH = Number(49)
"""No length in force: where what is latched, or an exchange, would have one in it."""


SPIN_MARGIN = 1.25
"""Factor on a device's time, for a dwell that must not end early."""


def stand_still(setup: Setup) -> tuple[Step, Step]:
    """Stop the spindle and stay until it stands, whatever speed it was called with."""
    seconds = setup.machine.spindle.seconds_to_speed * SPIN_MARGIN
    return Spindle("stop"), Dwell(Number(max(0.1, seconds)), "until it stands")


def plan_way(setup: Setup, name: str) -> Sequence:
    """The steps to the stored position of this name, by way of those that are gone to before it.

    Raises:
        InputError: where there is none of that name.
    """
    way = way_there(setup.positions, name)
    moves = []
    for position in way:
        for move in position.moves:
            axes = tuple((axis, length(value)) for axis, value in move.axes)
            moves.append(Move(axes, note=position.name if move is position.moves[-1] else ""))
    use = Remark(f"for: {way[-1].use}")
    return Sequence(
        f"{setup.machine.name}: to {name}",
        (use, SetModes(KNOWN_STATE, "a known state"), *stand_still(setup), *moves, Stop("end")),
    )
