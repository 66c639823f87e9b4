from typing import Annotated, Literal

from orthotrope.setup.changer import CHANGERS, PocketChanger, template_heights
from orthotrope.setup.machine import Machine
from orthotrope.setup.roles import InputRole, OutputRole, input_role, output_role
from orthotrope.validation import Length, PositiveLength
from pydantic import Field

input_role(InputRole("tool held", tells=("magnet", "on"), of_changer=True, missing="The magnet has no tool"))
output_role(OutputRole("magnet", "magnet", "on", "off", detected_by=("tool held",)))


@CHANGERS.register("magnet row")
class MagnetRow(PocketChanger):
    sensors = ("tool held",)
    switches = ("magnet",)

    style: Literal["magnet row"]
    x: Length
    y: Length
    pitch: PositiveLength
    count: Annotated[int, Field(ge=1, le=50)]
    pin_diameter: PositiveLength

    @property
    def pocket_count(self) -> int:
        return self.count

    @classmethod
    def template(cls, machine: Machine) -> "MagnetRow":
        return cls(
            style="magnet row",
            x=100.0,
            y=800.0,
            pitch=60.0,
            count=4,
            pin_diameter=30.0,
            heights=template_heights(machine, 30.0, 30.0, 20.0, 80.0),
        )
