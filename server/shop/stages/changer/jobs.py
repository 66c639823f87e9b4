"""What is worked out for a changer beside the preview."""

from dataclasses import dataclass
from typing import Any, Literal

from orthotrope.formats.layout import ORDERS, Mark, ordered, read_layout
from orthotrope.program.writer import write
from orthotrope.sequence.approach import approach
from orthotrope.setup import read_setup

from shop.job import answers


@dataclass(frozen=True, slots=True)
class ApproachText:
    name: str
    text: str


@dataclass(frozen=True, slots=True)
class Layer:
    """``orders``: by the name of an order, the marks' places in ``marks``."""

    name: str
    marks: list[Mark]
    orders: dict[str, list[int]]


@answers(list[ApproachText])
def approach_texts(document: dict[str, Any], pocket: int) -> list[ApproachText]:
    """The programs of a pocket's first approach, in the Setup's control profile."""
    setup = read_setup(document)
    return [ApproachText(made.title, write(made, setup.profile)) for made in approach(setup, pocket)]


@answers(list[Layer])
def layers(text: str, unit: Literal["mm", "inch", "as stated"]) -> list[Layer]:
    """The circles and points of a drawing, by layer, in every order that pockets may be numbered in."""
    found: dict[str, list[Mark]] = {}
    for mark in read_layout(text.encode("utf-8", "replace"), unit):
        found.setdefault(mark.layer, []).append(mark)
    return [
        Layer(name, marks, {order: _places(marks, ordered(marks, order)) for order in ORDERS})
        for name, marks in found.items()
    ]


def _places(marks: list[Mark], order: list[Mark]) -> list[int]:
    at = {id(mark): place for place, mark in enumerate(marks)}
    return [at[id(mark)] for mark in order]
