"""The demo machine's document, changes of it, and requests with JSON bodies."""

import copy
import json
from pathlib import Path
from typing import Any

from django.test import Client

DOCUMENT = json.loads(
    (Path(__file__).resolve().parents[2] / "demo" / "setups" / "heron.json").read_text(encoding="utf-8")
)


def changed(document: dict[str, Any], **values: Any) -> dict[str, Any]:
    whole = copy.deepcopy(document)
    for place, value in values.items():
        *way, last = place.split("__")
        node: Any = whole
        for part in way:
            node = node[int(part)] if part.isdigit() else node[part]
        node[last] = value
    return whole


def send(client: Client, method: str, path: str, body: Any = None) -> Any:
    return client.generic(method, path, json.dumps(body) if body is not None else "", content_type="application/json")


def demo(name: str) -> dict[str, Any]:
    """The document of another demo machine."""
    file = Path(__file__).resolve().parents[2] / "demo" / "setups" / f"{name}.json"
    found: dict[str, Any] = json.loads(file.read_text(encoding="utf-8"))
    return found
