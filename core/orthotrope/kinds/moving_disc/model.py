"""The style's own section of the Setup."""

from typing import Literal

from orthotrope.setup.changer import CHANGERS, template_heights
from orthotrope.setup.disc import DiscChanger, template_disc, template_place
from orthotrope.setup.gripping import TEMPLATE_GRIP, TEMPLATE_ORIENTATION
from orthotrope.setup.machine import Machine
from orthotrope.setup.roles import InputRole, OutputRole, input_role, output_role
from orthotrope.validation import PositiveLength

input_role(InputRole("magazine out", tells=("disc", "out"), of_changer=True, missing="The disc is not out"))
input_role(
    InputRole(
        "magazine home",
        tells=("disc", "home"),
        of_changer=True,
        missing="The disc is not home",
        made_at_rest=True,
        asked_first=True,
    )
)
output_role(OutputRole("magazine", "disc", "out", "home", by_air=True, detected_by=("magazine out", "magazine home")))


@CHANGERS.register("moving disc")
class MovingDisc(DiscChanger):
    """A disc that swings to the spindle and home again, by ``swing`` mm along its bearing."""

    sensors = ("oriented", "magazine in place", "magazine out", "magazine home", "grip open", "grip closed", "air")
    switches = ("grip", "orient", "blow air", "magazine")

    style: Literal["moving disc"]
    swing: PositiveLength

    @classmethod
    def template(cls, machine: Machine) -> "MovingDisc":
        return cls(
            style="moving disc",
            disc=template_disc(16, 220.0),
            exchange=template_place(machine),
            grip=TEMPLATE_GRIP,
            orientation=TEMPLATE_ORIENTATION,
            heights=template_heights(machine, 70.0, 70.0, 62.0, 200.0),
            swing=180.0,
        )
