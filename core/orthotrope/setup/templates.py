"""Where one starts: a bare machine, and a changer on it, with numbers from the middle of the usual ranges (see
hardware.md)."""

from orthotrope.setup.changer import CHANGERS, Changer
from orthotrope.setup.document import Setup
from orthotrope.setup.machine import Axes, Axis, Machine, Spindle
from orthotrope.setup.migrations import VERSION
from orthotrope.setup.surround import WorkOffset


def bare_setup(name: str) -> Setup:
    """A machine of three axes with nothing on it; Z zero is at the top."""
    return Setup(
        format="orthotrope-setup",
        version=VERSION,
        machine=Machine(
            name=name,
            unit="mm",
            profile="parametric",
            axes=Axes(
                X=Axis(least=0.0, greatest=600.0, home="least", rapid=8000.0, acceleration=500.0, resolution=0.01),
                Y=Axis(least=0.0, greatest=900.0, home="least", rapid=8000.0, acceleration=500.0, resolution=0.01),
                Z=Axis(least=-150.0, greatest=0.0, home="greatest", rapid=4000.0, acceleration=300.0, resolution=0.01),
            ),
            spindle=Spindle(
                least_speed=500.0,
                greatest_speed=18000.0,
                seconds_to_speed=3.0,
                nose_diameter=22.0,
                nose_length=35.0,
                body_diameter=80.0,
                body_length=150.0,
            ),
        ),
        work_offsets=[WorkOffset(number=1, x=100.0, y=100.0, z=-140.0)],
    )


def changer_template(setup: Setup, style: str) -> Changer:
    """A changer of a style, to be measured and corrected: with numbers from the middle of the usual ranges, at the back
    of the travel.

    Raises:
        InputError: where there is no such style.
    """
    return CHANGERS.find(style, "/style").template(setup.machine)
