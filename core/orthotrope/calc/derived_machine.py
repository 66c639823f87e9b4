"""What follows from a machine's axes, each number with its working: soft limits, stopping, the time across."""

from orthotrope.calc.crossing import AxisCrossingInput, AxisCrossingOutput, axis_crossing
from orthotrope.calc.derived import Derivation, Term
from orthotrope.setup import Setup
from orthotrope.setup.machine import Axis
from orthotrope.units import with_unit


def crossing(setup: Setup, axis: Axis, kept: bool = False) -> AxisCrossingOutput | None:
    """The axis across its soft limits, with the setting in force or with the one that is ``kept`` beside it (None:
    there is none)."""
    setting = axis.kept if kept else axis
    if setting is None:
        return None
    return axis_crossing(
        AxisCrossingInput(
            travel=axis.soft_greatest - axis.soft_least,
            rapid=setting.rapid,
            acceleration=setting.acceleration,
            latency=setup.machine.latency,
            margin=axis.margin,
        )
    )


def machine_workings(setup: Setup) -> dict[str, Derivation]:
    """Workings by key: ``X_soft_least`` and so on."""
    found: dict[str, Derivation] = {}
    for name, axis in setup.machine.axes.items():
        base = f"/machine/axes/{name}"
        origin = "measured" if axis.measured else "data sheet"
        source = f"{base}/measured" if axis.measured else base
        margin = Term("margin", axis.margin, "mm", f"{base}/margin")
        least = Term(f"{origin}, from", axis.travel.least, "mm", f"{source}/least")
        greatest = Term(f"{origin}, to", axis.travel.greatest, "mm", f"{source}/greatest")
        across = crossing(setup, axis)
        assert across is not None
        rapid = Term("rapid", axis.rapid, "mm/min", f"{base}/rapid")
        acceleration = Term("acceleration", axis.acceleration, "mm/s²", f"{base}/acceleration")
        latency = Term("latency", setup.machine.latency, "s", "/machine/latency")
        more = across.stopping - axis.margin
        fits = "within the margin" if across.stops_in_margin else f"{with_unit(more)} more than the margin"
        found |= {
            f"{name}_soft_least": Derivation(
                f"{name} soft limit, from", axis.soft_least, "mm", "travel from + margin", (least, margin)
            ),
            f"{name}_soft_greatest": Derivation(
                f"{name} soft limit, to", axis.soft_greatest, "mm", "travel to − margin", (greatest, margin)
            ),
            f"{name}_stopping": Derivation(
                f"{name} stops from rapid in",
                across.stopping,
                "mm",
                f"rapid · latency + rapid²/(2 · acceleration); {fits}",
                (rapid, latency, acceleration),
            ),
            f"{name}_seconds": Derivation(
                f"{name} across",
                across.seconds,
                "s",
                "travel/v + v/acceleration, v the speed reached",
                (rapid, acceleration),
            ),
            f"{name}_distance_to_speed": Derivation(
                f"{name} to full speed",
                across.distance_to_speed,
                "mm",
                "v²/(2 · acceleration), v the speed reached",
                (rapid, acceleration),
            ),
        }
    return found
