"""A touch plate with edges: it lies on a part's corner, and the tool touches its top and its two outer faces."""

from typing import ClassVar, Literal

from orthotrope.setup.probes import PROBES, Probe, StandOff
from orthotrope.validation import Distance, PositiveLength


@PROBES.register("plate with edges")
class EdgePlate(Probe):
    """``thickness`` of its top, ``edge_x`` and ``edge_y``: how far its outer faces stand off the part's, mm; ``size`` of its
    top along the part's faces; ``clip``: whether a clip is put on the tool for it."""

    usual_name: ClassVar[str] = "corner plate"
    usual_roles: ClassVar[tuple[str, ...]] = ("touch plate", "probe", "setter")

    kind: Literal["plate with edges"]
    thickness: PositiveLength
    edge_x: Distance
    edge_y: Distance
    size: PositiveLength = 60.0
    clip: bool = True
    overtravel_across: PositiveLength = 1.0
    overtravel_up: PositiveLength = 0.5

    @classmethod
    def template(cls, name: str, tool: int, number: int) -> "EdgePlate":
        return cls(
            kind="plate with edges",
            name=name,
            tool=tool,
            input=number,
            thickness=10.0,
            edge_x=8.0,
            edge_y=8.0,
            search_feed=150.0,
            measure_feed=40.0,
        )

    @property
    def taken_off(self) -> tuple[str, ...]:
        return ("the plate", "the clip") if self.clip else ("the plate",)

    @property
    def stand_off(self) -> StandOff:
        return StandOff(self.edge_x, self.edge_y, self.thickness)

    @property
    def tells_itself(self) -> bool:
        return False
