"""What refers to an entry of a list by its number or name, so that another number or name is followed everywhere."""

import re
from copy import deepcopy
from typing import Any

from orthotrope.errors import InputError
from orthotrope.setup.keys import KEYS, at
from orthotrope.validation import parts_of, pointer

REFERENCES: dict[str, tuple[tuple[str, ...], ...]] = {
    "tools": (("probes", "tool"),),
    "inputs": (("setters", "input"), ("probes", "input"), ("bodies", "makes")),
    "probes": (("routines", "probe"),),
    "positions": (("positions", "by_way_of"),),
    "work_offsets": (("setters", "work_offset"), ("routines", "work_offset")),
    "profiles": (("machine", "profile"),),
}
"""A keyed list of the document → the fields that hold a key of it: of the entries of another list, or of a section."""


def renamed(document: dict[str, Any], where: str, value: Any) -> dict[str, Any]:
    """A document with another number or name of an entry (``where``: JSON pointer of that), and all that refers to it with it.

    Raises:
        InputError: where it is no entry's number or name.
    """
    parts = parts_of(where)
    if len(parts) != 3 or KEYS.get(parts[0]) != parts[2]:
        raise InputError.at(where, "This is no number or name of an entry.")
    before = at(document, where)
    changed = deepcopy(document)
    changed[parts[0]][int(parts[1])][parts[2]] = value
    for section, field in REFERENCES.get(parts[0], ()):
        owners = changed.get(section)
        for owner in owners if isinstance(owners, list) else [owners]:
            if isinstance(owner, dict) and owner.get(field) == before:
                owner[field] = value
    moved = {pointer((parts[0], before)): pointer((parts[0], value))}
    for entry in changed.get("planned", ()):
        entry["where"] = followed(entry["where"], moved)
    return changed


def renames(before: dict[str, Any], after: dict[str, Any]) -> dict[str, str]:
    """Which entries have another number or name in a later document, all else of them being the same: keyed pointers of both."""
    found = {}
    for section, key in KEYS.items():
        old, new = before.get(section), after.get(section)
        if not isinstance(old, list) or not isinstance(new, list) or len(old) != len(new):
            continue
        had, has = {entry[key] for entry in old}, {entry[key] for entry in new}
        for one, other in zip(old, new, strict=True):
            free = one[key] != other[key] and other[key] not in had and one[key] not in has
            if free and {**one, key: None} == {**other, key: None}:
                found[pointer((section, one[key]))] = pointer((section, other[key]))
    return found


def followed(keyed: str, moved: dict[str, str]) -> str:
    """A keyed pointer after entries have another number or name."""
    found = re.match(r"^(/[^/]+/[^/]+)(/.*)?$", keyed)
    return moved.get(found[1], found[1]) + (found[2] or "") if found else keyed
