"""A practice machine runs programs, is held, and goes on."""

from typing import Any

from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun
from orthotrope.machine.run import Call
from orthotrope.program.reader import read_text

from practice.playback import Playback
from practice.results import Ran, Recorded
from practice.state import Activity, PracticeState, Refused


class Programs:
    """The control runs program texts."""

    def __init__(self, state: PracticeState, playback: Playback):
        self.state, self.playback = state, playback

    def run(self, text: str, from_tool: int, to_tool: int, of: dict[str, Any] | None = None) -> None:
        """Run a program text from where the machine stands; ``of``: what it is, for those who ask later what its results are of.

        Raises:
            Refused: an unreadable text, or where the machine does not run one now.
        """
        self.playback.ready("run a program")
        if not self.state.air:
            raise Refused("The air is low; let it come up before a program runs.")
        program = read_text(text)
        if not program.readable:
            raise Refused(f"The text can't be read, nothing is run. {program.faults[0]}")
        self.state.results.begin(
            Ran(of or {}, self.state.homings), self.state.control.parameters.values, self.state.control.lengths
        )
        control = self._called(from_tool, to_tool)
        self.state.touched, self.state.message = [], ""  # what was said and touched is of the program before
        run = ProgramRun(program, control)
        self.playback.begin(Activity("program", run.step, run.kept, run.again, text=text.splitlines()))

    def _called(self, from_tool: int, to_tool: int) -> Control:
        """A control that has what this one has, called at this place with these tools."""
        old = self.state.control
        inch = self.state.setup.profile.unit == "inch"
        call = Call(at=self.state.machine.position, unit=20 if inch else 21, from_tool=from_tool, to_tool=to_tool)
        control = Control(self.state.setup.profile, self.state.world, call)
        known = self.state.setup.profile.parameters
        own = {
            known.exchange_from,
            known.exchange_to,
            known.called_unit,
            known.called_distance,
            *(known.called_at_first + axis for axis in range(3)),
        }
        kept = {n: v for n, v in old.parameters.values.items() if n not in own}
        self.state.results.parameters = Recorded(control.parameters.values | kept)
        control.parameters.values = self.state.results.parameters
        control.machine, control.lengths = old.machine, self.state.results.lengths
        control.watch.machine = old.machine
        control.run.trace = old.machine.trace
        control.offset = control.offset_now()
        self.state.control = control
        return control

    def hold(self) -> None:
        """Hold the program's feed; it slows down on its way."""
        if self.state.activity is None or self.state.activity.kind != "program":
            raise Refused("No program runs that could be held.")
        self.state.execution = "FEED_HOLD"

    def go_on(self) -> None:
        """Go on after a hold or a program's own stop."""
        if self.state.execution not in ("FEED_HOLD", "PROGRAM_STOPPED"):
            raise Refused("There is nothing to continue.")
        self.playback.go_on()
