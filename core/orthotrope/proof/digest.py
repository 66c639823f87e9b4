"""A value in one form, whatever order its mappings and sets came in, and the digest of that."""

import hashlib
import re
from collections.abc import Iterable, Mapping
from dataclasses import fields, is_dataclass
from typing import Any

from orthotrope.machine.world import WorldTool

_REMARK = re.compile(r"\((?!MSG)[^)]*\)")


def digest_of(value: Any) -> str:
    """The digest of a value."""
    return hashlib.sha256(plain(value).encode()).hexdigest()


def read_by_control(text: str) -> str:
    """What a control reads of a text: all but the remarks."""
    return _REMARK.sub("", text)


def plain(value: Any) -> str:
    """A value in one form. Names of tools are left out: they are for people."""
    if value is None or isinstance(value, str | int | float):  # nearly all of them
        return repr(value)
    if is_dataclass(value):
        left_out = ("name",) if isinstance(value, WorldTool) else ()
        return plain(
            [
                type(value).__name__,
                *(getattr(value, f.name) for f in fields(value) if f.compare and f.name not in left_out),
            ]
        )
    if isinstance(value, Mapping):
        return plain(sorted((plain(key), plain(entry)) for key, entry in value.items()))
    if isinstance(value, frozenset | set):
        return plain(sorted(plain(entry) for entry in value))
    if isinstance(value, Iterable):
        return f"[{','.join(plain(entry) for entry in value)}]"
    return repr(value)
