"""Which number of the machine goes where."""

from dataclasses import dataclass
from typing import Any

from orthotrope.calc.capture import Offer, offer, targets
from orthotrope.errors import InputError
from orthotrope.setup import read_setup

from shop.job import answers


@dataclass(frozen=True, slots=True)
class Offered:
    """``offer`` null: the quantity can't be taken from a position, or none was reported; ``says`` why not. ``targets``:
    where its stored place is, by axis."""

    offer: Offer | None
    says: str
    targets: dict[str, float]


@answers(Offered)
def make_offer(document: dict[str, Any], quantity: str, position: list[float] | None, tool: int | None) -> Offered:
    """Which number of the machine would go into a quantity."""
    setup = read_setup(document)
    try:
        to = {str(axis): value for axis, value in targets(setup, quantity).items()}
        if position is None or len(position) != 3:
            return Offered(None, "", to)
        x, y, z = position
        return Offered(offer(setup, quantity, (x, y, z), tool), "", to)
    except InputError as bad:
        return Offered(None, bad.faults[0].what, {})
