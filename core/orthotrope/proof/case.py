"""One case: a program, its purpose, and the world it runs in; its runs are made when a check first asks for them."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from typing import Literal

from orthotrope.calc.derived import DerivedChanger
from orthotrope.machine.events import EventKind
from orthotrope.machine.executor import run_program
from orthotrope.machine.passing import Passing
from orthotrope.machine.run import Call, Run
from orthotrope.machine.trace import Event
from orthotrope.machine.world import World
from orthotrope.program.blocks import AnyBlock, Plain, Program
from orthotrope.proof.findings import Finding, SetupFix, Severity
from orthotrope.registry import Registry
from orthotrope.setup import Setup
from orthotrope.setup.control import ControlProfile

Purpose = Literal["exchange", "measure", "probe", "return", "job"]
PURPOSES: dict[Purpose, str] = {
    "exchange": "an exchange of tools",
    "measure": "measuring a tool",
    "probe": "probing a part",
    "return": "going back to a known place",
    "job": "a job that cuts",
}
"""What each is called."""


@dataclass(frozen=True, slots=True)
class ProbedPart:
    """What a routine touches in this case. ``offset``: the work offset that it sets, None: none; ``clear_z``: machine Z below which the tip is among the part; ``place``: where what it
    finds really is, by axis (0 to 2; one that is not there must not be set), None: that is not known; ``readout``: what the
    readout shall show there, mm; ``turn_deg``: how far the part is turned, ``sets_turn``: whether that is set as well;
    ``place_tolerance``, ``turn_tolerance``: how far off it may be for
    anything to be set, mm and degrees, None: as far as it is found; ``holds_turned``: whether its place is found rightly on a part that is turned; ``sizes``: the parameter in which each size
    is kept, its name and what it really is, mm; ``kept``: that in which the place on each axis is kept, as how far it is off where it
    is expected; none where that is not known."""

    name: str
    offset: int | None
    clear_z: float
    place: dict[int, float] | None
    readout: tuple[float, float, float] = (0.0, 0.0, 0.0)
    turn_deg: float = 0.0
    place_tolerance: float | None = None
    turn_tolerance: float | None = None
    sets_turn: bool = False
    holds_turned: bool = False
    sizes: tuple[tuple[int, str, float], ...] = ()
    kept: tuple[tuple[int, int], ...] = ()

    def zero(self, axis: int) -> float | None:
        """Machine coordinate of the zero that is to be set, mm; None: this axis must not be set."""
        if self.place is None or axis not in self.place:
            return None
        x, y, _ = self.readout
        turn = math.radians(self.turn_deg) if self.sets_turn else 0.0
        shown = (x * math.cos(turn) - y * math.sin(turn), x * math.sin(turn) + y * math.cos(turn), self.readout[2])
        return self.place[axis] - shown[axis]


@dataclass(frozen=True, slots=True)
class MeasuredValue:
    """What a measuring sequence is for, where it is not to set a length: a value that is kept in the parameter of this ``number`` ("set"), the
    zero in Z of this work offset ("zero-set"), or the length of this tool in force ("length-active"); what it really is, mm (of a
    deviation: 0), and how far off it may be found before it is a failure."""

    name: str
    kind: Literal["set", "zero-set", "length-active"]
    number: int
    true: float
    allowed: float = math.inf


CRASHES: tuple[EventKind, ...] = (
    "body-contact",
    "pocket-occupied",
    "dropped-tool",
    "moved-ungripped",
    "driven-in",
    "beyond-travel",
    "not-homed",
    "end-stop",
)
"""After which nothing goes on: how close it came before is of no interest."""


NEAR = 50.0
"""mm; what is passed by more is not reported; of a job, which is long, only what is passed by less than the least clearance."""


@dataclass(slots=True)
class Case:
    """``main`` is the run as called; ``routine``: the routine whose part lies there; ``measured``: what a measuring is to find that is no length; ``tell`` gets how far a run is, 0 to 1;
    ``reached``: the lines that it, and every case that is made of it, has run; ``elsewhere``: it is called otherwise than usual, and what depends on the Setup alone is reported by the usual one."""

    program: Program
    profile: ControlProfile
    purpose: Purpose
    world: World
    call: Call
    setup: Setup | None = None
    derived: DerivedChanger | None = None
    routine: ProbedPart | None = None
    measured: MeasuredValue | None = None
    tell: Callable[[float], None] | None = None
    elsewhere: bool = False
    reached: set[int] = field(default_factory=set)
    _runs: dict[Call, Run] = field(default_factory=dict)
    _main: Run | None = field(default=None, init=False)
    """What all checks ask for; a case that is made of this one begins without it."""

    def run(self, call: Call) -> Run:
        if call not in self._runs:
            self._ran(call, run_program(self.program, self.profile, self.world, call, self.tell))
        return self._runs[call]

    def _ran(self, call: Call, run: Run) -> None:
        self._runs[call] = run
        if call is self.call:
            self._main = run
        if self.purpose != "job":  # which is long, and run once
            self.reached.update(block.line for block in run.trace.blocks)

    def unreached(self) -> list[int]:
        """Lines with blocks that neither it nor a case made of it has run."""
        blocks = self.program.blocks
        merged = {blocks[at + more].line for at in self.program.waits for more in (1, 2, 3)}  # run as one dwell
        return sorted({block.line for block in blocks if _acts(block)} - merged - self.reached)

    def keep(self, run: Run) -> None:
        """A run of the case as called that was made elsewhere."""
        self._ran(self.call, run)

    @property
    def main(self) -> Run:
        if self._main is None:
            self._main = self.run(self.call)
        return self._main

    @property
    def passed(self) -> tuple[Passing, ...]:
        """The closest that it passes each body, of those that it comes near, the closest first; none where it ends in harm."""
        if self.main.passed is None and self.looking.passing:
            self.look()
        main = self.main
        harmed = main.endless or main.fault or main.trace.of_kind(*CRASHES)
        return () if harmed or main.passed is None else main.passed

    @property
    def closest(self) -> Passing | None:
        """What it passes closest; None: nothing that it comes near."""
        return self.passed[0] if self.passed else None

    @property
    def looking(self) -> World:
        """Its world, where it is noted what is passed closely: a job, which is long, and one without a Setup by nothing else."""
        least = self.setup.machine.least_clearance if self.setup else 0.0
        return replace(self.world, passing=least if self.purpose == "job" else max(least, NEAR))

    def look(self) -> None:
        """Run it as called, and note what it passes closely: it takes a little longer, so it is not done under each fault."""
        self._ran(self.call, run_program(self.program, self.profile, self.looking, self.call, self.tell))

    @property
    def is_run(self) -> bool:
        """Whether it was run as called."""
        return self.call in self._runs

    def from_both_callers(self) -> Iterator[Run]:
        """The run from a millimetre caller, and from an inch one unless the first has no end."""
        main, inch = self.main, replace(self.call, unit=20)
        yield main
        if main.states_unit:  # it comes to the same
            self._runs[inch] = replace(main, call=inch, modes_before={**main.modes_before, "unit": 20})
        if not main.endless:
            yield self.run(inch)

    @property
    def asks_for_a_tool(self) -> bool:
        """Whether it is an exchange that reads which tool is requested."""
        return self.purpose == "exchange" and self.profile.parameters.exchange_to in self.main.read


def _acts(block: AnyBlock) -> bool:
    """Whether a block does anything: a label or a remark alone does not."""
    if isinstance(block, Plain):
        return bool(block.letters)
    return bool(block.words or block.settings or block.control)


Scope = Literal["setup", "static", "text", "run"]


@dataclass(frozen=True, slots=True)
class Registered:
    name: str
    severity: Severity
    scope: Scope
    harms: bool
    function: Callable[[Case, "FindingFactory"], Iterator[Finding]]
    report: "FindingFactory"


@dataclass(frozen=True, slots=True)
class FindingFactory:
    """Makes findings of one check, so that its name and severity stand in one place."""

    name: str
    severity: Severity

    def __call__(
        self,
        message: str,
        line: int | None = None,
        at: float | None = None,
        position: tuple[float, float, float] | None = None,
        quantity: str | None = None,
        fix: SetupFix | None = None,
    ) -> Finding:
        return Finding(self.name, self.severity, message, line, at, position, quantity, fix)

    def of_event(self, event: Event, message: str, quantity: str | None = None, fix: SetupFix | None = None) -> Finding:
        return self(message, event.line, event.t, event.position, quantity, fix)


CHECKS: Registry[Registered] = Registry("check", "orthotrope.proof.checks.*", "orthotrope.kinds.*.checks")

CheckFunction = Callable[[Case, FindingFactory], Iterator[Finding]]


def check(name: str, severity: Severity, scope: Scope, harms: bool = False) -> Callable[[CheckFunction], CheckFunction]:
    """Register a check. ``scope``: "setup" needs the Setup only, "static" the text only; "text" runs it and is reported
    once for a text, "run" for every run of it. ``harms``: what it finds in a run under a fault is harm done."""

    def register(function: CheckFunction) -> CheckFunction:
        CHECKS.add(name, Registered(name, severity, scope, harms, function, FindingFactory(name, severity)))
        return function

    return register


def findings_of(case: Case, *scopes: Scope, harms: bool = False) -> list[Finding]:
    """All that the checks of these scopes have to say about a case; with ``harms`` only those that tell of harm
    done, of a run as it stands."""
    if "run" in scopes and not (harms or case.elsewhere or case.is_run):
        case.look()
    return [
        finding
        for entry in CHECKS.values()
        if entry.scope in scopes and (entry.harms or not harms)
        for finding in entry.function(case, entry.report)
    ]
