"""The style's own section of the Setup."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotrope.errors import Fault, InputError
from orthotrope.setup.changer import CHANGERS, RackChanger, template_heights, template_rack
from orthotrope.setup.machine import Machine
from orthotrope.units import in_unit, with_unit
from orthotrope.validation import Distance, Feed, Length, PositiveLength, Record, Speed


class Tuned(Record):
    """One try of tuning the coupling: at which feed and speed the nut did what; ``lift`` positive: drawn up, mm."""

    feed: Feed
    speed: Speed
    lift: Length


class ThreadSection(Record):
    """The thread. ``tuning``: the tries of its feed, in their order. ``dwell`` at the bottom in seconds;
    ``flats_height``: how far above its seat the pocket's flats catch the nut; ``lift_allowed``: the pocket's float, up
    and down; ``give``: how far below its seat a nut that is put down may be pushed, by springs or a rubber floor;
    ``bore_depth``: how far a shank may stand into the spindle's bore, mm. ``put_down``: whether the nut runs off while
    the spindle comes down and stays, or is seated first and runs off while the spindle rises by the thread's lead."""

    lead: PositiveLength
    speed: Speed
    feed: Feed
    engaged_length: PositiveLength
    speed_cap: Speed
    lift_allowed: Distance
    observed_lift: Length | None = None
    nut_diameter: PositiveLength
    hole_diameter: PositiveLength
    flats_height: PositiveLength
    give: Distance
    put_down: Literal["going down", "rising"]
    dwell: Annotated[float, Field(ge=0, json_schema_extra={"unit": "s"})]
    bore_depth: PositiveLength = 50.0
    tuning: Annotated[list[Tuned], Field(max_length=50)] = []

    @model_validator(mode="after")
    def _sizes(self) -> "ThreadSection":
        faults = []
        if self.observed_lift is not None and self.observed_lift >= self.engaged_length:
            faults.append(
                Fault(
                    "/observed_lift",
                    f"`observed_lift` must be below the engaged length, "
                    f"{with_unit(self.engaged_length)}; got {in_unit(self.observed_lift)}.",
                )
            )
        if self.hole_diameter > self.nut_diameter:
            faults.append(
                Fault(
                    "/hole_diameter",
                    f"`hole_diameter` must be at most the nut's diameter, "
                    f"{with_unit(self.nut_diameter)}; got {in_unit(self.hole_diameter)}.",
                )
            )
        if faults:
            raise InputError(faults)
        return self


@CHANGERS.register("thread-on")
class ThreadOn(RackChanger):
    """A rack of collet nuts that the turning spindle threads on and off."""

    sensors = ("spindle still", "tool present")
    words = {"couple_z": "Couple", "touch_z": "Nose on spacer", "recess": "Rack sunk by"}

    style: Literal["thread-on"]
    coupling: ThreadSection

    @property
    def frees_collets(self) -> bool:
        return True

    @property
    def loosens_backwards(self) -> bool:
        return True

    @classmethod
    def template(cls, machine: Machine) -> "ThreadOn":
        thread = ThreadSection(
            lead=1.5,
            speed=1000.0,
            feed=1500.0,
            engaged_length=9.0,
            speed_cap=1800.0,
            lift_allowed=0.5,
            nut_diameter=28.0,
            hole_diameter=20.0,
            flats_height=5.0,
            give=1.0,
            put_down="rising",
            dwell=0.6,
        )
        return cls(
            style="thread-on",
            rack=template_rack(machine, 6, 50.0, 50.0, 40.0, 4.0),
            heights=template_heights(machine, 30.0, 14.0, 10.0, 80.0),
            coupling=thread,
        )
