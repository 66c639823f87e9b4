"""1 → 2: the pocket of a thread-on rack says what it gives downwards and how a nut is put down; two numbers that early
documents had otherwise."""

from typing import Any

RIGID = 0.2
"""mm that a pocket without springs gives (hardware.md): the careful value where nobody has said."""

PLANNED_LONGEST = 60.0
"""mm; what a longest tool is planned with where none was stored and none planned."""


def step(document: dict[str, Any]) -> None:
    changer = document.get("changer")
    if not isinstance(changer, dict):
        return
    grip, coupling, heights = changer.get("grip"), changer.get("coupling"), changer.get("heights")
    if isinstance(grip, dict):
        grip.pop("flange_height", None)  # nothing was ever worked out from it
    if isinstance(coupling, dict):
        coupling.setdefault("give", RIGID)
        coupling.setdefault("put_down", "going down")  # as the programs at the machine do
    if isinstance(heights, dict) and heights.get("planned_longest") is None:
        heights["planned_longest"] = _longest(document.get("tools")) or PLANNED_LONGEST


def _longest(tools: Any) -> float | None:
    lengths = (
        [
            tool["length"]
            for tool in tools
            if isinstance(tool, dict) and isinstance(tool.get("length"), int | float) and tool.get("pocket") is not None
        ]
        if isinstance(tools, list)
        else []
    )
    return max(lengths, default=None)
