"""One run of a case, for all the faults that it may befall: what it asked of the world, and where first.

A fault that changes nothing of what was asked changes nothing of the run; another one's run begins before the block in which what
it changes was first asked. A test compares both with full runs.
"""

from orthotrope.machine.control import Control, ControlState
from orthotrope.machine.executor import ProgramRun, RunState
from orthotrope.machine.trace import BlockState
from orthotrope.proof.case import Case


class SharedRun:
    """The run of a case as called. ``first``: for each thing that it asked (:attr:`VirtualMachine.asked`) the state before the
    block that asked it first; ``stood``: how everything stood after each block."""

    def __init__(self, case: Case):
        self.run = ProgramRun(case.program, Control(case.profile, case.world, case.call))
        self.run.merges = True
        self.first: dict[str, RunState] = {}
        self.stood: list[tuple[BlockState, ControlState]] = []
        machine, known = self.run.machine, 0
        before = self.run.kept()
        while self.run.step():
            if len(machine.asked) > known:
                self._note(before)
                known = len(machine.asked)
            before = self.run.kept()
            self.stood.append((self.run.run.trace.blocks[-1], before.control))
        self._note(before)
        case.keep(self.run.run)

    def _note(self, before: RunState) -> None:
        for thing in self.run.machine.asked:
            self.first.setdefault(thing, before)

    def go_on(self, under: Case, changed: frozenset[str]) -> None:
        """Let a case that differs from the shared one in what is ``changed`` have its run: the shared one where nothing of it was
        asked, else one that begins before it was."""
        begins = [self.first[thing] for thing in changed if thing in self.first]
        if not begins:
            under.keep(self.run.run)
            return
        earliest = min(begins, key=lambda kept: kept.blocks_run)
        run = ProgramRun(under.program, Control(under.profile, under.world, under.call))
        run.merges = True
        run.take_over(self.run, earliest)
        under.keep(run.go())
