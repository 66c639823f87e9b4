"""What a stage is in the server: its name, what it shows, and how far it is."""

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import datetime
from functools import cached_property
from typing import Any, Literal

from orthotrope.calc.derived import DerivedChanger
from orthotrope.machine.run import ByHand
from orthotrope.proof.case import Case, Purpose
from orthotrope.proof.conflicts import Conflict
from orthotrope.registry import Registry
from orthotrope.setup import Setup
from orthotrope.setup.keys import keyed
from orthotrope.setup.planned import places
from orthotrope.validation import parts_of

from shop.proofs.summary import ProofSummary
from shop.stages.signals.tested import TestedInput
from shop.stages.written import MOST_PLAYED

Mark = Literal["open", "filled", "proven", "stale", "failing"]

THE_WAY = ("Machine", "Signals", "Changer", "Setter", "Tools", "Probes", "Routines", "Proof", "Release")
"""The order of the technician's work."""


@dataclass
class Evidence:
    """What the marks of a machine's stages rest on: its Setup, the newest proof (None: there is none), the newest tests
    of its inputs, where the Setup contradicts itself, and when each probe was qualified last, by its name."""

    setup: Setup
    proof: ProofSummary | None
    tests: list[TestedInput]
    conflicts: list[Conflict]
    qualified: dict[str, datetime] = field(default_factory=dict)

    @cached_property
    def proven(self) -> tuple[Mark, str]:
        """How far the proof is, and why."""
        proof = self.proof
        if proof is None:
            return "open", "No proof has been run."
        if proof.stale:
            changed = "The Setup has changed since the proof."
            return "stale", changed if proof.changes else "The proof was made with other checks; run it again."
        if proof.state == "running":
            return "open", "The proof is running."  # how far it is, is reported where it runs
        if proof.state != "done":
            return "open", f"The proof is {proof.state}, {proof.done} of {proof.total}."
        if proof.stop:
            return "failing", f"{proof.stop} of {proof.total} sequences have a stop."
        if proof.unsafe:
            return "failing", f"{proof.unsafe} of {proof.cases} cases under faults are unsafe."
        return "proven", f"All {proof.total} sequences are proven."

    @cached_property
    def planned(self) -> list[str]:
        """Its numbers that nobody has entered yet; places of lists' entries by their key."""
        if not self.setup.planned:
            return []
        document = self.setup.as_json()
        return [keyed(document, where) for where in places(document)]

    def filled(self, filled: bool, missing: str) -> tuple[Mark, str]:
        """The mark of a stage whose quantities the proof depends on."""
        mark, why = self.proven
        if not filled:
            return "open", missing
        if mark == "open":
            return "filled", "Filled in, not proven."
        return (mark if mark != "failing" else "filled"), why


@dataclass(frozen=True, slots=True)
class StageRequest:
    """What a stage is asked to show: an exchange in a control profile, through a program that was imported, under a
    fault; or a ``sequence`` of measuring, of these ``tools`` at this ``setter``; or a ``routine``. ``purpose``: what a program that was imported is for, None:
    what the stage's own are for. ``by_hand``: what is set while it is stepped."""

    from_tool: int | None = None
    to_tool: int | None = None
    profile: str | None = None
    program: str | None = None
    purpose: Purpose | None = None
    fault: str | None = None
    sensor: int | None = None
    sequence: str | None = None
    tools: tuple[int, ...] = ()
    setter: str | None = None
    routine: str | None = None
    by_hand: tuple[ByHand, ...] = ()

    def played(self, case: Case) -> Case:
        """A case as it is played: no longer than can be shown, with what is set by hand."""
        return replace(case, call=replace(case.call, most_moves=MOST_PLAYED, by_hand=self.by_hand), _runs={})


Answering = Callable[[Setup, DerivedChanger | None, StageRequest], Any]
"""Its annotation says of which type the answer is."""


@dataclass(frozen=True, slots=True)
class Stage:
    """``mark``: how far it is; ``answer``: the name under which a preview answers it. Several stages may show the
    same. ``sections``: of the Setup, whose numbers are entered here."""

    name: str
    mark: Callable[[Evidence], tuple[Mark, str]]
    answer: str
    sections: tuple[str, ...] = ()


STAGES: Registry[Stage] = Registry("stage", "shop.stages.*.stage")
ANSWERS: Registry[Answering] = Registry("answer", "shop.stages.*.stage")
"""What a preview can answer, by its name."""


def stage(
    name: str, answer: str, sections: tuple[str, ...] = ()
) -> Callable[[Callable[[Evidence], tuple[Mark, str]]], Callable[[Evidence], tuple[Mark, str]]]:
    """Register a stage by what says how far it is."""

    def register(mark: Callable[[Evidence], tuple[Mark, str]]) -> Callable[[Evidence], tuple[Mark, str]]:
        STAGES.add(name, Stage(name, mark, answer, sections))
        return mark

    return register


@dataclass(frozen=True, slots=True)
class StageMark:
    """A stage that is built, how far it is, and why. ``planned``: the numbers of it that nobody has entered yet, as
    :class:`~orthotrope.setup.planned.Planned` has them."""

    name: str
    mark: Mark
    why: str
    planned: tuple[str, ...] = ()


def marks(evidence: Evidence) -> list[StageMark]:
    """The stages that are built, in the order of the work, each with how far it is and why."""
    order = sorted(STAGES.values(), key=lambda entry: THE_WAY.index(entry.name))
    return [_mark(known, evidence) for known in order]


def _mark(stage: Stage, evidence: Evidence) -> StageMark:
    """No stage with numbers that nobody has entered is proven."""
    mark, why = stage.mark(evidence)
    planned = tuple(where for where in evidence.planned if parts_of(where)[0] in stage.sections)
    if planned and mark == "proven":
        mark, why = "filled", "Proven as planned."
    if planned:
        why = f"{why} {len(planned)} {'number is' if len(planned) == 1 else 'numbers are'} not entered yet.".strip()
    return StageMark(stage.name, mark, why, planned)
