"""A proof is addressed by what it runs: an edit that changes nothing of it leaves it valid, one that does makes it
stale."""

from collections.abc import Iterator
from typing import Any

import pytest
from demo_setup import changed, demo
from orthotrope.errors import OrthotropeError
from orthotrope.proof.digests import Digests, exchange_digests, responsible
from orthotrope.proof.exchanges import prove_exchanges
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


@pytest.mark.parametrize("name", ["heron", "curlew", "plover", "godwit", "knot"])
def test_what_leaves_the_digest_leaves_the_result_of_the_proof(name: str) -> None:
    document = demo(name)
    setup = read_setup(document)
    digests, result, same = exchange_digests(setup), proven(setup), list[str]()
    for where, value in leaves(document):
        try:
            other = read_setup(placed(document, where, otherwise(value)))
        except OrthotropeError:
            continue
        if exchange_digests(other) == digests:
            same.append(where)
    assert len(same) >= 8
    for where in same:
        told = proven(read_setup(placed(document, where, otherwise(dict(leaves(document))[where]))))
        assert _without_names(told) == _without_names(result), where


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
    assert exchange_digests(read_setup(placed(document, where, value))) == exchange_digests(read_setup(document))


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
    one, other = exchange_digests(before), exchange_digests(after)
    assert all(one.of(a, b) != other.of(a, b) for a in one.fetch for b in one.fetch if a != b)
    assert [change.where.rsplit("/", 1)[1] for change in responsible(before, after, exchange_digests(after))] == [
        where.rsplit("/", 1)[1]
    ]
    back = read_setup(placed(after.as_json(), where, dict(leaves(before.as_json()))[where]))
    assert exchange_digests(back) == one


def test_where_a_control_has_a_file_for_each_exchange_only_those_of_a_moved_tool_are_stale() -> None:
    plain = changed(demo("dunlin"), machine__profile="plain words")
    before, after = (
        exchange_digests(read_setup(document))
        for document in (plain, {**plain, "inputs": [], "probes": [], "routines": []})
    )
    assert Digests.from_json(before.as_json()) == before and before.of(1, 2) != before.of(2, 1) != ""
    assert before.of(1, 99) == "" and after.shared != before.shared


def stale(before: Digests, after: Digests) -> set[str]:
    """The sequences of the second that are others than those of the first: routines by name, "exchanges", "measuring"."""
    found = {name for name in after.routines if after.of(0, 0, name) != before.of(0, 0, name)}
    tools = [tool for tool in after.fetch if tool]
    if any(after.of(0, tool) != before.of(0, tool) for tool in tools):
        found.add("exchanges")
    if any(after.of(tool, tool) != before.of(tool, tool) for tool in after.measure):
        found.add("measuring")
    return found


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
    before, after = (exchange_digests(read_setup(d)) for d in (document, changed(document, **change)))
    by_probe = {r.name for r in read_setup(document).routines if r.probe} | {
        name for name in before.routines if name.endswith("touch probe")
    }
    assert stale(before, after) == (by_probe if expected == {"every routine"} else expected)


def test_digests_come_back_as_they_were_kept() -> None:
    digests = exchange_digests(read_setup(demo("heron")))
    assert Digests.from_json(digests.as_json()) == digests and len(digests.routines) == 2
    before = {key: value for key, value in digests.as_json().items() if key != "routines"}
    old = Digests.from_json(before)
    assert old.of(0, 0, next(iter(digests.routines))) == "" and old.of(0, 1) == digests.of(0, 1)
