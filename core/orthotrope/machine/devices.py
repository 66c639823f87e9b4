"""The changer's devices while the machine moves and is at rest: grip, disc, arm, cover."""

from collections.abc import Iterator

from orthotrope.machine.carrier import ToolCarrier
from orthotrope.machine.changing import ChangerEvent, MoveInterval, Now
from orthotrope.machine.journal import Journal
from orthotrope.machine.kinematics import Kinematics
from orthotrope.machine.motion import MotionLaw, Vector
from orthotrope.machine.signals import Signals
from orthotrope.machine.spindle import Spindle
from orthotrope.machine.stops import Crashed


class Devices:
    """Has the changer do what is due, and notes what happens: events, what is held, what the inputs show."""

    def __init__(self, journal: Journal, axes: Kinematics, spindle: Spindle, carrier: ToolCarrier, signals: Signals):
        self.journal, self.axes, self.spindle, self.carrier, self.signals = journal, axes, spindle, carrier, signals

    def settle(self, t: float) -> None:
        """Let the devices come to where they are at ``t``. Raises Crashed where that does harm."""
        changer = self.carrier.changer
        if changer is None or not changer.busy:
            return
        done = list(changer.until(t, self.axes.true_position))
        for event in done:
            self.happened(event)
        if done:
            self.signals.note(done[-1].t)

    def hand_over(self, start: Vector, end: Vector) -> None:
        """What a move does to a tool that is between spindle and pocket. Raises Crashed where it does harm."""
        changer, t = self.carrier.changer, self.journal.t
        if changer is None:
            return
        self.settle(t)
        event = changer.moving(*self.axes.true_ends(start, end), self._now())
        if event:
            self.happened(event)
        self.carrier.note_holding(t)

    def within(
        self, law: MotionLaw | None, t0: float, t1: float, rise: float, sideways: bool = False
    ) -> ChangerEvent | None:
        """Have the devices go on during a move or a dwell (``law`` None); returns the harm that ends it, if any."""
        changer = self.carrier.changer
        if changer is None:
            return None
        self.journal.dependencies.add("magazine")
        ramps = self.journal.trace.ramps
        for event in changer.during(MoveInterval(law, t0, t1, self.axes.true_position, rise, sideways, ramps)):
            if event.harm:
                return event
            self.happened(event)
        return None

    def moved(self) -> None:
        """A move has ended. Raises Crashed where what was due meanwhile does harm."""
        changer = self.carrier.changer
        if changer:
            self.settle(self.journal.t)
            changer.moved(self.axes.true_position)

    def switch(self, word: int, p: float | None) -> Iterator[ChangerEvent]:
        """Switch what an M word (with its P) switches; what follows at once, event by event. Raises Crashed where that does harm."""
        changer, magazine = self.carrier.changer, self.carrier.world.magazine
        if changer is None:
            return
        self.journal.dependencies.add("magazine")
        self.settle(self.journal.t)
        switched = magazine.device_of(word, p) if magazine else None
        if switched:
            self.journal.dependencies.update((f"device {switched[0]}", f"device {switched[0]} {switched[1]}"))
        for event in changer.switch(word, p, self._now()):
            self.happened(event)
            yield event
        self.carrier.note_holding(self.journal.t)
        self.signals.note()
        self.settle(self.journal.t)

    def happened(self, event: ChangerEvent) -> None:
        """Note what a device did. Raises Crashed where it is harm."""
        self.journal.event(event.kind, event.t, **event.data)
        if event.depends_on:
            self.journal.dependencies.add(event.depends_on)
        if event.harm:
            raise Crashed
        self.carrier.note_holding(event.t)

    def quiet_until(self) -> float:
        """Until when no input changes as long as the machine is at rest; now, where that can't be said."""
        t, spindle, changer = self.journal.t, self.spindle, self.carrier.changer
        moments = [ramp.t1 for ramp in self.journal.trace.ramps[-1:]] + [spindle.oriented_from]
        if changer:
            own = list(changer.changes_at(t, bool(spindle.rate)))
            if t in own:
                return t
            moments += own
        return min((moment for moment in moments if moment > t), default=float("inf"))

    def _now(self) -> Now:
        magazine = self.carrier.world.magazine
        return Now(self.journal.t, self.axes.true_position, self.spindle.turning(), self.spindle.fits(magazine))
