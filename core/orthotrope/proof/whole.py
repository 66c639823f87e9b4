"""The whole proof of a Setup, in parts that a process takes at a time: every exchange, measuring every tool, and every routine."""

from typing import Any, NamedTuple

from orthotrope.errors import OrthotropeError
from orthotrope.proof.exchanges import PairResult, pairs, prove_chunk
from orthotrope.proof.findings import Finding
from orthotrope.proof.measuring import measurable, prove_tool
from orthotrope.proof.routines import provable, prove_routine
from orthotrope.setup import Setup, read_setup
from orthotrope.units import shown_in


class Sequenced(NamedTuple):
    """What is proven: an exchange from a tool to another, measuring a tool, which begins and ends with it, or a ``routine``
    (which begins and ends with what it needs: 0 and 0); 0: the empty spindle."""

    one: int
    other: int
    routine: str = ""

    @property
    def exchanges(self) -> bool:
        return self.one != self.other


MOST_TOGETHER = 30
"""Sequences that a process proves at a time."""

LAST, WORTH_HALVING = 2, 12
"""How many parts are halved, and of how many sequences such a part is at least."""


def sequences(setup: Setup, brought: bool = False) -> list[Sequenced]:
    """What is proven: every pair that an exchange can be asked for, measuring every tool, and every routine. A program that
    was ``brought`` is one of exchanges."""
    exchanges = [Sequenced(*pair) for pair in pairs(setup)] if setup.changer else []
    if brought:
        return exchanges
    measured = [Sequenced(tool, tool) for tool in measurable(setup)]
    return [*exchanges, *measured, *(Sequenced(0, 0, name) for name in provable(setup))]


def portions(every: list[Sequenced]) -> list[tuple[int, int]]:
    """The sequences in parts that a process proves at a time, (first, count): exchanges from one tool together, since what
    is the same in them is run once; few enough for progress to be seen. The last ones are smaller: no core has nothing to do for long
    while another ends."""
    parts: list[tuple[int, int]] = []
    for first, sequence in enumerate(every):
        begun, count = parts[-1] if parts else (0, 0)
        if count and count < MOST_TOGETHER and every[begun].one == sequence.one and not sequence.routine:
            parts[-1] = begun, count + 1
        else:
            parts.append((first, 1))
    return [*parts[:-LAST], *(half for part in parts[-LAST:] for half in _halves(*part))]


def _halves(first: int, count: int) -> list[tuple[int, int]]:
    less = count // 2 if count >= WORTH_HALVING else 0
    return [(first, less), (first + less, count - less)] if less else [(first, count)]


def prove_part(
    document: dict[str, Any],
    part: list[Sequenced] | list[tuple[int, int]],
    brought: str | None = None,
    shared: list[dict[str, Any]] | None = None,
) -> list[dict[str, Any]]:
    """Results of these sequences, as plain values: what a process of a pool is given and returns; on its way there a
    sequence may have become a plain tuple."""
    wanted = [Sequenced(*sequence) for sequence in part]
    exchanges = [(sequence.one, sequence.other) for sequence in wanted if sequence.exchanges]
    results = prove_chunk(document, exchanges, brought, shared) if exchanges else []
    setup = read_setup(document)
    with shown_in(setup.machine.unit):
        return [*results, *(_alone(setup, sequence).as_json() for sequence in wanted if not sequence.exchanges)]


def _alone(setup: Setup, sequence: Sequenced) -> PairResult:
    """Measuring a tool, or a routine, as the results of a proof have it; where it has no text, that is what it comes to."""
    tool, routine = sequence.one, sequence.routine
    try:
        found = prove_routine(setup, routine) if routine else prove_tool(setup, tool)
    except OrthotropeError as none:
        findings = (Finding("setup-conflict", "warn", str(none)),)
        return PairResult(tool, tool, "warn", findings, 0.0, routine=routine)
    return PairResult(
        tool,
        tool,
        found.worst,
        found.findings,
        found.seconds,
        found.faults,
        routine=routine,
        closest=found.closest,
        unreached=found.unreached,
    )


def not_proven(sequence: Sequenced, why: str) -> dict[str, Any]:
    """The result of a sequence that could not be run to its end within its limits."""
    one, other, routine = sequence
    what = f"Measuring T{one}" if one == other else f"T{one} to T{other}" if one and other else "This exchange"
    message = f"{routine or what} could not be proven. {why}"
    finding = Finding("unbounded-loop", "stop", message[0].upper() + message[1:])
    return PairResult(one, other, "stop", (finding,), 0.0, routine=routine).as_json()
