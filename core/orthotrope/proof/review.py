"""A program reviewed by every check, on a Setup's nominal world or on the bare machine."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

from orthotrope.calc.derived import derive
from orthotrope.machine.run import Call
from orthotrope.machine.world import World, bare_world
from orthotrope.program.blocks import Program
from orthotrope.program.reader import read_file
from orthotrope.proof.callers import with_blocks_left_out
from orthotrope.proof.case import Case, Purpose, Scope, findings_of
from orthotrope.proof.completing import NOT_COMPLETED, completed, works_out
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.findings import Finding, worst_first
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup
from orthotrope.setup.control import ControlProfile

CALLED_BELOW_TOP = 60.0
"""mm below the top of travel: where a job's Z is when it calls an exchange, if the Setup leaves room for it."""


def called_at(setup: Setup) -> tuple[float, float, float]:
    """The place that exchanges are called from when none is said: the middle of the travel, below the top of Z."""
    x, y = ((axis.soft_least + axis.soft_greatest) / 2 for axis in setup.machine.axes.across)
    upright = setup.machine.axes.upright
    return x, y, max(upright.soft_least, upright.soft_greatest - CALLED_BELOW_TOP)


def pair(setup: Setup | None, from_tool: int | None, to_tool: int | None) -> tuple[int, int]:
    """The tools of an exchange; where none are said, the first two that are stored (bare machine: 1 and 2)."""
    stored = [tool.number for tool in setup.exchangeable()] if setup else [1, 2]
    first = from_tool if from_tool is not None else (stored[0] if stored else 0)
    rest = [number for number in stored if number != first]
    return first, to_tool if to_tool is not None else (rest[0] if rest else 0)


def make_case(
    program: Program,
    profile: ControlProfile,
    purpose: Purpose,
    setup: Setup | None = None,
    from_tool: int | None = None,
    to_tool: int | None = None,
    fault: str = "none",
    world: World | None = None,
) -> Case:
    """A case for one program: in the Setup's nominal world (with a fault), or on the bare machine without a Setup. A measuring or probing whose
    tool is not said is called with the first that it does not refuse at once."""
    if setup is not None and purpose in ("measure", "probe") and from_tool is None and program.readable:
        cases = [
            make_case(
                program, profile, purpose, setup, number, to_tool if to_tool is not None else number, fault, world
            )
            for number in (0, *(tool.number for tool in setup.tools))
        ]
        return next((case for case in cases if _refusal(case) is None), cases[0])
    first, second = pair(setup, from_tool, to_tool) if purpose == "exchange" else (from_tool or 0, to_tool or 0)
    if setup is None:
        return Case(
            program,
            profile,
            purpose,
            world or bare_world(),
            Call((212.0, 148.0, -35.0), from_tool=first, to_tool=second),
        )
    call = Call(called_at(setup), from_tool=first, to_tool=second)
    plates = [setter for setter in setup.setters if setter.lies_on] if purpose in ("measure", "probe") else []
    there = world or nominal_world(setup, next(iter(plates), None))
    case = Case(program, profile, purpose, there, call, setup, derive(setup))
    return FAULTS[fault].apply_to(case)


def review(case: Case, of_setup: bool = True) -> list[Finding]:
    """Everything that the checks report, worst first. A text with unreadable blocks is not run. ``of_setup``: also the
    contradictions of the Setup; False where they are reported beside it."""
    scopes: list[Scope] = ["setup", "static"] if of_setup else ["static"]
    if not case.program.readable:
        return worst_first(findings_of(case, *scopes))
    found = findings_of(case, *scopes, "text", "run")
    return worst_first([*found, *with_blocks_left_out(case), *_refused_at_once(case)])


def _refusal(case: Case) -> str | None:
    """What a run says that ends in a pause before anything has moved, without having done what it is for; None: it does not refuse so."""
    if case.purpose not in ("exchange", "measure", "probe"):
        return None
    trace = case.main.trace
    moved = any(segment.kind != "dwell" for segment in trace.segments)
    done = case.purpose != "probe" and completed(case)
    if moved or done or trace.ended != "end" or not trace.of_kind("pause"):
        return None
    return next((str(event.data["text"]) for event in trace.of_kind("message")), "")


def _refused_at_once(case: Case) -> Iterator[Finding]:
    """A sequence that is not for the call that it was reviewed with: what stands behind its refusal was not run."""
    text, trace = _refusal(case), case.main.trace
    paused = case.purpose == "probe" and trace.ended == "end" and bool(trace.of_kind("pause"))
    if text is None and paused and works_out(case.profile) and not trace.of_kind("zero-set"):
        says = next((event.data["text"] for event in reversed(trace.of_kind("message"))), "")
        message = f"It pauses with “{says}”, and what comes behind was not run: no part lies here. Prove it as a routine (prove --name)."
        yield Finding(NOT_COMPLETED, "note", message, trace.blocks[-1].line, trace.seconds)
    if text is None:
        return
    yield Finding(
        NOT_COMPLETED,
        "warn",
        f"It refuses at once: “{text}”. Nothing behind it was run; call it with the tools that it is for (--from, --to).",
        trace.blocks[-1].line,
        trace.seconds,
    )


MOST_TIMED = 200_000
"""Blocks of a run whose lines are timed each; of a longer one the whole is reported."""

Tell = Callable[[str, float], None]
"""Gets what is being done ("Reading", "Running", "Checking") and how far it is, 0 to 1."""


@dataclass(frozen=True, slots=True)
class Reviewed:
    """A program as reviewed: what was found, the ``seconds`` that it takes (None: it can't be run) and those of each line, as
    [line, seconds], in a text that is not too long for it."""

    findings: list[Finding]
    seconds: float | None
    by_line: list[tuple[int, float]]


def review_file(path: Path, case_of: Callable[[Program], Case], tell: Tell) -> Reviewed:
    """Review a program as it lies in a file, of whatever size; ``case_of`` makes its case.

    Raises:
        OSError: where the file can't be opened.
    """
    case = replace(case_of(read_file(path, partial(tell, "Reading"))), tell=partial(tell, "Running"))
    if not case.program.readable:
        return Reviewed(review(case), None, [])
    trace = case.main.trace
    tell("Checking", 0.0)
    findings = review(
        replace(case, tell=lambda share: tell("Running from an inch job", share), _runs={case.call: case.main})
    )
    by_line: dict[int, float] = {}
    if len(trace.blocks) <= MOST_TIMED:
        for block in trace.blocks:
            by_line[block.line] = by_line.get(block.line, 0.0) + block.t1 - block.t0
    return Reviewed(findings, trace.seconds, [(line, s) for line, s in by_line.items() if s > 0])
