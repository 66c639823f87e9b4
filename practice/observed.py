"""What an agent keeps: observations in the order in which they came, and the newest of each data item."""

from collections import deque
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import NamedTuple

KEPT = 16_384
"""Observations in the buffer."""


class Observation(NamedTuple):
    """One value of one data item of one device. ``kind``: a condition's level, "" for samples and events."""

    sequence: int
    when: datetime
    device: str
    item: str
    value: str
    kind: str = ""


@dataclass(frozen=True, slots=True)
class Part:
    """A part of the buffer: its observations, and the sequence number to go on from."""

    observations: list[Observation]
    next_sequence: int


class Buffer:
    """The last observations of all devices."""

    def __init__(self) -> None:
        self.entries: deque[Observation] = deque(maxlen=KEPT)
        self.newest: dict[tuple[str, str], Observation] = {}
        self.next_sequence = 1

    @property
    def first_sequence(self) -> int:
        return self.entries[0].sequence if self.entries else self.next_sequence

    def observe(self, device: str, item: str, value: str, kind: str = "", when: datetime | None = None) -> None:
        """Keep a value, if it is another than before."""
        before = self.newest.get((device, item))
        if before is not None and before.value == value and before.kind == kind:
            return
        found = Observation(self.next_sequence, when or datetime.now(UTC), device, item, value, kind)
        self.next_sequence += 1
        self.entries.append(found)
        self.newest[(device, item)] = found

    def current(self, devices: set[str]) -> Iterator[Observation]:
        """The newest of each item."""
        return (entry for entry in self.newest.values() if entry.device in devices)

    def part(self, devices: set[str], start: int, count: int) -> Part:
        """``count`` observations at most, from the sequence number ``start`` on."""
        found: list[Observation] = []
        begin = max(0, start - self.first_sequence)
        for index in range(begin, len(self.entries)):
            entry = self.entries[index]
            if entry.device in devices:
                found.append(entry)
                if len(found) == count:
                    return Part(found, entry.sequence + 1)
        return Part(found, self.next_sequence)

    def forget(self, device: str) -> None:
        """Nothing is known of a device that is built anew."""
        self.newest = {key: entry for key, entry in self.newest.items() if key[0] != device}
