"""One run of a case, for all the faults that it may befall: what it asked of the world, and where first.

A fault that changes nothing of what was asked changes nothing of the run; another one's run begins before the block in
which what it changes was first asked. A test compares both with full runs."""

from typing import NamedTuple

from orthotrope.machine.changing import Changing
from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun, RunState
from orthotrope.machine.motion import Vector
from orthotrope.machine.trace import BlockState
from orthotrope.program.blocks import AnyBlock, Block, If
from orthotrope.proof.case import Case


class Stood(NamedTuple):
    """How everything stood after a block: the place, what changes tools, the parameters."""

    block: BlockState
    position: Vector
    changer: Changing | None
    values: dict[int, float]


def _only_sets(block: AnyBlock) -> bool:
    """Whether a block sets parameters and does nothing else: nothing of the machine is another after it."""
    if not isinstance(block, Block) or block.words:
        return False
    return block.control is None or (isinstance(block.control, If) and block.control.then is not None)


class SharedRun:
    """The run of a case as called. ``first``: for each thing that it asked (:attr:`VirtualMachine.asked`) a state
    before it did, from which a run may go on; ``stood``: how everything stood after each block."""

    def __init__(self, case: Case):
        self.run = ProgramRun(case.program, Control(case.profile, case.world, case.call))
        self.run.merges = True
        self.first: dict[str, RunState] = {}
        self.stood: list[Stood] = []
        run, known, before = self.run, 0, self.run.kept()
        while True:
            block = run.program.blocks[run.index] if run.index < len(run.program.blocks) else None
            if not run.step() or block is None:
                break
            if len(run.machine.asked) > known:
                self._note(before)
                known = len(run.machine.asked)
            if not _only_sets(block):
                before = run.kept()
                values = before.control.values
            else:
                values = dict(run.parameters.values)
            machine = before.control.machine
            self.stood.append(Stood(run.run.trace.blocks[-1], machine.position, machine.changer, values))
        self._note(before)
        case.keep(run.run)

    def _note(self, before: RunState) -> None:
        for thing in self.run.machine.asked:
            self.first.setdefault(thing, before)

    def go_on(self, under: Case, changed: frozenset[str]) -> None:
        """Let a case that differs from the shared one in what is ``changed`` have its run: the shared one where nothing
        of it was asked, else one that begins before it was."""
        begins = [self.first[thing] for thing in changed if thing in self.first]
        if not begins:
            under.keep(self.run.run)
            return
        earliest = min(begins, key=lambda kept: kept.blocks_run)
        run = ProgramRun(under.program, Control(under.profile, under.world, under.call))
        run.merges = True
        asked = "magazine" in self.first and self.first["magazine"].blocks_run < earliest.blocks_run
        run.take_over(self.run, earliest, asked)
        under.keep(run.go())
