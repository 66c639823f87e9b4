"""What a program does with its touches: which value came of which touch, and where the machine is because of one.

Values are followed by the parameters that they are read from and written to, whatever is calculated in between."""

from collections.abc import Iterable
from dataclasses import dataclass, field, replace

from orthotrope.machine.motion import Vector

NONE: frozenset[int] = frozenset()

Followed = dict[float | str, frozenset[int]]
"""Parameter, by number or name → the touches that its value came of."""


@dataclass(slots=True)
class Touches:
    """``count``: how many touches there were; the last has the number count - 1. ``values``: by parameter, the touches
    that its value came of; ``used``: those of what was read since it was last cleared; ``words`` of each letter of the
    block. ``stands``: for each axis the touch because of which it is where it is, None: it was sent there.
    ``tested``: touches that may miss, and were tested whether they did; ``left``: the way of a touch whose contact is
    still kept."""

    count: int = 0
    values: Followed = field(default_factory=dict)
    used: frozenset[int] = NONE
    words: dict[str, frozenset[int]] = field(default_factory=dict)
    stands: tuple[int | None, int | None, int | None] = (None, None, None)
    tested: frozenset[int] = NONE
    left: Vector | None = None
    made: dict[float | str, int] = field(default_factory=dict)
    answers: frozenset[int] = NONE

    def copied(self) -> "Touches":
        """One that changes by itself."""
        return replace(self, values=dict(self.values), words=dict(self.words), made=dict(self.made))

    def begun(self, way: Vector, latched: Iterable[int], answer: int, hit: bool) -> int:
        """A touch has ended, made (``hit``) or not; ``latched`` and ``answer`` are the parameters that show it now.
        Returns its number."""
        number = self.count
        self.count += 1
        self.made[answer] = number
        self.values.pop(answer, None)
        if hit:
            for index in latched:
                self.values[index] = frozenset({number})
            x, y, z = (number if part else stood for part, stood in zip(way, self.stands, strict=True))
            self.stands, self.left = (x, y, z), way
        return number

    def read(self, parameter: float | str) -> None:
        """A parameter is read."""
        self.used |= self.values.get(parameter, NONE)
        if parameter in self.made:
            self.answers |= {self.made[parameter]}

    def clear(self) -> None:
        """What is read from now on belongs to another value."""
        self.used = self.answers = NONE

    def written(self, parameter: float | str) -> None:
        """A parameter has got the value that was calculated from what was read."""
        self.values.pop(parameter, None)
        self.made.pop(parameter, None)
        if self.used:
            self.values[parameter] = self.used
        if self.answers:
            self.made[parameter] = max(self.answers)

    def exchanged(self, parameters: Iterable[int], given: Followed) -> Followed:
        """These parameters are others from now on, whose values came of the touches ``given``; returns what theirs came
        of."""
        before: Followed = {number: self.values.pop(number) for number in parameters if number in self.values}
        self.values.update(given)
        return before

    def decided(self) -> None:
        """A condition was calculated from what was read."""
        self.tested |= self.answers

    def moved(self, axes: Iterable[int], absolute: bool) -> None:
        """Axes were sent somewhere; to a place that is known, or so much further."""
        if absolute:
            sent = set(axes)
            x, y, z = (None if axis in sent else stood for axis, stood in enumerate(self.stands))
            self.stands = x, y, z
