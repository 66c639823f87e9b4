"""A Setup with something more in it, tried before it is answered, or with another name of what is there."""

from typing import Any

from orthotrope.proof.adding import (
    Added,
    added_changer,
    added_entry,
    added_probe,
    added_setter,
    added_tool,
    touch_input_made,
)
from orthotrope.setup import read_setup
from orthotrope.setup.renaming import renamed

from shop.job import answers


@answers(Added)
def setter(document: dict[str, Any], kind: str, number: int | None) -> Added:
    """With a setter more; ``number``: of its input, None: one is made."""
    return added_setter(read_setup(document), kind, number)


@answers(Added)
def probe(document: dict[str, Any], kind: str, tool: int | None, number: int | None) -> Added:
    """With a probe more, in this tool and at this input; None: one is made."""
    return added_probe(read_setup(document), kind, tool, number)


@answers(Added)
def changer(document: dict[str, Any], style: str) -> Added:
    """With a changer of a style, in the place of the one that there may be."""
    return added_changer(read_setup(document), style)


@answers(Added)
def tool(document: dict[str, Any]) -> Added:
    """With a tool more."""
    return added_tool(read_setup(document))


@answers(Added)
def entry(document: dict[str, Any], where: str, made: dict[str, Any]) -> Added:
    """With an entry of a list more."""
    return added_entry(read_setup(document), where, made)


@answers(Added)
def touch_input(document: dict[str, Any], where: str) -> Added:
    """With an input more that a touch makes, for the setter or probe there."""
    return touch_input_made(read_setup(document), where)


@answers(Added)
def renamed_entry(document: dict[str, Any], where: str, value: int | str) -> Added:
    """With another number or name of an entry, and what refers to it with it."""
    return Added(read_setup(renamed(read_setup(document).as_json(), where, value)), str(value))
