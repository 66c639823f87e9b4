"""The style's own section of the Setup."""

from typing import Literal

from pydantic import model_validator

from orthotrope.errors import InputError
from orthotrope.setup.changer import CHANGERS, Changer
from orthotrope.setup.machine import AxisName, Machine
from orthotrope.setup.tools import Tool
from orthotrope.validation import Distance, Length


@CHANGERS.register("by hand")
class ByHand(Changer):
    """No magazine: the spindle goes to a place where a person changes the tool. ``order``: the axes in the order in
    which they go there; ``room``: free height below the nose there, mm."""

    sensors = ("spindle still",)

    style: Literal["by hand"]
    x: Length
    y: Length
    z: Length
    order: list[AxisName]
    room: Distance

    @property
    def pocket_count(self) -> int:
        """It has no pockets."""
        return 0

    def exchangeable(self, tools: list[Tool]) -> list[Tool]:
        """All of them: a person finds any."""
        return list(tools)

    @model_validator(mode="after")
    def _each_axis_once(self) -> "ByHand":
        if sorted(self.order) != ["X", "Y", "Z"]:
            raise InputError.at(
                "/order", f"`order` must hold X, Y and Z once each; got {', '.join(self.order) or 'none'}."
            )
        return self

    @property
    def frees_collets(self) -> bool:
        return True

    @classmethod
    def template(cls, machine: Machine) -> "ByHand":
        (x, y), z = machine.axes.across, machine.axes.upright
        return cls(
            style="by hand",
            x=round((x.soft_least + x.soft_greatest) / 2, 3),
            y=round(y.soft_least + 20.0, 3),
            z=round(z.soft_greatest - 2.0, 3),
            order=["Z", "Y", "X"],
            room=120.0,
        )
