"""2 → 3: a setter is one entry in ``setters``; it was a reserved pocket that makes an input, or a body that makes a
setter's."""

from typing import Any


def step(document: dict[str, Any]) -> None:
    taken: set[str] = set()
    setters = [*_in_pockets(document.get("changer"), taken), *_on_table(document, taken)]
    if setters:
        document["setters"] = setters


def _in_pockets(changer: Any, taken: set[str]) -> list[dict[str, Any]]:
    reserved = changer.get("reserved") if isinstance(changer, dict) else None
    if not isinstance(reserved, list):
        return []
    found, kept = [], []
    for entry in reserved:
        makes, give = (entry.pop(key, None) for key in ("makes", "give")) if isinstance(entry, dict) else (None, None)
        if makes is None:
            kept.append(entry)
            continue
        found.append(
            {
                "kind": "in a pocket",
                "name": _own(entry.get("what"), taken),
                "input": makes,
                "plane_z": entry.get("top_z"),
                "overtravel": give or 0.0,
                "pocket": entry.get("pocket"),
                "diameter": entry.get("diameter"),
            }
        )
    changer["reserved"] = kept
    return found


def _on_table(document: dict[str, Any], taken: set[str]) -> list[dict[str, Any]]:
    bodies, inputs = document.get("bodies"), document.get("inputs")
    if not isinstance(bodies, list) or not isinstance(inputs, list):
        return []
    numbers = {e.get("number") for e in inputs if isinstance(e, dict) and e.get("role") == "setter"}
    moved = [b for b in bodies if isinstance(b, dict) and b.get("makes") is not None and b["makes"] in numbers]
    document["bodies"] = [body for body in bodies if not any(body is entry for entry in moved)]
    found = []
    for body in moved:
        if body.get("kind") == "box":
            sizes = {key: body.get(key) for key in ("size_x", "size_y")}
            shape = {"form": "square", **sizes, "turn_deg": body.get("turn_deg", 0.0)}
        else:
            shape = {"form": "round", "diameter": body.get("diameter")}
        found.append(
            {
                "kind": "on the table",
                "name": _own(body.get("name"), taken),
                "input": body["makes"],
                "plane_z": body.get("top_z"),
                "overtravel": body.get("give") or 0.0,
                **{key: body.get(key) for key in ("x", "y", "bottom_z")},
                "shape": shape,
            }
        )
    return found


def _own(name: Any, taken: set[str]) -> str:
    """A name that no other setter has."""
    first = own = str(name or "setter")
    count = 1
    while own in taken:
        count += 1
        own = f"{first} {count}"
    taken.add(own)
    return own
