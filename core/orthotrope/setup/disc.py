"""What the changers share whose pockets are in a disc that turns."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from orthotrope.setup.changer import Placing, PocketChanger
from orthotrope.setup.control import Word
from orthotrope.setup.gripping import Grip, Orientation
from orthotrope.setup.machine import Machine
from orthotrope.setup.roles import InputRole, input_role
from orthotrope.validation import Angle, Length, PositiveLength, Record, Seconds

input_role(
    InputRole(
        "magazine in place",
        tells=("turn", "in place"),
        of_changer=True,
        missing="The disc does not stand at its pocket",
    )
)


class ExchangePlace(Record):
    """Where the spindle stands for an exchange, machine coordinates, mm."""

    x: Length
    y: Length


class Disc(Record):
    """A disc of ``count`` pockets on a circle of ``radius``, mm. ``bearing_deg``: from its middle to the exchange place
    (with an arm: to the ready place). It turns by the ``shorter`` way or always forwards; ``turn_word`` with the
    pocket's number in P turns it, ``seconds_per_step`` each. ``sense``: which way the pockets are numbered, seen from
    above."""

    count: Annotated[int, Field(ge=2, le=400)]
    radius: PositiveLength
    bearing_deg: Angle
    sense: Literal["ccw", "cw"]
    way: Literal["shorter", "forwards"]
    turn_word: Word
    seconds_per_step: Seconds


class DiscChanger(PocketChanger):
    """Pockets in a disc that turns; the spindle always goes to the one exchange place."""

    words: ClassVar[dict[str, str]] = {"couple_z": "Seat", "touch_z": "Exchange height"}
    placed_by: ClassVar[tuple[Placing, ...]] = (
        Placing("/exchange/x", "Exchange place X", "along X"),
        Placing("/exchange/y", "Exchange place Y", "along Y"),
    )

    disc: Disc
    exchange: ExchangePlace
    grip: Grip
    orientation: Orientation

    @property
    def pocket_count(self) -> int:
        return self.disc.count

    @property
    def own_words(self) -> tuple[str, ...]:
        return (self.disc.turn_word,)

    @property
    def longest_wait(self) -> float:
        return self.grip.wait


def template_place(machine: Machine) -> ExchangePlace:
    """At the side of the travel, in the middle of Y."""
    x, y = machine.axes.across
    return ExchangePlace(x=round(x.soft_least + 20.0, 3), y=round((y.soft_least + y.soft_greatest) / 2, 3))


def template_disc(count: int, radius: float) -> Disc:
    """A disc of so many pockets on a circle of ``radius`` mm."""
    return Disc(
        count=count, radius=radius, bearing_deg=0.0, sense="cw", way="shorter", turn_word="M44", seconds_per_step=0.4
    )
