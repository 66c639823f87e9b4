"""A proof is addressed by what it runs: an edit that changes nothing of it leaves it valid, one that does makes it
stale."""

from collections.abc import Iterator
from typing import Any, Literal

import pytest
from demo_setup import changed, demo, exchange
from orthotrope.errors import OrthotropeError
from orthotrope.proof.digests import Digests, digests_of, responsible
from orthotrope.proof.exchanges import prove_exchanges
from orthotrope.proof.routines import RoutineRef
from orthotrope.proof.sequences.registry import (
    REFS,
    SEQUENCES,
    SequenceKind,
    SequenceRef,
    SequenceResult,
    sequence_name,
)
from orthotrope.proof.whole import not_proven, plain_refs, portions, prepared, prove_part, sequences
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.keys import placed
from orthotrope.validation import pointer

Leaf = tuple[str, Any]


def leaves(node: Any, path: tuple[str | int, ...] = ()) -> Iterator[Leaf]:
    """Every number and text of a document, with its place."""
    if isinstance(node, dict | list):
        for key, part in node.items() if isinstance(node, dict) else enumerate(node):
            yield from leaves(part, (*path, key))
    elif isinstance(node, float | int | str) and not isinstance(node, bool):
        yield pointer(path), node


def otherwise(value: Any) -> Any:
    return f"{value} x" if isinstance(value, str) else value + 1 if isinstance(value, int) else value + 0.25


def proven(setup: Setup) -> list[dict[str, Any]]:
    return [result.as_json() for result in prove_exchanges(setup, 1, 2, faults=True)]


WHOLE = [pytest.param(name, marks=pytest.mark.thorough) for name in ("heron", "curlew", "plover", "godwit")]


@pytest.mark.parametrize("name", [*WHOLE, "knot"])
def test_what_leaves_the_digest_leaves_the_result_of_the_proof(name: str) -> None:
    document = demo(name)
    setup = read_setup(document)
    digests, result, same = digests_of(setup), proven(setup), list[str]()
    for where, value in leaves(document):
        try:
            other = read_setup(placed(document, where, otherwise(value)))
        except OrthotropeError:
            continue
        if digests_of(other) == digests:
            same.append(where)
    assert len(same) >= 8
    for where in same:
        reported = proven(read_setup(placed(document, where, otherwise(dict(leaves(document))[where]))))
        assert _without_names(reported) == _without_names(result), where


def _without_names(results: list[dict[str, Any]]) -> Any:
    """Results without the sentences that hold a name of an input, which is for people."""
    return [{**r, "faults": [{**f, "says": ""} for f in r["faults"]]} for r in results]


@pytest.mark.parametrize(
    "where, value",
    [
        ("/machine/name", "Other"),
        ("/machine/description", "other"),
        ("/tools/0/name", "other"),
        ("/machine/unit", "inch"),
        ("/machine/axes/X/home_scatter", 0.01),
        ("/machine/axes/Y/backlash", 0.02),
        ("/positions", []),
        ("/threads", []),
        ("/changer/coupling/tuning", [{"feed": 1500.0, "speed": 1000.0, "lift": 0.1}]),
        ("/changer/coupling/observed_lift", 0.2),
        ("/changer/rack/taught", [{"pocket": 2, "x": 1.0, "y": 2.0}]),
        ("/changer/rack/approached", [{"pocket": 2, "outcome": "free"}]),
    ],
)
def test_what_is_for_people_is_in_no_digest(where: str, value: Any) -> None:
    document = read_setup(demo("heron")).as_json()
    assert digests_of(read_setup(placed(document, where, value))) == digests_of(read_setup(document))


@pytest.mark.parametrize(
    "where, value",
    [
        ("/changer/rack/pitch", 58.9),
        ("/changer/heights/park_z", -3.0),
        ("/changer/coupling/dwell", 0.9),
        ("/tools/3/length", 50.0),
        ("/machine/axes/Z/acceleration", 250.0),
        ("/bodies/0/x", 401.0),
        ("/inputs/0/filter", 0.03),
        ("/machine/latency", 0.02),
        ("/work_offsets/0/x", 7.0),
    ],
)
def test_one_number_of_what_is_run_makes_every_exchange_stale_and_is_named(where: str, value: Any) -> None:
    before = read_setup(demo("heron"))
    after = read_setup(placed(placed(before.as_json(), "/machine/description", "other"), where, value))
    one, other = digests_of(before), digests_of(after)
    exchanges = [ref for ref in one.sequences() if ref.kind == "exchange"]
    assert exchanges and all(one.of(ref) != other.of(ref) for ref in exchanges)
    assert [change.where.rsplit("/", 1)[1] for change in responsible(before, after, digests_of(after))] == [
        where.rsplit("/", 1)[1]
    ]
    back = read_setup(placed(after.as_json(), where, dict(leaves(before.as_json()))[where]))
    assert digests_of(back) == one


def test_where_a_control_has_a_file_for_each_exchange_only_those_of_a_moved_tool_are_stale() -> None:
    plain = changed(demo("dunlin"), machine__profile="plain words")
    before, after = (
        digests_of(read_setup(document)) for document in (plain, {**plain, "inputs": [], "probes": [], "routines": []})
    )
    assert (
        Digests.from_json(before.as_json()) == before and before.of(exchange(1, 2)) != before.of(exchange(2, 1)) != ""
    )
    assert before.of(exchange(1, 99)) == "" and after.shared != before.shared


def stale(before: Digests, after: Digests) -> set[str]:
    """The sequences of the second that are others than those of the first, by name."""
    return {sequence_name(ref) for ref in after.sequences() if after.of(ref) != before.of(ref)}


@pytest.mark.parametrize(
    "change, expected",
    [
        ({"routines__1__x": 381.0}, {"frame left edge"}),
        ({"routines__4__size_tolerance": 0.8}, {"lamp ring bore"}),
        ({"routines__1__name": "frame side"}, {"frame side"}),
        ({"probes__0__back_off": 2.0}, {"every routine"}),
        ({"probes__0__artefact__x": 621.0}, {"every routine"}),
        ({"probes__0__due_days": 7, "probes__0__length_uncertainty": 0.01}, set()),
        ({"probes__0__artefact__diameter_uncertainty": 0.004}, set()),
    ],
)
def test_a_change_makes_stale_what_it_is_part_of(change: dict[str, Any], expected: set[str]) -> None:
    document = demo("curlew")
    before, after = (digests_of(read_setup(d)) for d in (document, changed(document, **change)))
    by_probe = {r.name for r in read_setup(document).routines if r.probe} | {
        name for ref in before.sequences() if (name := sequence_name(ref)).endswith("touch probe")
    }
    assert stale(before, after) == (by_probe if expected == {"every routine"} else expected)


def test_digests_come_back_as_they_were_kept() -> None:
    digests = digests_of(read_setup(demo("heron")))
    assert Digests.from_json(digests.as_json()) == digests
    assert len(digests.sequences()) == 86 and Digests.from_json({}) == Digests("")
    assert digests.of(RoutineRef(name="no such routine")) == "" != digests.of(exchange(0, 1))


class JogRef(SequenceRef):
    kind: Literal["jog"] = "jog"
    axis: str


def test_a_kind_of_sequence_that_only_a_test_has_is_proven_and_addressed_with_no_edit_elsewhere() -> None:
    every = [JogRef(axis=axis) for axis in "XY"]
    kind = SequenceKind(
        ref=JogRef,
        option="jogs",
        needs="An axis is needed",
        every=lambda setup: every,
        once=lambda setup: every,
        cases=lambda setup: lambda ref: None,
        prove=lambda document, refs, imported, known: [SequenceResult(ref, None, (), 1.5) for ref in refs],
        digests=lambda setup, imported: {f"jog {axis}": str(setup.machine.latency) for axis in "XY"},
        address=lambda ref: (f"jog {ref.axis}",),
        addressed=lambda names: (JogRef(axis=name[4:]) for name in names if name.startswith("jog ")),
        in_words=lambda ref: f"jogging {ref.axis}",
        as_case=lambda ref: {"sequence": "jog", "axis": ref.axis},
        chosen=lambda every, choice: every,
        tools=lambda ref: frozenset(),
        concerns=lambda setup, ref, section, index: section == "machine",
    )
    setup = read_setup(demo("knot"))
    before = sequences(setup)
    REFS.add("jog", JogRef)
    SEQUENCES.add("jog", kind)
    try:
        assert sequences(setup) == [*before, *every] and sequences(setup, True) == before[: len(sequences(setup, True))]
        assert portions(sequences(setup))[-2:] == [(len(before), 1), (len(before) + 1, 1)]
        (first, second) = prove_part(setup.as_json(), plain_refs(every), None, prepared(setup.as_json()))
        assert first["sequence"] == {"kind": "jog", "axis": "X"} and second["seconds"] == 1.5
        digests = digests_of(setup)
        assert set(every) <= digests.sequences() and digests.of(every[0]) != ""
        failed = not_proven(every[1], "Too slow.")
        assert failed["findings"][0]["message"] == "Jogging Y could not be proven. Too slow."
    finally:
        REFS.remove("jog")
        SEQUENCES.remove("jog")
