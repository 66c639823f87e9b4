"""Setups of earlier versions, brought to the present one step by step as they are read; a module for each step.

What a step can't know it sets to the careful value and leaves to be corrected: nothing that was there is lost without
being what the step is about."""

from collections.abc import Callable
from copy import deepcopy
from typing import Any, Final

from orthotrope.setup.migrations import from_1, from_2

VERSION: Final = 3
"""The version that is written."""

STEPS: dict[int, Callable[[dict[str, Any]], None]] = {1: from_1.step, 2: from_2.step}
"""Version → what makes the next one of it, in place."""


def migrated(document: dict[str, Any]) -> dict[str, Any]:
    """The document in the present version; the same object where it is in it, or is of a version that there isn't
    (which its reading tells)."""
    version = document.get("version")
    if isinstance(version, bool) or version not in STEPS:
        return document
    document = deepcopy(document)
    while (version := document["version"]) in STEPS:
        STEPS[version](document)
        document["version"] = version + 1
    return document
