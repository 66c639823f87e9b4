"""Watches whether a program confirms what it switches: by reading an input, by a dwell, or not at all."""

from bisect import bisect_left
from dataclasses import dataclass, field
from itertools import takewhile
from typing import NamedTuple

from orthotrope.machine.inputs import WorldInput
from orthotrope.machine.trace import Event
from orthotrope.machine.virtual import VirtualMachine
from orthotrope.setup.control import ControlProfile
from orthotrope.setup.roles import INPUT_ROLES, ON_TOOL

NOT_CONFIRMED = frozenset({0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 30, 48, 49, 60, 98, 99})
"""M words that need no confirmation before an axis moves: stops, spindle, coolant, overrides, calls."""


class PolledInput(NamedTuple):
    """An input that was read, how often with time between, since when, and what it said."""

    since: float
    last: float
    times: int
    said: bool
    line: int


@dataclass(slots=True)
class Watch:
    """``word``: what was switched last and whose input was not read, ``dwelt_since``: seconds of dwells since; ``polled``: the inputs read since the
    last move."""

    machine: VirtualMachine
    profile: ControlProfile
    word: tuple[int, float | None] | None = None
    dwelt_since: float = 0.0
    polled: dict[str, PolledInput] = field(default_factory=dict)

    def copied(self) -> "Watch":
        return Watch(self.machine, self.profile, self.word, self.dwelt_since, dict(self.polled))

    def of(self, machine: VirtualMachine) -> "Watch":
        """The same, of another machine."""
        other = self.copied()
        other.machine = machine
        return other

    def switched(self, code: int, p: float | None) -> None:
        if code in (3, 4):
            self.word = None
        elif code == 5 or code not in NOT_CONFIRMED:
            self.word, self.dwelt_since = (code, p), 0.0

    def read(self, entry: WorldInput) -> float:
        """The state of an input as a program reads it: 1 is made."""
        said, t = self.machine.signals.sees(entry), self.machine.t
        self.machine.journal.dependencies.add(f"input {entry.number}")
        self.word = None
        before = self.polled.get(entry.name)
        if before is None or before.said != said:
            self.polled[entry.name] = PolledInput(t, t, 1, said, self.machine.journal.line)
        elif t > before.last:
            self.polled[entry.name] = PolledInput(before.since, t, before.times + 1, said, before.line)
        return 1.0 if said else 0.0

    def dwelt(self, begin: float, end: float) -> None:
        """A dwell: where an input became actuated in it that detects what was switched, it could have been waited for."""
        if self.word is None:
            return
        self.dwelt_since += end - begin
        reported = self._detecting_input(*self.word)
        if reported is None:
            return
        inputs = self.machine.trace.inputs
        first = bisect_left(inputs, begin - 1e-9, key=lambda entry: entry[0])
        within = takewhile(lambda entry: entry[0] <= end, (inputs[at] for at in range(first, len(inputs))))
        made = next((t for t, seen in within if seen.get(reported.name)), None)
        if made is not None or (reported.role in ("spindle still", "oriented") and self.machine.signals.sees(reported)):
            self.machine.journal.event(
                "blind-dwell", input=reported.name, role=reported.role, word=f"M{self.word[0]}", seconds=end - begin
            )

    def moves(self) -> None:
        """An axis is about to move."""
        if self.word and self.word[0] not in NOT_CONFIRMED and (short := self._dwelt_too_short(*self.word)) is not None:
            self.machine.journal.event("unconfirmed", word=f"M{self.word[0]}", dwelt=self.dwelt_since, takes=short)
        self.word = None
        self.polled.clear()

    def _dwelt_too_short(self, code: int, p: float | None) -> float | None:
        """How long its device takes, where the program dwelt less (not at all, where that is not known), seconds; None: long enough."""
        magazine = self.machine.world.magazine
        switched = magazine.device_of(code, p) if magazine else None
        takes = magazine.takes(switched[0]) if magazine and switched else 0.0
        return takes if self.dwelt_since < max(takes, 1e-9) - 1e-6 else None

    def stopped(self) -> None:
        """The program waits for a person, or ends: an input that was read again and again, and never changed, did not
        come."""
        for name, entry in self.polled.items():
            if entry.times > 1:
                data = {"input": name, "seconds": entry.last - entry.since, "said": entry.said}
                at = self.machine
                at.trace.events.append(Event("wait-expired", at.t, entry.line, at.position, data))
        self.polled.clear()

    def _detecting_input(self, code: int, p: float | None) -> WorldInput | None:
        """The input that detects that what this word switches is done."""
        role = "spindle still" if code == 5 else None
        magazine = self.machine.world.magazine
        if f"M{code}" == self.profile.orient:
            role = "oriented"
        elif magazine and (switched := magazine.device_of(code, p)):
            device, state = switched
            tells = (device, ON_TOOL if state == "closed" else state)
            role = next((name for name, known in INPUT_ROLES.items() if known.tells == tells), role)
        return next((entry for entry in self.machine.world.inputs if entry.role == role), None)
