"""Differences between two Setup documents, and the merge of edits that two people made to one.

Documents are plain JSON values here. Lists whose entries have a key (tools by number, bodies by name, …) are compared
by that key, so that a tool added by one and a length changed by another do not touch each other."""

from copy import deepcopy
from dataclasses import dataclass
from typing import Any

from orthotrope.setup.document import Setup
from orthotrope.setup.keys import KEYS
from orthotrope.validation import parts_of, pointer, unit_at


class _Absent:
    def __repr__(self) -> str:
        return "nothing"


ABSENT: Any = _Absent()

Path = tuple[str | int, ...]


@dataclass(frozen=True, slots=True)
class Change:
    """One value that differs: ``where`` (list entries by their key), before and after; None where it was not there.
    ``unit``: the core's unit of the values, "" where they have none."""

    where: str
    before: Any
    after: Any
    unit: str = ""


@dataclass(frozen=True, slots=True)
class Conflict:
    """One value that two people changed differently from ``base``; ``unit`` as a change has it."""

    where: str
    base: Any
    mine: Any
    theirs: Any
    unit: str = ""


def _children(node: Any, name: str) -> dict[str | int, Any] | None:
    """The parts of a node by key, or None for a value that is changed as a whole."""
    if isinstance(node, dict):
        return node
    if isinstance(node, list) and name in KEYS:
        return {entry[KEYS[name]]: entry for entry in node}
    return None


def _listed(node: Any, path: Path) -> Any:
    """A node; a list of the document that is left out because it is empty, as an empty one."""
    return [] if node is ABSENT and len(path) == 1 and path[0] in KEYS else node


def _plain(value: Any) -> Any:
    return None if value is ABSENT else value


def changes(before: Any, after: Any, path: Path = ()) -> list[Change]:
    """Every value that differs between two documents, in the document's order."""
    before, after = _listed(before, path), _listed(after, path)
    if before == after and type(before) is type(after):
        return []
    name = str(path[-1]) if path else ""
    old, new = _children(before, name), _children(after, name)
    if old is None or new is None:
        return (
            []
            if before == after
            else [Change(where := pointer(path), _plain(before), _plain(after), unit_at(Setup, where))]
        )
    found = []
    for key in [*old, *(key for key in new if key not in old)]:
        found += changes(old.get(key, ABSENT), new.get(key, ABSENT), (*path, key))
    return found


def taken_back(document: Any, change: Change) -> Any:
    """A copy of the document after a change, as it would be without it.

    Raises:
        LookupError: where the change's place is not there.
    """
    document = deepcopy(document)
    *way, last = parts_of(change.where)
    node, name = document, ""
    if way and way[0] in KEYS:
        document.setdefault(way[0], [])
    for part in way:
        node, name = (_of_key(node, name, part), "") if isinstance(node, list) else (node[part], part)
    if isinstance(node, list):
        kept = [entry for entry in node if str(entry[KEYS[name]]) != last]
        node[:] = kept if change.before is None else [*kept, change.before]
    else:
        node[last] = change.before
    return document


def _of_key(entries: list[Any], name: str, key: str) -> Any:
    found = next((entry for entry in entries if str(entry[KEYS[name]]) == key), None)
    if found is None:
        raise LookupError(key)
    return found


def merge(base: Any, mine: Any, theirs: Any, path: Path = ()) -> tuple[Any, list[Conflict]]:
    """Three-way merge: ``mine`` and ``theirs`` both come from ``base``.

    Returns the merged document and the values that both changed differently (there ``theirs`` stands in the result).
    """
    base, mine, theirs = (_listed(node, path) for node in (base, mine, theirs))
    if mine in (theirs, base):
        return theirs, []
    if theirs == base:
        return mine, []
    name = str(path[-1]) if path else ""
    parts = [_children(node, name) for node in (base, mine, theirs)]
    if parts[1] is None or parts[2] is None:
        return theirs, [
            Conflict(where := pointer(path), _plain(base), _plain(mine), _plain(theirs), unit_at(Setup, where))
        ]
    old, ours, other = parts[0] or {}, parts[1], parts[2]
    merged: dict[str | int, Any] = {}
    conflicts: list[Conflict] = []
    for key in [*other, *(key for key in ours if key not in other)]:
        before, one, another = (node.get(key, ABSENT) for node in (old, ours, other))
        value, found = merge(before, one, another, (*path, key))
        conflicts += found
        if value is not ABSENT:
            merged[key] = value
    return (list(merged.values()) if isinstance(theirs, list) else merged), conflicts
