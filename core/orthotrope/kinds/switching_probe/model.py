"""A switching touch probe: a ball on a stem, which is pushed aside when it touches."""

from typing import ClassVar, Literal

from orthotrope.setup.probes import PROBES, Probe, Stem
from orthotrope.setup.tools import Tool, ToolType
from orthotrope.validation import PositiveLength


@PROBES.register("switching")
class SwitchingProbe(Probe):
    """``stem_diameter`` of what carries the ball, mm; ``cable``: whether it has one that is put in and taken out."""

    tool_type: ClassVar[ToolType | None] = "probe"

    kind: Literal["switching"]
    stem_diameter: PositiveLength = 3.0
    cable: bool = False

    @classmethod
    def template(cls, name: str, tool: int, number: int) -> "SwitchingProbe":
        return cls(kind="switching", name=name, tool=tool, input=number)

    @property
    def taken_off(self) -> tuple[str, ...]:
        return ("the probe's cable",) if self.cable else ()

    def stem(self, tool: Tool) -> Stem:
        return Stem(tool.diameter, min(self.stem_diameter, tool.diameter) / 2)
