"""The style's own section of the Setup."""

from typing import Literal

from orthotrope.setup.changer import CHANGERS, template_heights
from orthotrope.setup.disc import DiscChanger, template_disc, template_place
from orthotrope.setup.gripping import TEMPLATE_GRIP, TEMPLATE_ORIENTATION
from orthotrope.setup.machine import Machine
from orthotrope.setup.roles import InputRole, OutputRole, input_role, output_role
from orthotrope.validation import PositiveLength, Record

input_role(InputRole("pot down", tells=("pot", "down"), of_changer=True, missing="The pot is not down"))
input_role(InputRole("pot up", tells=("pot", "up"), of_changer=True, missing="The pot is not up", asked_first=True))
input_role(InputRole("arm in", tells=("arm swing", "in"), of_changer=True, missing="The arm is not in"))
input_role(
    InputRole("arm home", tells=("arm swing", "home"), of_changer=True, missing="The arm is not home", asked_first=True)
)
input_role(InputRole("arm down", tells=("arm stroke", "down"), of_changer=True, missing="The arm is not down"))
input_role(InputRole("arm up", tells=("arm stroke", "up"), of_changer=True, missing="The arm is not up"))
output_role(OutputRole("pot", "pot", "down", "up", by_air=True))
output_role(OutputRole("arm swing", "arm swing", "in", "home", by_air=True))
output_role(OutputRole("arm stroke", "arm stroke", "down", "up", by_air=True))
output_role(OutputRole("arm turn", "arm turn", "half", "still", by_air=True))


class Arm(Record):
    """An arm with two hands: ``reach`` from its pivot to a hand, ``stroke`` down, mm. ``tools``: whether a tool goes
    back to the pocket it came from, or into the one that the other came from."""

    reach: PositiveLength
    stroke: PositiveLength
    tools: Literal["change pockets", "keep their pockets"]


@CHANGERS.register("disc with arm")
class ArmDisc(DiscChanger):
    """A disc beside the machine, from whose ready place an arm with two hands brings the tool."""

    sensors = (
        "oriented",
        "magazine in place",
        "pot down",
        "pot up",
        "arm in",
        "arm home",
        "arm down",
        "arm up",
        "grip open",
        "grip closed",
        "air",
    )
    switches = ("grip", "orient", "pot", "arm swing", "arm stroke", "arm turn")

    style: Literal["disc with arm"]
    arm: Arm

    @property
    def pockets_change(self) -> bool:
        return self.arm.tools == "change pockets"

    @classmethod
    def template(cls, machine: Machine) -> "ArmDisc":
        arm = Arm(reach=280.0, stroke=90.0, tools="change pockets")
        return cls(
            style="disc with arm",
            disc=template_disc(16, 220.0),
            exchange=template_place(machine),
            grip=TEMPLATE_GRIP,
            orientation=TEMPLATE_ORIENTATION,
            heights=template_heights(machine, 100.0, 70.0, 62.0, 250.0),
            arm=arm,
        )
