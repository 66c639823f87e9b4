"""The proof of exchanges: every ordered pair of the stored tools and the empty spindle, run in the nominal world."""

import gc
import json
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from functools import lru_cache
from typing import Any, Literal

from orthotrope.calc.derived import derive
from orthotrope.errors import InputError
from orthotrope.machine.run import Call
from orthotrope.program.reader import read_text
from orthotrope.program.writer import write
from orthotrope.proof.callers import (
    called_after_others,
    called_for_others,
    called_from_elsewhere,
    called_in_combination,
    called_otherwise,
    called_with_others_left,
)
from orthotrope.proof.case import Case, findings_of
from orthotrope.proof.completing import refused
from orthotrope.proof.fault_runs import Family
from orthotrope.proof.findings import FINDING, SEVERITIES, Finding, worst_first
from orthotrope.proof.judging import without_end
from orthotrope.proof.review import called_at
from orthotrope.proof.sequences.registry import SequenceRef, SequenceResult
from orthotrope.proof.setup_fixes import tried
from orthotrope.proof.timing import spent
from orthotrope.proof.verdicts import judge_faults, judge_faults_called
from orthotrope.proof.worlds import nominal_world
from orthotrope.sequence.exchanges import Exchange, plan_every, plan_one
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.control import ControlProfile
from orthotrope.units import shown_in

MOST_MOVES = 50_000
"""Moves of an exchange in a proof; one has some dozens."""


class ExchangeRef(SequenceRef):
    """From one tool to another; 0: the empty spindle."""

    kind: Literal["exchange"] = "exchange"
    from_tool: int
    to_tool: int


def pairs(setup: Setup) -> list[tuple[int, int]]:
    """Every ordered pair of different tools that are stored, and the empty spindle (0)."""
    numbers = [0, *(tool.number for tool in setup.exchangeable())]
    return [(one, other) for one in numbers for other in numbers if one != other]


def exchange_text(setup: Setup, profile: ControlProfile, from_tool: int, to_tool: int) -> str:
    """The text of an exchange: the one program of all pairs where the control does arithmetic, else the one of this
    pair."""
    setup = setup.with_profile(profile.name)
    if profile.arithmetic and profile.conditions:
        return write(plan_every(setup), profile)
    return write(plan_one(setup, Exchange(from_tool, to_tool, called_at(setup)[:2])), profile)


def exchange_case(setup: Setup, profile: ControlProfile, from_tool: int, to_tool: int) -> tuple[str, Case]:
    """Text and case of one exchange in the nominal world.

    Raises:
        InputError: where a tool is not there, or in no pocket.
    """
    for number in (from_tool, to_tool):
        if number and setup.tool(number) not in setup.exchangeable():
            raise InputError.at("/tools", f"T{number} has no pocket; give it one on the Tools stage.")
    text = exchange_text(setup, profile, from_tool, to_tool)
    call = Call(called_at(setup), from_tool=from_tool, to_tool=to_tool)
    return text, Case(read_text(text), profile, "exchange", nominal_world(setup), call, setup, derive(setup))


def of_changed(case: Case, written: bool) -> Callable[[Setup], Case]:
    """What makes the same exchange for a changed Setup: with the text that is ``written`` for it, or with the case's
    own program that was imported."""

    def again(changed: Setup) -> Case:
        one, other = case.call.from_tool, case.call.to_tool
        if written:
            return exchange_case(changed, changed.profile_named(case.profile.name), one, other)[1]
        call = replace(case.call, at=called_at(changed))
        return Case(case.program, case.profile, "exchange", nominal_world(changed), call, changed, derive(changed))

    return again


class ExchangeProof:
    """The proof of a Setup's exchanges through the text of its control profile, or through one that was ``imported``:
    read and prepared once, then run pair by pair.

    ``shared``: what the checks say of the Setup and of the one text of all pairs, which stands with each; worked out
    where it is not given."""

    def __init__(self, setup: Setup, imported: str | None = None, shared: list[Finding] | None = None):
        self.setup, self.imported, self.profile = setup, imported, setup.profile
        self.world, self.derived, self.at = nominal_world(setup), derive(setup), called_at(setup)
        written = self.profile.arithmetic and self.profile.conditions and setup.changer is not None
        one_text = imported or (exchange_text(setup, self.profile, 0, 0) if written else None)
        self.every = read_text(one_text) if one_text else None
        self.pairs = pairs(setup)
        numbers = [0, *(tool.number for tool in setup.exchangeable())]
        self.round = {*zip(numbers, [*numbers[1:], 0], strict=True), *self.ways()}
        self._of_one: tuple[int, Family] | None = None
        self.shared = self._of_all() if shared is None else shared

    def case_of(self, one: int, other: int) -> Case:
        """The case of a pair."""
        program = self.every or read_text(exchange_text(self.setup, self.profile, one, other))
        call = Call(self.at, from_tool=one, to_tool=other, most_moves=MOST_MOVES)
        return Case(program, self.profile, "exchange", self.world, call, self.setup, self.derived)

    def _of_all(self) -> list[Finding]:
        """Always of the same pair, so that it does not matter where a part of the proof begins."""
        if not self.pairs:
            return []
        case = self.case_of(*self.pairs[0])
        if self.every and not self.every.readable:
            return findings_of(case, "setup", "static")
        shared = findings_of(case, "setup", "static", "text") if self.every else findings_of(case, "setup")
        if self.every and not case.main.endless:
            shared += called_otherwise(case)
            shared += self._of_other_ways(shared)
        if any(finding.fix for finding in shared):
            beside = findings_of(case, "run") if case.program.readable else []
            shared = tried(shared, self.setup, of_changed(case, self.imported is None), beside)
        return shared

    def _of_other_ways(self, known: list[Finding]) -> Iterator[Finding]:
        """What the checks say of the one text only on another way through it."""
        reported = {(finding.check, finding.line) for finding in known}
        for pair in self.ways():
            case = self.case_of(*pair)
            for finding in [] if case.main.endless else findings_of(case, "text"):
                if (finding.check, finding.line) not in reported:
                    reported.add((finding.check, finding.line))
                    yield finding

    def _of_callers(self, case: Case) -> list[Finding]:
        """What goes wrong from another caller: of a tool that is put away and another fetched all that a caller can disturb, of one
        that is fetched what is asked in the beginning; of those in which each tool is fetched and put away once what others left."""
        ways = self.ways()
        pair = case.call.from_tool, case.call.to_tool
        if not self.every or case.main.endless or pair not in self.round:
            return []
        if pair == ways[0]:
            others = [*called_after_others(case), *called_for_others(case), *called_in_combination(case)]
            return [*called_otherwise(case), *called_from_elsewhere(case), *others]
        if pair in ways[:2]:
            others = [*called_with_others_left(case), *called_for_others(case)]
            return [*called_otherwise(case), *called_from_elsewhere(case, everywhere=False), *others]
        return [*called_with_others_left(case)]

    def ways(self) -> list[tuple[int, int]]:
        """Pairs that between them take all ways through the one text: the shortest and the longest tool fetched, put away, and
        exchanged for one another."""
        tools = sorted(self.setup.exchangeable(), key=lambda tool: tool.whole_length)
        if not tools:
            return []
        first, last = tools[0].number, tools[-1].number
        return [pair for pair in ((last, first), (0, last), (last, 0), (first, last)) if pair in self.pairs]

    def _family(self, one: int) -> Family:
        """The exchanges from one tool; where each has a program of its own, of that exchange alone."""
        if self._of_one is None or self._of_one[0] != one or not self.every:
            tools = {other for from_tool, other in self.pairs if from_tool == one} if self.every else set()
            self._of_one = one, Family(tools)
        return self._of_one[1]

    def of(self, one: int, other: int, faults: bool) -> SequenceResult:
        """What a pair comes to; with ``faults`` under each of them as well."""
        case = self.case_of(one, other)
        ref = ExchangeRef(from_tool=one, to_tool=other)
        if not case.program.readable:
            own = [] if self.every else findings_of(case, "static")
            return SequenceResult(ref, "stop", tuple(worst_first([*self.shared, *own])), 0.0)
        shared_run = self._family(one).shared(case) if faults else None
        own = findings_of(case, "run") if self.every else findings_of(case, "static", "text", "run")
        endless = without_end(case.main)
        if endless and not any((f.check, f.line) == (endless.check, endless.line) for f in (*own, *self.shared)):
            own.append(endless)
        if not self.every:
            own += called_otherwise(case)
        elif faults:
            said = {(finding.check, finding.line) for finding in (*own, *self.shared)}
            own += [finding for finding in self._of_callers(case) if (finding.check, finding.line) not in said]
        if not any(f.severity == "stop" for f in own):
            own += refused(case)
        judges = shared_run and not case.main.endless  # one without an end has none under a fault
        judged = tuple(judge_faults(case, shared_run, not self.every or (one, other) in self.round)) if judges else ()
        if self.every and (one, other) in self.ways():
            said = {(finding.check, finding.line) for finding in own}
            own += [
                finding for finding in judge_faults_called(case, judged) if (finding.check, finding.line) not in said
            ]
        findings = worst_first(
            [*self.shared, *tried(own, self.setup, of_changed(case, self.imported is None), self.shared)]
        )
        worst = next((severity for severity in SEVERITIES if any(f.severity == severity for f in findings)), None)
        return SequenceResult(
            ref,
            worst,
            tuple(findings),
            case.main.trace.seconds,
            judged,
            spent(case.main.trace) if judged else {},
            closest=case.closest if faults else None,
            unreached=tuple(case.unreached()) if faults and self.every else None,
        )


def prove_exchanges(
    setup: Setup, first: int = 0, count: int | None = None, faults: bool = False, imported: str | None = None
) -> Iterator[SequenceResult]:
    """Run the pairs (``count`` of them from the ``first`` on; all where none is said); see :class:`ExchangeProof`."""
    proof = ExchangeProof(setup, imported)
    for one, other in proof.pairs[first : None if count is None else first + count]:
        yield proof.of(one, other, faults)


def prove_shared(document: dict[str, Any], imported: str | None = None) -> list[dict[str, Any]]:
    """What stands with every pair of a proof, as plain values: worked out once, given to every :func:`prove_chunk`."""
    setup = read_setup(document)
    with shown_in(setup.machine.unit):
        return [FINDING.dump_python(finding, mode="json") for finding in ExchangeProof(setup, imported).shared]


def prove_chunk(
    document: dict[str, Any],
    wanted: list[tuple[int, int]],
    imported: str | None = None,
    shared: list[dict[str, Any]] | None = None,
) -> list[SequenceResult]:
    """Results of these pairs; see :class:`ExchangeProof`. ``shared`` as :func:`prove_shared` gave it."""
    proof = _prepared(json.dumps(document), imported, json.dumps(shared))
    with shown_in(proof.setup.machine.unit), _seldom_collected():
        return [proof.of(one, other, True) for one, other in wanted]


@lru_cache(maxsize=2)  # an imported text, and the written one that it is compared with
def _prepared(document: str, imported: str | None, shared: str) -> ExchangeProof:
    """The proof that a process goes on with: it is given the same one part after the other."""
    setup, known = read_setup(json.loads(document)), json.loads(shared)
    with shown_in(setup.machine.unit):
        findings = None if known is None else [FINDING.validate_python(entry) for entry in known]
        return ExchangeProof(setup, imported, findings)


@contextmanager
def _seldom_collected() -> Iterator[None]:
    """Runs make many small objects that die with them; looking for garbage as often as usual takes a seventh of the
    time."""
    usual = gc.get_threshold()
    gc.set_threshold(SELDOM, *usual[1:])
    try:
        yield
    finally:
        gc.set_threshold(*usual)


SELDOM = 50_000
"""Objects between two looks for garbage; a run makes some thousands."""
