"""Numbers that nobody has entered yet: what a new machine, changer, tool, setter or probe begins with."""

from collections.abc import Iterator
from typing import Annotated, Any

from pydantic import Field

from orthotrope.setup.keys import keyed, unkeyed
from orthotrope.setup.quantities import quantity_at
from orthotrope.validation import Record, pointer


class Planned(Record):
    """A number that is planned. ``where``: its JSON pointer, entries of lists by their key (``/tools/4/length``); one that leads
    nowhere any more means nothing."""

    where: Annotated[str, Field(min_length=1, max_length=400, pattern="^/")]


def to_be_found(node: Any, path: tuple[str | int, ...]) -> Iterator[str]:
    """JSON pointers of the numbers in a part of a document that are found at the machine (measured, or from a data sheet), not
    chosen. 0 stands for "there is none", and is left out, except for a place: that is a number like any other. ``path``: the part's
    own place."""
    if isinstance(node, dict):
        for name, entry in node.items():
            yield from to_be_found(entry, (*path, name))
    elif isinstance(node, list):
        for index, entry in enumerate(node):
            yield from to_be_found(entry, (*path, index))
    elif isinstance(node, int | float) and not isinstance(node, bool):
        where = pointer(path)
        found = quantity_at(where)
        if found and found.how and (node or found.is_place):
            yield where


def with_planned(
    document: dict[str, Any], *paths: tuple[str | int, ...], entered: frozenset[str] = frozenset()
) -> dict[str, Any]:
    """A document in which the numbers at these places are marked as planned, but for those that somebody has ``entered``."""
    known = {entry["where"]: entry for entry in document.get("planned", ())}
    for path in paths:
        part: Any = document
        for step in path:
            part = part[step]
        known |= {
            key: {"where": key} for where in to_be_found(part, path) if (key := keyed(document, where)) not in entered
        }
    return document | {"planned": [*known.values()]}


def places(document: dict[str, Any]) -> list[str]:
    """JSON pointers of the planned numbers that are there, in the order in which they stand in the list."""
    return [where for entry in document.get("planned", ()) if (where := unkeyed(document, entry["where"]))]
