"""The whole proof of a Setup, in parts that a process takes at a time: every exchange, and measuring every tool."""

from typing import Any

from orthotrope.errors import OrthotropeError
from orthotrope.proof.exchanges import PairResult, pairs, prove_chunk
from orthotrope.proof.findings import Finding
from orthotrope.proof.measuring import measurable, prove_tool
from orthotrope.setup import Setup, read_setup
from orthotrope.units import shown_in

MOST_TOGETHER = 30
"""Sequences that a process proves at a time."""


def sequences(setup: Setup, brought: bool = False) -> list[tuple[int, int]]:
    """What is proven, from a tool to a tool: every pair that an exchange can be asked for, and measuring a tool, which
    begins and ends with it. A program that was ``brought`` is one of exchanges."""
    exchanges = pairs(setup) if setup.changer else []
    return exchanges if brought else [*exchanges, *((tool, tool) for tool in measurable(setup))]


def portions(every: list[tuple[int, int]]) -> list[tuple[int, int]]:
    """The sequences in parts that a process proves at a time, (first, count): exchanges from one tool together, since what
    is the same in them is run once; few enough for progress to be seen."""
    parts: list[tuple[int, int]] = []
    for first, (one, _) in enumerate(every):
        begun, count = parts[-1] if parts else (0, 0)
        if count and count < MOST_TOGETHER and every[begun][0] == one:
            parts[-1] = begun, count + 1
        else:
            parts.append((first, 1))
    return parts


def prove_part(
    document: dict[str, Any],
    part: list[tuple[int, int]],
    brought: str | None = None,
    shared: list[dict[str, Any]] | None = None,
) -> list[dict[str, Any]]:
    """Results of these sequences, as plain values: what a process of a pool is given and returns."""
    exchanges = [(one, other) for one, other in part if one != other]
    results = prove_chunk(document, exchanges, brought, shared) if exchanges else []
    setup = read_setup(document)
    with shown_in(setup.machine.unit):
        return [*results, *(_measured(setup, one).as_json() for one, other in part if one == other)]


def _measured(setup: Setup, tool: int) -> PairResult:
    """Measuring a tool, as the results of a proof have it; where it has no text, that is what it comes to."""
    try:
        found = prove_tool(setup, tool)
    except OrthotropeError as none:
        return PairResult(tool, tool, "warn", (Finding("setup-conflict", "warn", str(none)),), 0.0)
    return PairResult(tool, tool, found.worst, found.findings, found.seconds, found.faults)


def not_proven(one: int, other: int, why: str) -> dict[str, Any]:
    """The result of a sequence that could not be run to its end within its limits."""
    what = f"Measuring T{one}" if one == other else f"T{one} to T{other}" if one and other else "This exchange"
    message = f"{what} could not be proven. {why}"
    return PairResult(one, other, "stop", (Finding("unbounded-loop", "stop", message),), 0.0).as_json()
