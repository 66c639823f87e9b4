"""A conductive stylus, or the tool itself: it closes a circuit through the part, by way of a clip."""

from typing import ClassVar, Literal

from orthotrope.setup.probes import PROBES, Probe
from orthotrope.validation import PositiveLength


@PROBES.register("conductive")
class ConductiveStylus(Probe):
    """``clip``: whether a clip is put on the part for it. It hardly gives, so what it may be pushed is little."""

    usual_name: ClassVar[str] = "stylus"
    usual_roles: ClassVar[tuple[str, ...]] = ("touch plate", "probe", "setter")

    kind: Literal["conductive"]
    clip: bool = True
    overtravel_across: PositiveLength = 1.0
    overtravel_up: PositiveLength = 0.5

    @classmethod
    def template(cls, name: str, tool: int, number: int) -> "ConductiveStylus":
        return cls(kind="conductive", name=name, tool=tool, input=number, search_feed=150.0, measure_feed=40.0)

    @property
    def taken_off(self) -> tuple[str, ...]:
        return ("the clip",) if self.clip else ()
