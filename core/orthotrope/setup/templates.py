"""Where one starts: a bare machine, and a rack on it, with numbers from the middle of the usual ranges (see trade.md)."""

from orthotrope.setup.changer import Heights, Rack
from orthotrope.setup.datum import PocketDatum
from orthotrope.setup.document import Setup
from orthotrope.setup.machine import Axes, Axis, Machine, Spindle
from orthotrope.setup.styles import Coupling, ThreadOn
from orthotrope.setup.surround import WorkOffset


def bare_setup(name: str) -> Setup:
    """A machine of three axes with nothing on it; Z zero is at the top."""
    return Setup(
        format="orthotrope-setup",
        version=1,
        machine=Machine(
            name=name,
            unit="mm",
            profile="parametric",
            axes=Axes(
                X=Axis(least=0.0, greatest=600.0, home="least", rapid=8000.0, acceleration=500.0, resolution=0.01),
                Y=Axis(least=0.0, greatest=900.0, home="least", rapid=8000.0, acceleration=500.0, resolution=0.01),
                Z=Axis(least=-150.0, greatest=0.0, home="greatest", rapid=4000.0, acceleration=300.0, resolution=0.01),
            ),
            spindle=Spindle(least_speed=500.0, greatest_speed=18000.0, seconds_to_speed=3.0, nose_diameter=22.0,
                            nose_length=35.0, body_diameter=80.0, body_length=150.0),
        ),
        work_offsets=[WorkOffset(number=1, x=100.0, y=100.0, z=-140.0)],
    )  # fmt: skip


def thread_on_rack(setup: Setup) -> ThreadOn:
    """A thread-on rack of six pockets along X at the back of the travel, to be measured and corrected."""
    axes = setup.machine.axes
    count, pitch = 6, 50.0
    return ThreadOn(
        style="thread-on",
        rack=Rack(
            datum=PocketDatum(
                at="pocket",
                pocket=1,
                x=round((axes.X.soft_least + axes.X.soft_greatest - (count - 1) * pitch) / 2, 3),
                y=round(axes.Y.soft_greatest - 60.0, 3),
            ),
            bearing_deg=0.0,
            pitch=pitch,
            count=count,
            width=50.0,
            end=30.0,
            height=40.0,
            top_below_nose=4.0,
        ),
        heights=Heights(touch_z=round(axes.Z.soft_least + 30.0, 3), recess=0.0, hover_gap=14.0,
                        stored_top_z=round(axes.Z.soft_least + 40.0, 3), margin=10.0, pocket_depth=80.0,
                        park_z=round(axes.Z.soft_greatest - 1.0, 3), planned_longest=60.0),
        coupling=Coupling(lead=1.5, speed=1000.0, feed=1500.0, engaged_length=9.0, speed_cap=1800.0, lift_allowed=0.5,
                          nut_diameter=28.0, hole_diameter=20.0, flats_height=5.0, dwell=0.6),
    )  # fmt: skip
