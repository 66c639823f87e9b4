"""Exchanges: from one stored tool, or the empty spindle, to another."""

from collections.abc import Callable, Iterable, Iterator
from typing import Any

from orthotrope.errors import OrthotropeError
from orthotrope.proof.case import Case
from orthotrope.proof.digest import digest_of, read_by_control
from orthotrope.proof.exchanges import ExchangeProof, ExchangeRef, exchange_text, pairs, prove_chunk, prove_shared
from orthotrope.proof.sequences.registry import REFS, SEQUENCES, Choice, SequenceKind, SequenceResult
from orthotrope.sequence.exchanges.registry import EMPTY
from orthotrope.setup import Setup

PUT_AWAY, FETCH = "put away ", "fetch "


def _every(setup: Setup) -> list[ExchangeRef]:
    return [ExchangeRef(from_tool=one, to_tool=other) for one, other in pairs(setup)] if setup.changer else []


def _once(setup: Setup) -> list[ExchangeRef]:
    """Those that fetch and put away each tool once and take all branches of the text."""
    taken = ExchangeProof(setup, shared=[]).round if setup.changer else set()
    return [ref for ref in _every(setup) if (ref.from_tool, ref.to_tool) in taken]


def _cases(setup: Setup) -> Callable[[ExchangeRef], Case | None]:
    proof = ExchangeProof(setup, shared=[])
    return lambda ref: proof.case_of(ref.from_tool, ref.to_tool)


def _prove(
    document: dict[str, Any], refs: list[ExchangeRef], imported: str | None, prepared: Any
) -> list[SequenceResult]:
    return prove_chunk(document, [(ref.from_tool, ref.to_tool) for ref in refs], imported, prepared)


def _text(setup: Setup, imported: str) -> str:
    profile = setup.profile
    if imported or (profile.arithmetic and profile.conditions and setup.changer):
        return read_by_control(imported or _written(setup, EMPTY, EMPTY))
    return ""


def _digests(setup: Setup, imported: str) -> dict[str, str]:
    """One for putting away each tool and one for fetching it, so that there are not as many as pairs."""
    numbers = [EMPTY, *(tool.number for tool in setup.exchangeable())]
    if _text(setup, imported):
        return {f"{way}{tool}": "" for tool in numbers for way in (PUT_AWAY, FETCH)}
    put_away = {f"{PUT_AWAY}{tool}": digest_of(read_by_control(_written(setup, tool, EMPTY))) for tool in numbers}
    return put_away | {f"{FETCH}{tool}": digest_of(read_by_control(_written(setup, EMPTY, tool))) for tool in numbers}


def _written(setup: Setup, one: int, other: int) -> str:
    try:
        return exchange_text(setup, setup.profile, one, other)
    except OrthotropeError as failed:
        return str(failed)


def _addressed(names: Iterable[str]) -> Iterator[ExchangeRef]:
    tools = [int(name.removeprefix(FETCH)) for name in names if name.startswith(FETCH)]
    return (ExchangeRef(from_tool=one, to_tool=other) for one in tools for other in tools if one != other)


def _named(tool: int) -> str:
    return f"T{tool}" if tool else "empty"


def _chosen(every: list[ExchangeRef], choice: Choice) -> list[ExchangeRef]:
    if choice.sequence is not None or choice.name is not None or choice.tool is not None:
        return []
    ends = choice.from_tool, choice.to_tool
    return [ref for ref in every if ends[0] in (None, ref.from_tool) and ends[1] in (None, ref.to_tool)]


REFS.add("exchange", ExchangeRef)
SEQUENCES.add(
    "exchange",
    SequenceKind(
        ref=ExchangeRef,
        option="exchanges",
        needs="A changer and a stored tool are needed",
        every=_every,
        once=_once,
        cases=_cases,
        prove=_prove,
        digests=_digests,
        address=lambda ref: (f"{PUT_AWAY}{ref.from_tool}", f"{FETCH}{ref.to_tool}"),
        addressed=_addressed,
        in_words=lambda ref: f"{_named(ref.from_tool)} to {_named(ref.to_tool)}",
        as_case=lambda ref: {"sequence": "exchange", "from": ref.from_tool, "to": ref.to_tool},
        chosen=_chosen,
        tools=lambda ref: frozenset({ref.from_tool, ref.to_tool}),
        concerns=lambda setup, ref, section, index: section not in ("routines", "probes"),
        text=_text,
        written=lambda setup, ref: exchange_text(setup, setup.profile, ref.from_tool, ref.to_tool),
        together=lambda ref: ref.from_tool,
        prepare=prove_shared,
        one_text=True,
        imports=True,
    ),
)
