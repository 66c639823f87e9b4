"""One run for all tools that may be requested: what is the same whichever it is, and where each goes its own way.

The parameter of the requested tool is followed, with those that it is copied to. As long as a run only copies it, and
reads it in conditions that come to the same for another tool, that tool's run is the same; but for the numbers in its
events of parameters that were set, which no check reads. A test compares with whole runs."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import NamedTuple

from orthotrope.machine.executor import ProgramRun, RunState
from orthotrope.machine.parameters import ParameterStore
from orthotrope.program.blocks import AnyBlock, Block, If, Setting, While
from orthotrope.program.expressions import Evaluator
from orthotrope.program.faults import RunFault
from orthotrope.sequence.values import Named
from orthotrope.setup.control import Parameters


class Stand(NamedTuple):
    """A moment of a run from which it may go on: its ``state``, which parameters stand for the requested tool there,
    and what the run had noted until then."""

    state: RunState
    followed: frozenset[int] = frozenset()
    noted: int = 0
    dependencies: frozenset[str] = frozenset()
    read: frozenset[int] = frozenset()
    feed: tuple[int, float] | None = None
    lengths_under: tuple[tuple[int, int], ...] = ()

    def of_tool(self, tool: int) -> "Stand":
        """The same moment with another requested tool."""
        control = self.state.control
        values = {**control.values, **dict.fromkeys(self.followed, float(tool))}
        return self._replace(state=self.state._replace(control=control._replace(values=values)))


class _Trial:
    """A store in which the followed parameters have another tool's number; inputs can't be asked."""

    def __init__(self, store: ParameterStore, tool: int):
        self.store, self.tool = store, float(tool)

    def at(self, index: int) -> float:
        if index in self.store.inputs:
            raise RunFault("an input")
        if index in self.store.followed:
            return self.tool
        return self.store.at(index)

    def number(self, number: float) -> float:
        return self.at(self.store.index(number))

    def named(self, name: str) -> float:
        return self.store.named(name)


@dataclass
class CommonRun:
    """Follows a run as it goes; ``left``: the tools whose runs are the same, ``ways``: where the others' are not any
    more."""

    run: ProgramRun
    tool: int
    left: set[int]
    ways: dict[int, Stand] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.store.followed = {self._known.exchange_to}

    @property
    def _known(self) -> Parameters:
        return self.run.control.profile.parameters

    @property
    def store(self) -> ParameterStore:
        return self.run.parameters

    def stand(self, noted: int) -> Stand:
        """The present moment."""
        run = self.run
        return Stand(
            run.kept(),
            frozenset(self.store.followed),
            noted,
            frozenset(run.machine.journal.dependencies),
            frozenset(self.store.read),
            run.run.feed,
            tuple(run.run.lengths_under.items()),
        )

    def after(self, block: AnyBlock, index: int, before: Stand) -> None:
        """A block has been run; ``before``: a moment before it, from which a run may go on."""
        if not self.left:
            return
        met, self.store.met = self.store.met, False
        # Its arguments may hold the number under another name: nothing is known of what it does with it.
        if any(frame.locals is not None for frame in self.run.frames):  # a call has parameters of its own
            self._part(self.left, before)
        elif met:
            self._part(self._others(block, index), before)
        elif isinstance(block, Block):
            self._set_otherwise(block)

    def _others(self, block: AnyBlock, index: int) -> set[int]:
        """The tools for which a block that read the followed parameters does something else."""
        if not isinstance(block, Block) or block.words or block.messages:
            return self.left
        control = block.control
        if isinstance(control, If | While) and control.evaluate is not None:
            waits = isinstance(control, While) and index in self.run.program.waits
            if waits or (isinstance(control, If) and control.then is not None):
                return self.left
            return self._differ(control.evaluate)
        return self.left if control is not None else self._copied(block.settings)

    def _differ(self, condition: Evaluator) -> set[int]:
        """The tools for which a condition comes to something else."""
        store = self.store
        try:
            here = condition(_Trial(store, self.tool)) == 0
            return {tool for tool in self.left if (condition(_Trial(store, tool)) == 0) != here}
        except RunFault:
            return self.left
        finally:
            store.met = False

    def _copied(self, settings: Iterable[Setting]) -> set[int]:
        """The tools for which these settings do more than copy the requested tool's number."""
        store = self.store
        try:
            for setting in settings:
                if isinstance(setting.target, Named) or setting.index is None:
                    return self.left
                tools = {self.tool, *self.left}
                if any(setting.evaluate(_Trial(store, tool)) != tool for tool in tools):
                    return self.left
                target = store.index(setting.index(store))
                # A copy of the number is the same for every tool but where the trace shows it.
                if target in (self._known.record, self._known.record_doubtful):  # the trace tells it block by block
                    return self.left
                store.followed.add(target)
        except RunFault:
            return self.left
        finally:
            store.met = False
        return set()

    def _set_otherwise(self, block: Block) -> None:
        """A parameter that stood for the tool has been given another value."""
        settings = block.settings
        if isinstance(block.control, If) and block.control.then is not None:
            settings = (*settings, block.control.then)
        for setting in settings:
            if setting.index is not None and self.store.followed:
                self.store.followed.discard(round(setting.index(self.store)))
        self.store.met = False

    def _part(self, tools: Iterable[int], before: Stand) -> None:
        self.ways |= dict.fromkeys(tools, before)
        self.left = self.left - self.ways.keys()
