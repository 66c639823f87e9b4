"""The inputs of a practice machine at a person's hands: contacts, leads, the air."""

import math
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Literal

from orthotrope.machine.inputs import WorldInput

from practice.playback import Playback
from practice.state import PracticeState, Refused


@dataclass(frozen=True, slots=True)
class BounceEdge:
    """An input's level as the control saw it change: seconds after the first, and whether it is made."""

    after: float
    made: bool


class Switches:
    """What actuates inputs beside the machine itself."""

    def __init__(self, state: PracticeState, playback: Playback):
        self.state, self.playback = state, playback

    def input_named(self, number: int) -> WorldInput:
        for entry in self.state.world.inputs:
            if entry.number == number:
                return entry
        raise Refused(f"There is no input {number} at this machine.")

    def make(self, number: int, made: bool) -> None:
        """Press or touch what makes an input, or let go of it. Its contact bounces: ``edges`` gets what the control
        sees of that through its filter."""
        entry = self.input_named(number)
        before = self.state.machine.signals.sees(entry)
        (self.state.machine.signals.made.add if made else self.state.machine.signals.made.discard)(number)
        after = self.state.machine.signals.sees(entry)
        edges = self._bounce(entry, before, after)
        now = datetime.now(UTC)
        self.state.edges += [(number, now + timedelta(seconds=edge.after), edge.made) for edge in edges]
        self._inputs_changed(entry)

    def tap(self, number: int) -> None:
        """Touch with a hand what makes an input, for a moment, while a touching move is under way: that ends there.

        Raises:
            Refused: while there is none.
        """
        self.input_named(number)
        activity, segments = self.state.activity, self.state.machine.trace.segments
        last = segments[-1] if segments else None
        moves = last is not None and last.kind == "touch" and last.t0 <= self.state.now < last.t1
        if activity is None or activity.kept is None or not moves or self.state.execution != "ACTIVE":
            raise Refused("No touching move is under way; touch the tip while it searches or measures.")
        self.state.machine.touch_unit.tapped = number, self.state.now
        try:
            activity.again(activity.kept, math.inf)
        finally:
            self.state.machine.touch_unit.tapped = None
        self.state.heard = min(self.state.heard, len(self.state.machine.trace.events))
        self.state.changed()

    def _bounce(self, entry: WorldInput, before: bool, after: bool) -> list[BounceEdge]:
        if before == after:
            return []
        at, edges, state = 0.0, [BounceEdge(entry.filter, after)], after
        for _ in range(self.state.chance.randrange(2, 5) * 2):
            at += self.state.chance.uniform(0.0002, 0.0018)
            state = not state
            if at >= entry.filter and edges[-1].made != state:
                edges.append(BounceEdge(round(entry.filter + at, 6), state))
        if edges[-1].made != after:
            edges.append(BounceEdge(round(edges[-1].after + 0.0009, 6), after))
        return edges if entry.filter < 0.0018 else edges[:1]

    def lead(self, number: int, state: Literal["sound", "broken", "to ground"]) -> None:
        """Unplug a lead, short it to ground, or fix it."""
        entry = self.input_named(number)
        self.state.machine.signals.leads[number] = state
        self._inputs_changed(entry)

    def _inputs_changed(self, entry: WorldInput) -> None:
        if (
            entry.role == "door"
            and not self.state.machine.signals.sees(entry)
            and self.state.activity
            and self.state.activity.kind != "jog"
        ):
            self.playback.stop("The door was opened: the machine has stopped.")
        self.state.changed()

    def set_air(self, enough: bool) -> None:
        """Set the air low, or give it back; a running program stops."""
        self.state.air = enough
        for entry in self.state.world.inputs:
            if entry.role == "air":
                (self.state.machine.signals.made.add if enough else self.state.machine.signals.made.discard)(
                    entry.number
                )
        if not enough and self.state.activity and self.state.activity.kind == "program":
            self.playback.stop("The air is low: the machine has stopped.")
        self.state.changed()
