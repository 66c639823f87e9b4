"""Where one starts: a bare machine, and a changer on it, with numbers from the middle of the usual ranges (see trade.md)."""

from collections.abc import Callable

from orthotrope.errors import InputError
from orthotrope.setup.changer import Grip, Heights, Orientation, Rack
from orthotrope.setup.datum import PocketDatum
from orthotrope.setup.document import Setup
from orthotrope.setup.machine import Axes, Axis, Machine, Spindle
from orthotrope.setup.styles import (
    STYLES,
    Arm,
    ArmDisc,
    ByHand,
    Changer,
    Coupling,
    Disc,
    DropIn,
    ExchangePlace,
    Forks,
    MovingDisc,
    SideEntry,
    ThreadOn,
)
from orthotrope.setup.surround import WorkOffset


def bare_setup(name: str) -> Setup:
    """A machine of three axes with nothing on it; Z zero is at the top."""
    return Setup(
        format="orthotrope-setup",
        version=2,
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


def changer_template(setup: Setup, style: str) -> Changer:
    """A changer of a style, to be measured and corrected: with numbers from the middle of the usual ranges, at the back of the
    travel.

    Raises:
        InputError: where there is no such style.
    """
    made: dict[str, Callable[[Setup], Changer]] = {
        "thread-on": _thread_on, "drop-in": _drop_in, "side-entry": _side_entry, "moving disc": _moving_disc,
        "disc with arm": _arm_disc, "by hand": _by_hand}  # fmt: skip
    if style not in made:
        raise InputError.at("/style", f'`style` must be one of {", ".join(STYLES)}; got "{style}".')
    return made[style](setup)


def _rack(setup: Setup, count: int, pitch: float, width: float, height: float, top: float) -> Rack:
    axes = setup.machine.axes
    x = round((axes.X.soft_least + axes.X.soft_greatest - (count - 1) * pitch) / 2, 3)
    datum = PocketDatum(at="pocket", pocket=1, x=x, y=round(axes.Y.soft_greatest - 60.0, 3))
    return Rack(datum=datum, bearing_deg=0.0, pitch=pitch, count=count, width=width, end=pitch / 2 + 5.0, height=height,
                top_below_nose=top)  # fmt: skip


def _heights(setup: Setup, above_least: float, hover: float, stored: float, depth: float) -> Heights:
    z = setup.machine.axes.Z
    touch = round(z.soft_least + above_least, 3)
    return Heights(touch_z=touch, recess=0.0, hover_gap=hover, stored_top_z=touch + stored, margin=10.0, pocket_depth=depth,
                   park_z=round(z.soft_greatest - 1.0, 3), planned_longest=60.0)  # fmt: skip


GRIP = Grip(knob_height=60.0, holder_diameter=50.0, push_out=0.5, push_out_allowed=1.0, slow_distance=10.0,
            feed=1000.0, reach=0.2, wait=3.0)  # fmt: skip
ORIENTATION = Orientation(angle_deg=0.0, tolerance_deg=1.0, half_turn=False)


def _thread_on(setup: Setup) -> ThreadOn:
    thread = Coupling(lead=1.5, speed=1000.0, feed=1500.0, engaged_length=9.0, speed_cap=1800.0, lift_allowed=0.5,
                      nut_diameter=28.0, hole_diameter=20.0, flats_height=5.0, give=1.0,
                      put_down="rising", dwell=0.6)  # fmt: skip
    return ThreadOn(style="thread-on", rack=_rack(setup, 6, 50.0, 50.0, 40.0, 4.0),
                    heights=_heights(setup, 30.0, 14.0, 10.0, 80.0), coupling=thread)  # fmt: skip


def _drop_in(setup: Setup) -> DropIn:
    return DropIn(style="drop-in", rack=_rack(setup, 6, 80.0, 80.0, 30.0, 6.0), heights=_heights(setup, 60.0, 70.0, 62.0, 90.0),
                  grip=GRIP, hole_diameter=52.0)  # fmt: skip


def _side_entry(setup: Setup) -> SideEntry:
    forks = Forks(mouth_deg=-90.0, lead_in=60.0, feed=1500.0, groove_diameter=42.0, groove_below=10.0, groove_width=6.0,
                  thickness=5.0, tine_width=8.0, tine_reach=10.0)  # fmt: skip
    return SideEntry(style="side-entry", rack=_rack(setup, 6, 80.0, 30.0, 40.0, 20.0), grip=GRIP, forks=forks,
                     heights=_heights(setup, 60.0, 70.0, 62.0, 150.0), orientation=ORIENTATION)  # fmt: skip


def _place(setup: Setup) -> ExchangePlace:
    axes = setup.machine.axes
    return ExchangePlace(x=round(axes.X.soft_least + 20.0, 3), y=round((axes.Y.soft_least + axes.Y.soft_greatest) / 2, 3))


def _disc(count: int, radius: float) -> Disc:
    return Disc(count=count, radius=radius, bearing_deg=0.0, sense="cw", way="shorter", turn_word="M44", seconds_per_step=0.4)


def _moving_disc(setup: Setup) -> MovingDisc:
    return MovingDisc(style="moving disc", disc=_disc(16, 220.0), exchange=_place(setup), grip=GRIP, orientation=ORIENTATION,
                      heights=_heights(setup, 70.0, 70.0, 62.0, 200.0), swing=180.0)  # fmt: skip


def _arm_disc(setup: Setup) -> ArmDisc:
    arm = Arm(reach=280.0, stroke=90.0, tools="change pockets")
    return ArmDisc(style="disc with arm", disc=_disc(16, 220.0), exchange=_place(setup), grip=GRIP, orientation=ORIENTATION,
                   heights=_heights(setup, 100.0, 70.0, 62.0, 250.0), arm=arm)  # fmt: skip


def _by_hand(setup: Setup) -> ByHand:
    axes = setup.machine.axes
    return ByHand(style="by hand", x=round((axes.X.soft_least + axes.X.soft_greatest) / 2, 3), y=round(axes.Y.soft_least + 20.0, 3),
                  z=round(axes.Z.soft_greatest - 2.0, 3), order=["Z", "Y", "X"], room=120.0)  # fmt: skip
