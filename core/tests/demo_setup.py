"""The demo machine's document, and a way to change one number of it."""

import copy
import json
from pathlib import Path
from typing import Any

from orthotrope.proof.exchanges import ExchangeRef
from orthotrope.proof.measuring import MeasuringRef

ROOT = Path(__file__).resolve().parents[2]
DOCUMENT = json.loads((ROOT / "demo" / "setups" / "heron.json").read_text(encoding="utf-8"))


def demo(name: str) -> dict[str, Any]:
    """The document of another demo machine."""
    found: dict[str, Any] = json.loads((ROOT / "demo" / "setups" / f"{name}.json").read_text(encoding="utf-8"))
    return found


def changed(document: dict[str, Any], **values: Any) -> dict[str, Any]:
    """A copy with other values at dotted places: ``changer__rack__pitch=40``; list entries by their index."""
    whole = copy.deepcopy(document)
    for place, value in values.items():
        *way, last = place.split("__")
        node: Any = whole
        for part in way:
            node = node[int(part)] if part.isdigit() else node[part]
        node[int(last) if last.isdigit() else last] = value
    return whole


def exchange(one: int, other: int) -> ExchangeRef:
    return ExchangeRef(from_tool=one, to_tool=other)


def measuring(tool: int) -> MeasuringRef:
    return MeasuringRef(tools=(tool,))
