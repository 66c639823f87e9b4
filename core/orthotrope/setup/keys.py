"""What tells the entries of the document's lists apart: places in it that stay the same when a list changes."""

from collections.abc import Iterator
from copy import deepcopy
from typing import Any

from orthotrope.errors import InputError
from orthotrope.validation import parts_of, pointer

KEYS = {
    "tools": "number",
    "work_offsets": "number",
    "bodies": "name",
    "reserved": "pocket",
    "positions": "name",
    "setters": "name",
    "probes": "name",
    "routines": "name",
    "inputs": "number",
    "outputs": "number",
    "profiles": "name",
    "threads": "name",
    "taught": "pocket",
    "approached": "pocket",
    "planned": "where",
    "mouths": "pocket",
}
"""Key field of the entries of each keyed list."""


FOLLOWS = frozenset({"soft_least", "soft_greatest", "measured"})
"""Names that a pointer may have though the document hasn't: what follows from an axis, or isn't measured yet."""


def _follows(path: list[str | int], part: str) -> bool:
    """Whether a part may stand at this place though the document hasn't it: under an axis, or under its measured
    travel."""
    if path[:2] != ["machine", "axes"]:
        return False
    return (len(path) == 3 and part in FOLLOWS) or (path[3:] == ["measured"] and part in ("least", "greatest"))


def _index(part: str) -> int | None:
    """A part of a pointer as a place in a list; None: it is none."""
    return int(part) if part.isascii() and part.isdigit() and len(part) < 8 else None


def placed(document: Any, where: str, value: Any) -> Any:
    """A copy of a document with another value at a JSON pointer.

    Raises:
        InputError: where the pointer leads nowhere.
    """
    copy = deepcopy(document)
    *way, last = parts_of(where) or [""]
    try:
        node = copy
        for part in way:
            node = node[int(part)] if isinstance(node, list) else node[part]
        node[int(last) if isinstance(node, list) else last] = value
    except (KeyError, ValueError, IndexError, TypeError):
        raise InputError.at(where, "There is no such quantity in the Setup.") from None
    return copy


def numbers_in(document: Any, where: str = "") -> Iterator[tuple[str, float]]:
    """All numbers of a document, each with its JSON pointer; ``where``: the document's own."""
    if isinstance(document, dict | list):
        for name, part in document.items() if isinstance(document, dict) else enumerate(document):
            yield from numbers_in(part, f"{where}{pointer((name,))}")
    elif isinstance(document, int | float) and not isinstance(document, bool):
        yield where, document


def at(document: Any, where: str) -> Any:
    """The value at a JSON pointer.

    Raises:
        InputError: where the pointer leads nowhere.
    """
    node = document
    for part in parts_of(where):
        index = _index(part)
        if isinstance(node, list) and index is not None and index < len(node):
            node = node[index]
        elif isinstance(node, dict) and part in node:
            node = node[part]
        else:
            raise InputError.at(where, "There is no such quantity in the Setup.")
    return node


def keyed(document: Any, where: str) -> str:
    """A JSON pointer with the entries of keyed lists by their key instead of their place: ``/tools/2/length`` of a
    document whose third tool is T7 is ``/tools/7/length``.

    Raises:
        InputError: where the pointer leads nowhere.
    """
    node, path = document, list[str | int]()
    name = ""
    for part in parts_of(where):
        if isinstance(node, dict) and part in node:
            node, name = node[part], part
            path.append(part)
        elif _follows(path, part):
            path.append(part)
        elif isinstance(node, list) and (index := _index(part)) is not None and index < len(node):
            node = node[index]
            path.append(node[KEYS[name]] if name in KEYS else index)
            name = ""
        else:
            raise InputError.at(
                where, f'There is no "{part}" in the Setup; the quantity may have been taken out meanwhile.'
            )
    return pointer(path)


def unkeyed(document: Any, where: str) -> str:
    """The JSON pointer that :func:`keyed` made ``where`` of, in the document as it is now; "" where it has gone. A
    measured travel that isn't there yet keeps its pointer."""
    node: Any = document
    path: list[str | int] = []
    name = ""
    for part in parts_of(where):
        if isinstance(node, dict) and part in node:
            node, name = node[part], part
            path.append(part)
        elif isinstance(node, list) and name in KEYS:
            found = next((i for i, entry in enumerate(node) if str(entry[KEYS[name]]) == part), None)
            if found is None:
                return ""
            node, name = node[found], ""
            path.append(found)
        elif isinstance(node, list) and (index := _index(part)) is not None and index < len(node):
            node = node[index]
            path.append(index)
        elif _follows(path, part):
            path.append(part)
        else:
            return ""
    return pointer(path)
