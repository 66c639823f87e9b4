"""The inputs of the virtual machine: what actuates them, and what the control sees of them."""

import math

from orthotrope.calc.wiring import Lead
from orthotrope.machine.carrier import ToolCarrier
from orthotrope.machine.inputs import WorldInput
from orthotrope.machine.journal import Journal
from orthotrope.machine.shapes import Body
from orthotrope.machine.spindle import Spindle
from orthotrope.machine.world import World


class Signals:
    """``made``: the numbers of the inputs that are actuated whatever else is; ``by_hand``: those that a person holds, actuated or idle;
    ``leads``: those whose lead is not sound; ``stay_made``: those that a touch has actuated so far. ``pressed``: the body that what
    the spindle carries is pressed onto; ``awake_from``: the time from which a probe that sleeps reports touches."""

    def __init__(self, world: World, journal: Journal, spindle: Spindle, carrier: ToolCarrier):
        self.world, self.journal, self.spindle, self.carrier = world, journal, spindle, carrier
        self.made = set(world.inputs.at_rest)
        self.by_hand: dict[int, bool] = {}
        self.leads: dict[int, Lead] = {}
        self.stay_made: set[int] = set()
        self.pressed: Body | None = None
        self.awake_from = math.inf

    def is_made(self, entry: WorldInput) -> bool:
        """Whether the contact of this input is actuated: by what the machine touches, by a hand, or by its own state."""
        if entry.number in self.by_hand:
            return self.by_hand[entry.number]
        if entry.dead or entry.stuck:
            return entry.stuck
        if entry.stays and entry.number in self.stay_made:
            return True
        if entry.role == "spindle still":
            return self.spindle.turning() == 0
        if entry.role == "oriented":
            return self.spindle.is_oriented()
        changer = self.carrier.changer
        made = changer.is_made(self.world.inputs.roles[entry.number], self.journal.t) if changer else None
        if made is not None:
            return made
        return entry.number in self.made or (self.pressed is not None and self.makes(self.pressed) == entry.number)

    def makes(self, body: Body) -> int | None:
        """The number of the input that a touch of a body actuates; a stylus actuates its own, while it is awake."""
        stylus = self.carrier.stylus
        if stylus is None:
            return body.makes
        return None if stylus.sleeps and self.journal.t < self.awake_from else stylus.input

    def dead(self, entry: WorldInput) -> bool:
        """Whether the control sees no touch of this input: it sees the same whether it is actuated or not, or the
        reverse."""
        held = self.by_hand.get(entry.number) is False
        return entry.dead or held or not entry.seen(True, self.leads.get(entry.number, "sound"))

    def sees(self, entry: WorldInput) -> bool:
        """What the control sees of this input."""
        return entry.seen(self.is_made(entry), self.leads.get(entry.number, "sound"))

    def hold(self, number: int, made: bool) -> None:
        """An input's contact is held as it is from now on, whatever the machine touches."""
        self.by_hand[number] = made
        self.note()

    def press(self, body: Body, inside: bool) -> None:
        """What the spindle carries has come to where a body is: it is pressed onto it (``inside``), or not any more."""
        was, self.pressed = self.pressed, body if inside else None
        if self.pressed is not None and (made := self.makes(self.pressed)) is not None:
            self.stay_made.add(made)
        if (was is None) != (self.pressed is None):
            self.journal.event("pressed" if inside else "released", body=body.name, input=self.makes(body))
            self.note()

    def wake(self, word: int, p: float | None) -> None:
        """An M word (with its P) may wake a probe, or let it sleep."""
        waking = self.world.waking
        if waking and (word, p) in (waking.on, waking.off):
            self.awake_from = self.journal.t + waking.seconds if (word, p) == waking.on else math.inf

    def note(self, t: float | None = None) -> None:
        """Note in the trace what the control sees from now on, or from ``t`` on."""
        if self.world.inputs:
            when = self.journal.t if t is None else t
            seen = {name: states[self.is_made(entry)] for name, states, entry in self._lamps()}
            self.journal.trace.inputs.append((when, seen))

    def _lamps(self) -> list[tuple[str, tuple[bool, bool], WorldInput]]:
        """As :attr:`Inputs.lamps`, with the leads as they are."""
        if not self.leads:
            return self.world.inputs.lamps
        leads = {entry.number: self.leads.get(entry.number, "sound") for entry in self.world.inputs}
        return [(e.name, (e.seen(False, leads[e.number]), e.seen(True, leads[e.number])), e) for e in self.world.inputs]
