"""What the exchanges of the styles with a disc share."""

from collections.abc import Iterator

from orthotrope.sequence.exchanges.frame import Frame, park
from orthotrope.sequence.steps import Move, Step, Words
from orthotrope.sequence.values import Value, length
from orthotrope.setup.disc import DiscChanger


class DiscParts:
    """What the spindle and the disc do whatever brings the tools."""

    def __init__(self, changer: DiscChanger):
        self.changer, self.grip, self.disc = changer, changer.grip, changer.disc

    def prepare(self, frame: Frame) -> Iterator[Step]:
        yield from frame.orient()
        yield park(frame)
        place = self.changer.exchange
        yield Move((("X", length(place.x)), ("Y", length(place.y))), note="the exchange place")

    def turn(self, frame: Frame, pocket: Value, steps: int | None, note: str) -> Iterator[Step]:
        """Turn the disc to a pocket; ``steps`` where they are known, else as long as it can take."""
        most = self.disc.count // 2 if self.disc.way == "shorter" else self.disc.count - 1
        yield from frame.made("magazine in place")
        yield Words(self.disc.turn_word, pocket, note)
        yield frame.until(
            "magazine in place",
            (most if steps is None else steps) * self.disc.seconds_per_step,
            "until it stands there",
        )
