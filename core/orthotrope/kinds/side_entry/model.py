"""The style's own section of the Setup."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from orthotrope.errors import Fault
from orthotrope.setup.changer import CHANGERS, RackChanger, template_heights, template_rack
from orthotrope.setup.gripping import TEMPLATE_GRIP, TEMPLATE_ORIENTATION, Grip, Orientation
from orthotrope.setup.machine import Machine
from orthotrope.units import in_unit, with_unit
from orthotrope.validation import Angle, Feed, PocketNumber, PositiveLength, Record


class Mouth(Record):
    """A fork that opens another way than the rest."""

    pocket: PocketNumber
    mouth_deg: Angle


class Forks(Record):
    """Forks that are entered from the side, mm. ``mouth_deg``: the way out of a fork, in plan; ``mouths``: those that
    differ. ``lead_in``: from the pocket's axis to where a tool stands free in front of it; ``feed`` over it. The
    holder's groove: its diameter, its middle below the gauge line, its width; the fork: how thick its tines are, how
    wide each, and how far they reach past the axis."""

    mouth_deg: Angle
    lead_in: PositiveLength
    feed: Feed
    groove_diameter: PositiveLength
    groove_below: PositiveLength
    groove_width: PositiveLength
    thickness: PositiveLength
    tine_width: PositiveLength
    tine_reach: PositiveLength
    mouths: Annotated[list[Mouth], Field(max_length=400)] = []

    def mouth_of(self, pocket: int) -> float:
        """The way out of a pocket's fork, degrees."""
        return next((entry.mouth_deg for entry in self.mouths if entry.pocket == pocket), self.mouth_deg)


@CHANGERS.register("side-entry")
class SideEntry(RackChanger):
    """Forks that hold a holder by its groove and are entered from the side."""

    sensors = ("oriented", "grip open", "grip closed", "air")
    switches = ("grip", "orient", "blow air")

    style: Literal["side-entry"]
    grip: Grip
    forks: Forks
    orientation: Orientation

    @property
    def longest_wait(self) -> float:
        return self.grip.wait

    @classmethod
    def template(cls, machine: Machine) -> "SideEntry":
        forks = Forks(
            mouth_deg=-90.0,
            lead_in=60.0,
            feed=1500.0,
            groove_diameter=42.0,
            groove_below=10.0,
            groove_width=6.0,
            thickness=5.0,
            tine_width=8.0,
            tine_reach=10.0,
        )
        return cls(
            style="side-entry",
            rack=template_rack(machine, 6, 80.0, 30.0, 40.0, 20.0),
            grip=TEMPLATE_GRIP,
            forks=forks,
            heights=template_heights(machine, 60.0, 70.0, 62.0, 150.0),
            orientation=TEMPLATE_ORIENTATION,
        )

    def _own_faults(self) -> Iterator[Fault]:
        for index, entry in enumerate(self.forks.mouths):
            if entry.pocket > self.pocket_count:
                yield Fault(
                    f"/forks/mouths/{index}/pocket",
                    f"`pocket` must be at most {self.pocket_count}, the number of "
                    f"pockets there are; got {entry.pocket}.",
                )
        if self.forks.thickness >= self.forks.groove_width:
            yield Fault(
                "/forks/thickness",
                f"`thickness` must be below the groove's width, {with_unit(self.forks.groove_width)}; got "
                f"{in_unit(self.forks.thickness)}.",
            )
        if self.forks.groove_diameter >= self.grip.holder_diameter:
            yield Fault(
                "/forks/groove_diameter",
                f"`groove_diameter` must be below the holder's, {with_unit(self.grip.holder_diameter)}; "
                f"got {in_unit(self.forks.groove_diameter)}.",
            )
