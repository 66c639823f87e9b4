"""The height ladder of a changer whose pockets the spindle visits from above."""

from orthotrope.calc.registry import Result, calculation
from orthotrope.validation import Distance, Length, PositiveLength, Record


class HeightLadderInput(Record):
    touch_z: Length
    recess: Distance
    hover_gap: Distance
    stored_top_z: Length
    longest_tool: PositiveLength
    margin: Distance
    z_top: Length
    pocket_depth: Distance


class HeightLadderOutput(Result):
    couple_z: Length
    hover_z: Length
    empty_z: Length
    carry_z: Length
    carry_possible: bool
    riser: Distance


@calculation("height-ladder", "couple, hover, empty and carry height of a changer, and the riser it needs")
def height_ladder(data: HeightLadderInput) -> HeightLadderOutput:
    """Machine Z of the nose (the gauge line here) on each rung of the ladder, mm.

    couple = touch − recess; hover = couple + gap; empty = stored top + margin; carry = stored top + longest tool +
    margin, possible where it is no higher than ``z_top``; riser = what the rack must be raised so that the longest tool
    fits below a coupled nose (0: it fits). From the geometry of nose, nut and rack.
    """
    couple = data.touch_z - data.recess
    carry = data.stored_top_z + data.longest_tool + data.margin
    return HeightLadderOutput(
        couple_z=couple,
        hover_z=couple + data.hover_gap,
        empty_z=data.stored_top_z + data.margin,
        carry_z=carry,
        carry_possible=carry <= data.z_top,
        riser=max(0.0, data.longest_tool - data.pocket_depth),
    )
