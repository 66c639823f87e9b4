"""The whole proof of a Setup, in parts that a process takes at a time: all sequences of every kind."""

from collections.abc import Sequence
from typing import Any

from orthotrope.proof.findings import Finding
from orthotrope.proof.locating import located
from orthotrope.proof.sequences.registry import (
    SEQUENCE,
    SEQUENCES,
    Prepared,
    SequenceRef,
    SequenceResult,
    kind_of,
    sequence_name,
)
from orthotrope.setup import Setup, read_setup

MOST_TOGETHER = 30
"""Sequences that a process proves at a time."""

LAST, WORTH_HALVING = 2, 12
"""How many parts are halved, and of how many sequences such a part is at least."""


def sequences(setup: Setup, imported: bool = False) -> list[SequenceRef]:
    """What is proven; with ``imported`` what an imported program can be in place of the written text of."""
    return [ref for kind in SEQUENCES.values() if kind.imports or not imported for ref in kind.every(setup)]


def portions(every: list[SequenceRef]) -> list[tuple[int, int]]:
    """The sequences in parts that a process proves at a time, (first, count): together those that share a part of their runs, since
    that is run once; few enough for progress to be seen. The last ones are smaller: no core has nothing to do for long
    while another ends."""
    parts: list[tuple[int, int]] = []
    last: Any = None
    for first, ref in enumerate(every):
        together = kind_of(ref).together(ref)
        begun, count = parts[-1] if parts else (0, 0)
        if together is not None and (ref.kind, together) == last and count < MOST_TOGETHER:
            parts[-1] = begun, count + 1
        else:
            parts.append((first, 1))
        last = ref.kind, together
    return [*parts[:-LAST], *(half for part in parts[-LAST:] for half in _halves(*part))]


def _halves(first: int, count: int) -> list[tuple[int, int]]:
    less = count // 2 if count >= WORTH_HALVING else 0
    return [(first, less), (first + less, count - less)] if less else [(first, count)]


def prepared(document: dict[str, Any], imported: str | None = None) -> Prepared:
    """What is the same for all sequences of a kind, calculated once for all parts of a proof."""
    kinds = dict.fromkeys(ref.kind for ref in sequences(read_setup(document), imported is not None))
    return {name: SEQUENCES[name].prepare(document, imported) for name in kinds}


def prove_part(
    document: dict[str, Any],
    part: list[dict[str, Any]],
    imported: str | None = None,
    known: Prepared | None = None,
) -> list[dict[str, Any]]:
    """Results of these sequences, which are of one kind or several, as plain values: what a process of a pool is given and returns.
    ``known`` as :func:`prepared` gave it."""
    by_kind: dict[str, list[SequenceRef]] = {}
    for entry in part:
        ref = SEQUENCE.validate_python(entry)
        by_kind.setdefault(ref.kind, []).append(ref)
    results = {
        name: SEQUENCES[name].prove(document, refs, imported, (known or {}).get(name)) for name, refs in by_kind.items()
    }
    if imported is not None:
        results = {name: list(located(document, some, imported)) for name, some in results.items()}
    return [result.as_json() for some in results.values() for result in some]


def plain_refs(refs: Sequence[SequenceRef]) -> list[dict[str, Any]]:
    """References as plain values, as :func:`prove_part` takes them."""
    return [ref.model_dump(mode="json") for ref in refs]


def not_proven(sequence: SequenceRef, why: str) -> dict[str, Any]:
    """The result of a sequence that could not be run to its end within its limits."""
    message = f"{sequence_name(sequence)} could not be proven. {why}"
    finding = Finding("unbounded-loop", "stop", message[0].upper() + message[1:])
    return SequenceResult(sequence, "stop", (finding,), 0.0).as_json()
