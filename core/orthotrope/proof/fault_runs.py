"""One run of a case, for all the faults that may apply to it: what of the world it depended on, and where first.

A fault that changes nothing of what it depended on changes nothing of the run; another one's run begins before the block in
which it first depended on what is changed. A test compares both with full runs."""

import math
from collections.abc import Iterable
from dataclasses import replace
from typing import NamedTuple

from orthotrope.machine.changing import Changing
from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun, RunState
from orthotrope.machine.motion import Vector
from orthotrope.machine.run import Run
from orthotrope.machine.trace import BlockState
from orthotrope.program.blocks import AnyBlock, Block, If, Program
from orthotrope.proof.case import Case
from orthotrope.proof.common_run import CommonRun, Stand
from orthotrope.proof.lengths import WRONG_BY, of_other_length


class BlockSnapshot(NamedTuple):
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


def _only_goes_on(block: AnyBlock, index: int, program: Program) -> bool:
    """Whether a block only says where the program goes on: nothing of machine or parameters is another after it. A loop
    that waits is run as one dwell."""
    control = block.control if isinstance(block, Block) else None
    return control is not None and not (isinstance(control, If) and control.then) and index not in program.waits


class SharedRun:
    """The run of a case as called. ``first``: for each thing that it depended on (:attr:`Journal.dependencies`) a moment
    before it did, from which a run may go on; ``foreign``: those of them that are
    another requested tool's, up to where they are the same; ``last``: one before the last block; ``stood``: how everything stood
    after each block. With ``tools`` it is followed for those: each may be requested in its place, and what is the same
    is run once; ``begun`` is the run of another requested tool that was followed. ``looks``: what is passed closely is noted."""

    run: ProgramRun
    done: Run
    first: dict[str, Stand]
    foreign: frozenset[str]
    stood: list[BlockSnapshot]
    last: Stand

    def __init__(self, case: Case, begun: "SharedRun | None" = None, tools: Iterable[int] = (), looks: bool = False):
        self.family: Family | None = None
        self.foreign: frozenset[str] = frozenset()
        self.following: CommonRun | None = None
        tool = case.call.to_tool
        way = begun.following.ways.get(tool) if begun and begun.following else None
        if begun and way is None:  # the whole run is the same
            self.run, self.stood = begun.run, begun.stood
            self.first, self.foreign = begun.first, frozenset(begun.first)
            self.done, self.last = replace(begun.done, call=case.call), begun.last.of_tool(tool)
            case.keep(self.done)
            return
        state = way.of_tool(tool).state.control if way else None
        world = case.looking if looks else case.world
        self.run = ProgramRun(case.program, Control(case.profile, world, case.call, state))
        self.run.merges = True
        self.run.machine.collisions.longer = of_other_length(case.world.tools, WRONG_BY)
        self.first, self.stood = {}, []
        if begun and way:
            _take(self.run, begun.run, way, tool)
            self.first = {thing: begun.first[thing] for thing in way.dependencies}
            self.foreign = way.dependencies
            self.stood = begun.stood[: way.noted]
        if others := set(tools) - {tool}:
            self.following = CommonRun(self.run, tool, others)
        self._go()
        self.done = self.run.run
        case.keep(self.done)

    def _stand(self) -> Stand:
        return self.following.stand(len(self.stood)) if self.following else Stand(self.run.kept())

    def _go(self) -> None:
        run, known, before = self.run, len(self.run.machine.journal.dependencies), self._stand()
        values = before.state.control.values
        while True:
            index = run.index
            block = run.program.blocks[index] if index < len(run.program.blocks) else None
            if not run.step() or block is None:
                break
            if self.following:
                self.following.after(block, index, before)
            if len(run.machine.journal.dependencies) > known:
                self._note(before)
                known = len(run.machine.journal.dependencies)
            if _only_sets(block):
                values = dict(run.parameters.values)
            # A stand costs as much as a block: blocks that only jump have none of their own.
            elif not _only_goes_on(block, index, run.program):
                before = self._stand()
                values = before.state.control.values
            machine = before.state.control.machine
            self.stood.append(BlockSnapshot(run.run.trace.blocks[-1], machine.position, machine.changer, values))
        if self.following and block is not None:
            self.following.after(block, index, before)
        self._note(before)
        self.last = before

    def _note(self, before: Stand) -> None:
        for thing in self.run.machine.journal.dependencies:
            self.first.setdefault(thing, before)

    def go_on(self, under: Case, changed: frozenset[str] | None, key: object = None) -> None:
        """Let a case that differs from the shared one in what is ``changed`` (None: in more than that) have its run:
        the shared one where it depended on nothing of it, else one that begins before it was. ``key`` names what is
        changed, where that does not depend on the requested tool: then it may begin where that is first read."""
        depended = None if changed is None else [thing for thing in changed if thing in self.first]
        earliest: RunState | None = None
        if depended:
            thing = min(depended, key=lambda one: self.first[one].state.blocks_run)
            stand = self.first[thing]
            earliest = (stand.of_tool(self.done.call.to_tool) if thing in self.foreign else stand).state
        elif depended is not None:
            if not changed or "stored" not in changed:
                under.keep(self.done)
                return
            earliest = self.last.state  # only its last block is run again: the trace tells what is stored
        if (
            self.family
            and key
            and self.family.is_same_until(under.call.to_tool) > (earliest.blocks_run if earliest else 0)
        ):
            self.family.go_on(key, under)
        elif earliest:
            run = ProgramRun(under.program, Control(under.profile, under.world, under.call, earliest.control))
            run.merges = True
            before = {thing for thing, stand in self.first.items() if stand.state.blocks_run < earliest.blocks_run}
            run.take_over(self.run, earliest, before)
            under.keep(run.go())


def _take(run: ProgramRun, begun: ProgramRun, way: Stand, tool: int) -> None:
    """Go on where another requested tool's run was, with what it had noted until then."""
    run.take_over(begun, way.of_tool(tool).state, way.dependencies)
    run.parameters.read = set(way.read)
    run.machine.journal.dependencies |= way.dependencies
    run.run.feed, run.run.lengths_under = way.feed, dict(way.lengths_under)
    run.run.request_used = begun.run.request_used


class Family:
    """The cases that differ in the requested tool only: what is the same in them is run once, with each fault too."""

    def __init__(self, tools: Iterable[int]):
        self.tools = frozenset(tools)
        self._main: SharedRun | None = None
        self._under: dict[object, SharedRun] = {}

    def shared(self, case: Case) -> SharedRun:
        """The run of one of the cases."""
        found = SharedRun(case, self._main, () if self._main else self.tools, looks=True)
        self._main = self._main or found
        found.family = self if self.tools else None
        return found

    def is_same_until(self, tool: int) -> float:
        """How many blocks the run of this requested tool has in common with the others'."""
        following = self._main.following if self._main else None
        if following is None:
            return 0
        if tool == following.tool:  # its own: as far as most of the others'
            return max((way.state.blocks_run for way in following.ways.values()), default=math.inf)
        way = following.ways.get(tool)
        return way.state.blocks_run if way else math.inf

    def go_on(self, key: object, under: Case) -> None:
        """Let one of the cases have its run under a fault that does not depend on the requested tool; ``key`` names
        the fault."""
        begun = self._under.get(key)
        if begun is None:
            self._under[key] = SharedRun(under, tools=self.tools)
            return
        assert begun.following is not None
        tool = under.call.to_tool
        way = begun.following.ways.get(tool)
        if way is None:
            under.keep(replace(begun.done, call=under.call))
            return
        state = way.of_tool(tool).state.control
        run = ProgramRun(under.program, Control(under.profile, under.world, under.call, state))
        run.merges = True
        _take(run, begun.run, way, tool)
        under.keep(run.go())
