"""The style's own section of the Setup."""

from typing import Literal

from orthotrope.setup.changer import CHANGERS, RackChanger, template_heights, template_rack
from orthotrope.setup.gripping import TEMPLATE_GRIP, Grip
from orthotrope.setup.machine import Machine
from orthotrope.validation import PositiveLength


@CHANGERS.register("drop-in")
class DropIn(RackChanger):
    """Pockets in a table or plate, into which the spindle sets its holders down from above. ``hole_diameter``: what a
    cutter must pass, mm."""

    sensors = ("spindle still", "grip open", "grip closed", "air")
    switches = ("grip", "blow air")

    style: Literal["drop-in"]
    grip: Grip
    hole_diameter: PositiveLength

    @property
    def longest_wait(self) -> float:
        return self.grip.wait

    @classmethod
    def template(cls, machine: Machine) -> "DropIn":
        return cls(
            style="drop-in",
            rack=template_rack(machine, 6, 80.0, 80.0, 30.0, 6.0),
            grip=TEMPLATE_GRIP,
            heights=template_heights(machine, 60.0, 70.0, 62.0, 90.0),
            hole_diameter=52.0,
        )
