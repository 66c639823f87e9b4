"""The machine: its axes and its spindle."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotrope.errors import Fault, InputError
from orthotrope.units import in_unit, with_unit
from orthotrope.validation import Acceleration, Distance, Feed, Length, PositiveLength, Record, Seconds

Name = Annotated[str, Field(min_length=1, max_length=80)]
AxisName = Literal["X", "Y", "Z"]
AXES: tuple[AxisName, ...] = ("X", "Y", "Z")


class Travel(Record):
    """From one end stop to the other, machine coordinates, mm."""

    least: Length
    greatest: Length

    @model_validator(mode="after")
    def _in_order(self) -> "Travel":
        _ordered(self.least, self.greatest)
        return self


class MotionSetting(Record):
    """A setting of an axis kept beside the one in force, to judge a tuning by."""

    rapid: Feed
    acceleration: Acceleration


class Axis(Record):
    """One linear axis, machine coordinates, mm. ``least`` to ``greatest`` is the travel of the data sheet, ``measured``
    what there is; ``home`` the switch's side. The soft limits are ``margin`` inside the travel. ``home_scatter`` and
    ``backlash`` as measured (two standard deviations; the whole play); None: not measured."""

    least: Length
    greatest: Length
    home: Literal["least", "greatest"]
    rapid: Feed
    acceleration: Acceleration
    resolution: PositiveLength
    measured: Travel | None = None
    margin: Distance = 0.0
    home_scatter: Distance | None = None
    backlash: Distance | None = None
    kept: MotionSetting | None = None

    @model_validator(mode="after")
    def _travel(self) -> "Axis":
        _ordered(self.least, self.greatest)
        room = self.travel.greatest - self.travel.least
        if 2 * self.margin >= room:
            raise InputError.at(
                "/margin",
                f"`margin` must be below {with_unit(room / 2)}, half of the travel; got {in_unit(self.margin)}.",
            )
        return self

    @property
    def travel(self) -> Travel:
        """The travel that counts: as measured, or the data sheet's while it isn't measured."""
        return self.measured or Travel.model_construct(least=self.least, greatest=self.greatest)

    @property
    def soft_least(self) -> float:
        return self.travel.least + self.margin

    @property
    def soft_greatest(self) -> float:
        return self.travel.greatest - self.margin

    @property
    def home_at(self) -> float:
        """Where the axis stands after homing: at the soft limit on the switch's side."""
        return self.soft_least if self.home == "least" else self.soft_greatest


def _ordered(least: float, greatest: float) -> None:
    if greatest <= least:
        raise InputError.at(
            "/greatest", f"`greatest` must be above `least`, {with_unit(least)}; got {in_unit(greatest)}."
        )


class Axes(Record):
    """The linear axes by name. The letters are the document's; code asks for all of them in their order, or for what an
    axis does: those ``across``, which make the plan, and the ``upright`` one, along the spindle. Axes that turn are to
    be a list beside these."""

    X: Axis
    Y: Axis
    Z: Axis

    def __getitem__(self, axis: AxisName) -> Axis:
        found: Axis = getattr(self, axis)
        return found

    def items(self) -> tuple[tuple[AxisName, Axis], ...]:
        """Names and axes, in the order of a position's numbers."""
        return tuple((name, self[name]) for name in AXES)

    @property
    def across(self) -> tuple[Axis, Axis]:
        return self.X, self.Y

    @property
    def upright(self) -> Axis:
        return self.Z


class Spindle(Record):
    """Speeds in rev/min; ``seconds_to_speed`` from standing to the greatest. The nose is the cylinder above the gauge
    line, the body the wider one above it; lengths upwards."""

    least_speed: Annotated[float, Field(ge=0, json_schema_extra={"unit": "rev/min"})]
    greatest_speed: Annotated[float, Field(gt=0, json_schema_extra={"unit": "rev/min"})]
    seconds_to_speed: Seconds
    nose_diameter: PositiveLength
    nose_length: PositiveLength
    body_diameter: PositiveLength
    body_length: PositiveLength

    @model_validator(mode="after")
    def _speeds(self) -> "Spindle":
        if self.greatest_speed <= self.least_speed:
            raise InputError(
                [
                    Fault(
                        "/greatest_speed",
                        f"`greatest_speed` must be above `least_speed`, "
                        f"{self.least_speed:g} rev/min; got {self.greatest_speed:g}.",
                    )
                ]
            )
        return self


class Machine(Record):
    """``homing_order``: the axes in the order in which they go home. ``latency``: seconds from a signal to the
    control's answer. ``least_clearance``: what passes something else by less is reported, mm; 0: only what touches."""

    name: Name
    description: Annotated[str, Field(max_length=200)] = ""
    unit: Literal["mm", "inch"]
    profile: Name
    axes: Axes
    spindle: Spindle
    homing_order: list[AxisName] = ["Z", "X", "Y"]
    latency: Seconds = 0.004
    least_clearance: Distance = 1.0

    @model_validator(mode="after")
    def _each_axis_once(self) -> "Machine":
        if sorted(self.homing_order) != sorted(AXES):
            raise InputError.at(
                "/homing_order",
                f"`homing_order` must hold X, Y and Z once each; got {', '.join(self.homing_order) or 'none'}.",
            )
        return self
