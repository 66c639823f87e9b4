"""What it costs in a shift that a tool may slip where it is put down, and what a stop collar would save."""

from dataclasses import dataclass

from orthotrope.proof.exchanges import exchange_case
from orthotrope.proof.measuring import measurable
from orthotrope.sequence.exchanges.registry import EMPTY
from orthotrope.setup import Setup
from orthotrope.setup.tools import Tool


@dataclass(frozen=True, slots=True)
class MeasuringCost:
    """``each``: seconds that measuring adds to an exchange; ``loose``: in a shift, where the tool is measured after each
    pick-up; ``collar``: where a stop collar keeps it and it is measured once. ``slips``: whether it does now."""

    each: float
    loose: float
    collar: float
    slips: bool


def keeping(setup: Setup, number: int) -> MeasuringCost | None:
    """What keeping a tool's length costs; None where the changer frees no collets, an exchange can't ask for it, or
    nothing measures it."""
    tool = setup.tool(number)
    if setup.changer is None or not setup.changer.frees_collets or tool not in setup.exchangeable():
        return None
    if number not in measurable(setup):
        return None
    loose, kept = (_seconds(setup, tool, scatter) for scatter in (None, 0.0))
    each = max(0.0, loose - kept)
    return MeasuringCost(each, each * tool.fetched_a_shift, each, tool.collar_scatter is None)


def _seconds(setup: Setup, tool: Tool, scatter: float | None) -> float:
    """Seconds of fetching the tool with the empty spindle, where its collar has this scatter (None: there is none)."""
    other = tool.model_copy(update={"collar_scatter": scatter})
    changed = setup.model_copy(update={"tools": [other if entry is tool else entry for entry in setup.tools]})
    return exchange_case(changed, changed.profile, EMPTY, tool.number)[1].main.trace.seconds
