"""The actions of the ``orthotrope`` command that run every sequence, on all cores: prove and room."""

import argparse
import gc
import json
import math
import multiprocessing
import sys
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from typing import Any

from orthotrope.errors import InputError
from orthotrope.proof.completing import NOT_COMPLETED
from orthotrope.proof.exchanges import prove_shared
from orthotrope.proof.judging import VERDICTS
from orthotrope.proof.measuring import measurable, prove_tools
from orthotrope.proof.reaching import unreached
from orthotrope.proof.room import (
    ROOM,
    Room,
    closest_of,
    in_words,
    known_of,
    quantities,
    rooms_of,
    tightest_first,
    too_tight,
)
from orthotrope.proof.routines import provable, prove_routines
from orthotrope.proof.whole import portions, prove_part, sequences
from orthotrope.setup import Setup, read_setup

START = "fork" if sys.platform == "linux" else "spawn"
"""How the processes of a proof begin: a copy of this one, which runs nothing else, has all modules already."""


def prove(options: argparse.Namespace) -> int:
    """Every case of a Setup."""
    setup = read_setup(options.setup.read_bytes())
    wanted = [options.only] if options.only else list(PROOFS)
    found = [PROOFS[name](setup, options) for name in wanted]
    if not any(found):
        what = {
            "measuring": "A setter and a tool are needed",
            "routines": "A probe and a routine are needed",
        }.get(options.only or "", "A changer and a stored tool are needed")
        raise InputError.at("", f"There is nothing to prove. {what}.")
    results = [result for part in found for result in part]
    cases = [_case(result, fault) for result in results for fault in result["faults"]]
    stops = {
        finding["message"]: finding
        for result in results
        for finding in result["findings"]
        if finding["severity"] == "stop"
    }
    notes = [finding for finding, _ in unreached([{"from": 0, "to": 0, **result} for result in results])]
    unsafe = [case for case in cases if case["verdict"] == "unsafe"]
    if options.json:
        print(
            json.dumps(
                {"cases": cases, "findings": [*stops.values(), *(f.as_json() for f in notes)]}, ensure_ascii=False
            )
        )
    else:
        _print_proof(cases, list(stops.values()), len(results))
        for note in notes:
            print(f"{note.severity:<5} {note.check:<22} {note.message}")
    return 1 if unsafe or stops else 0


def _pool(options: argparse.Namespace, parts: int) -> ProcessPoolExecutor:
    gc.freeze()  # the processes go on sharing what is there, and it is not looked through for garbage
    return ProcessPoolExecutor(min(options.workers, parts), mp_context=multiprocessing.get_context(START))


def _prove_exchanges(setup: Setup, options: argparse.Namespace) -> list[dict[str, Any]]:
    brought = _brought(options)
    every = sequences(setup, brought=True)
    parts = portions(every)
    if not parts:
        return []
    document = setup.as_json()
    with _pool(options, len(parts)) as pool:
        shared = prove_shared(document, brought)
        under_way = [
            pool.submit(prove_part, document, every[first : first + count], brought, shared) for first, count in parts
        ]
        return [result for part in under_way for result in part.result()]


def _prove_measuring(setup: Setup, options: argparse.Namespace) -> list[dict[str, Any]]:
    found = _each(setup, options, "measuring", measurable(setup), prove_tools)
    return sorted(found, key=lambda result: result["tool"])


def _prove_routines(setup: Setup, options: argparse.Namespace) -> list[dict[str, Any]]:
    names = provable(setup)
    found = _each(setup, options, "routines", names, prove_routines)
    return sorted(found, key=lambda result: names.index(result["routine"]))


def _each(
    setup: Setup,
    options: argparse.Namespace,
    only: str,
    every: list[Any],
    prove_some: Callable[[dict[str, Any], list[Any], str | None], list[dict[str, Any]]],
) -> list[dict[str, Any]]:
    """Results of tools or routines, each proven by itself. A program that was brought is one of them: it is told of those that it
    completes; where it completes none, of all."""
    if not every or (options.program and options.only != only):
        return []
    document, parts = setup.as_json(), [every[first :: 2 * options.workers] for first in range(2 * options.workers)]
    with _pool(options, len(parts)) as pool:
        under_way = [pool.submit(prove_some, document, part, _brought(options)) for part in parts]
        results = [result for part in under_way for result in part.result()]
    if not options.program:
        return results
    completed = [result for result in results if not any(f["check"] == NOT_COMPLETED for f in result["findings"])]
    return completed or results


def _brought(options: argparse.Namespace) -> str | None:
    return options.program.read_text(encoding="utf-8", errors="replace") if options.program else None


PROOFS: dict[str, Callable[[Setup, argparse.Namespace], list[dict[str, Any]]]] = {
    "exchanges": _prove_exchanges,
    "measuring": _prove_measuring,
    "routines": _prove_routines,
}
"""What is proven, by the name that it is asked for by."""


QUANTITIES_TOGETHER = 4
"""That a process works out at a time."""

SEQUENCES_TOGETHER = 20


def room(options: argparse.Namespace) -> int:
    """How close everything passes, and how wrong each quantity may be."""
    setup = read_setup(options.setup.read_bytes())
    document, every, wheres = setup.as_json(), sequences(setup), quantities(setup)
    if not every:
        raise InputError.at(
            "", "There is no sequence to try. A changer and a stored tool, a setter, or a probe are needed."
        )
    parts = [wheres[at : at + QUANTITIES_TOGETHER] for at in range(0, len(wheres), QUANTITIES_TOGETHER)]
    runs = [every[at : at + SEQUENCES_TOGETHER] for at in range(0, len(every), SEQUENCES_TOGETHER)]
    rooms: list[Room] = []
    with _pool(options, len(parts)) as pool:
        passing = pool.map(closest_of, [document] * len(runs), runs)
        for done, found in enumerate(pool.map(rooms_of, [document] * len(parts), parts), 1):
            rooms += [ROOM.validate_python(room) for room in found]
            if sys.stderr.isatty():
                print(f"\r{done} of {len(parts)}", end="" if done < len(parts) else "\n", file=sys.stderr, flush=True)
        closest = [entry for part in passing for entry in part]
    rooms = tightest_first(rooms)
    findings = too_tight(setup, rooms, known_of(setup))
    closest.sort(key=lambda entry: entry["closest"]["gap"] if entry["closest"] else math.inf)
    if options.json:
        answer = {
            "findings": [finding.as_json() for finding in findings],
            "clearances": [{**_sequence_of(entry), "closest": entry["closest"]} for entry in closest],
            "quantities": [ROOM.dump_python(room, mode="json") for room in rooms],
        }
        print(json.dumps(answer, ensure_ascii=False))
        return 0
    _print_rooms(closest, rooms)
    for finding in findings:
        print(f"{finding.severity:<5} {finding.check:<22} {finding.message}")
    return 0


def _print_rooms(closest: list[dict[str, Any]], rooms: list[Room]) -> None:
    """The closest passings, and what has least room; what nothing fails at is left out."""
    for entry in closest[:10]:
        if near := entry["closest"]:
            what = f"{near['mover']} passes {near['body']}, line {near['line']}"
            print(f"{near['gap']:8.2f} mm  {_words_of(entry):<28} {what}")
    for room in rooms:
        limits = [limit for limit in (room.less, room.more) if limit.fails]
        if limits:
            ways = ((room.less, "−"), (room.more, "+"))
            less, more = (f"{sign}{limit.by:.3g}{'' if limit.fails else ' or more'}" for limit, sign in ways)
            says = min(limits, key=lambda limit: limit.by).says
            print(f"{in_words(room.key):<44} {room.value:g} {room.unit:<8} {less:>16} {more:>16}   {says}")


def _words_of(entry: dict[str, Any]) -> str:
    one, other, routine = entry["from"], entry["to"], entry["routine"]
    return routine or (f"{_named(one)} to {_named(other)}" if one != other else f"measuring T{one}")


def _named(tool: int) -> str:
    return f"T{tool}" if tool else "empty"


def _case(result: dict[str, Any], fault: dict[str, Any]) -> dict[str, Any]:
    findings = result["findings"] if fault["fault"] == "none" else []
    if fault["verdict"] != "safe" and fault["fault"] != "none":
        told = {
            "check": fault["check"],
            "severity": "stop" if fault["verdict"] == "unsafe" else "warn",
            "message": fault["says"],
            "line": fault["line"],
            "at_seconds": fault["at_seconds"],
        }
        findings = [{name: value for name, value in told.items() if value is not None}]
    closest = {"closest": result["closest"]} if fault["fault"] == "none" else {}
    return {
        **_sequence_of(result),
        "fault": fault["fault"],
        "verdict": fault["verdict"],
        "findings": findings,
        **closest,
    }


def _sequence_of(result: dict[str, Any]) -> dict[str, Any]:
    """Which sequence a result is of."""
    if result.get("routine"):
        return {"sequence": "routine", "name": result["routine"]}
    tool = result.get("tool", result.get("from"))
    if result.get("to", tool) != tool:
        return {"sequence": "exchange", "from": result["from"], "to": result["to"]}
    return {"sequence": "measure", "tool": tool, "from": tool, "to": tool}


def _print_proof(cases: list[dict[str, Any]], stops: list[dict[str, Any]], total: int) -> None:
    for finding in stops:
        print(f"stop  {finding['check']:<22} {finding['message']}")
    for fault in dict.fromkeys(case["fault"] for case in cases):
        mine = [case for case in cases if case["fault"] == fault]
        counts = {verdict: sum(case["verdict"] == verdict for case in mine) for verdict in reversed(VERDICTS)}
        print(f"{fault:<16} " + ", ".join(f"{count} {verdict}" for verdict, count in counts.items() if count))
        worst = next((case for case in mine if case["verdict"] != "safe" and case["findings"]), None)
        if worst:
            which = worst.get("name") or (
                f"T{worst['from']} to T{worst['to']}" if worst["sequence"] == "exchange" else f"T{worst['tool']}"
            )
            print(f"{'':<16} {worst['sequence']} {which}: {worst['findings'][0]['message']}")
    print(f"{total} sequences, {len(cases)} cases.")
