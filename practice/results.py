"""What the programs of a practice machine have left: which one it was, when, and what it has written."""

from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any


class Recorded(dict[int, float]):
    """Numbers by number; ``written``: those that were written since it was made."""

    def __init__(self, values: dict[int, float]) -> None:
        super().__init__(values)
        self.written: set[int] = set()

    def __setitem__(self, number: int, value: float) -> None:
        self.written.add(number)
        super().__setitem__(number, value)


@dataclass(slots=True)
class Ran:
    """A program that was begun here: ``of``: what it is, as it was reported; ``at``: when it began; ``homing``: the how-manieth one since
    the power came on it stands on."""

    of: dict[str, Any]
    homing: int
    at: datetime = field(default_factory=lambda: datetime.now(UTC))

    def as_json(self) -> dict[str, Any]:
        return {"of": self.of, "at": self.at.isoformat(timespec="milliseconds"), "homing": self.homing}


@dataclass(slots=True)
class Results:
    """``ran``: the last program (None: none yet, or by hand since); ``parameters`` and ``lengths`` as that one writes them;
    ``measured``: by which each tool's length was set."""

    ran: Ran | None = None
    parameters: Recorded = field(default_factory=lambda: Recorded({}))
    lengths: Recorded = field(default_factory=lambda: Recorded({}))
    measured: dict[int, Ran] = field(default_factory=dict)

    def begin(self, ran: Ran, parameters: dict[int, float], lengths: dict[int, float]) -> None:
        """A program begins with these numbers."""
        self.close()
        self.ran, self.parameters, self.lengths = ran, Recorded(parameters), Recorded(lengths)

    def close(self) -> None:
        """Take over which lengths the last one has set."""
        if self.ran is not None:
            self.measured.update(dict.fromkeys(self.lengths.written, self.ran))

    def as_json(self) -> dict[str, Any]:
        """``ran`` with the parameters that it has written, and by what each length was set."""
        self.close()
        ran = self.ran and {**self.ran.as_json(), "wrote": sorted(self.parameters.written)}
        return {"ran": ran, "measured": {tool: entry.as_json() for tool, entry in self.measured.items()}}
