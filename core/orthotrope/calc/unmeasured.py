"""What a machine can be off by where nobody has measured it: the upper ends of the ranges that its build allows (hardware.md, Ranges)."""

from orthotrope.setup.machine import Axis

FAST_RAPID = 20_000.0
"""mm/min; axes that are faster are those of a machining centre."""

HOME_ROUTER, HOME_CENTRE = 0.1, 0.005
"""mm; two standard deviations of homing."""

TIP_OFF_AXIS = 0.05
"""mm; how far a tip may stand off the spindle's axis that nobody has set true, or turned by half a turn."""

TIP_NOT_QUALIFIED = 0.06
"""mm; how far the effective diameter of a tip may be off its nominal one: pre-travel, and what the tip is made to."""

LOBING = 0.005
"""mm; by how much the radius of a tip in effect differs round the clock."""

LENGTH_TYPED = 0.05
"""mm; half width of a length that has no measured one: read off a scale, or as the maker states it."""


def home_scatter(axis: Axis) -> float:
    """What homing an axis scatters by, two standard deviations, mm: as measured, or as much as such an axis may."""
    if axis.home_scatter is not None:
        return axis.home_scatter
    return HOME_CENTRE if axis.rapid >= FAST_RAPID else HOME_ROUTER
