"""The actions of the ``orthotrope`` command that run every sequence, on all cores: prove and room."""

import argparse
import gc
import json
import math
import multiprocessing
import sys
from concurrent.futures import ProcessPoolExecutor
from typing import Any

from orthotrope.errors import InputError
from orthotrope.proof.completing import NOT_COMPLETED
from orthotrope.proof.coverage import unreached
from orthotrope.proof.judging import VERDICTS
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
from orthotrope.proof.sequences.registry import SEQUENCE, SEQUENCES, Choice, as_case, sequence_name
from orthotrope.proof.whole import plain_refs, portions, prove_part, sequences
from orthotrope.sequence.measuring import MEASURING
from orthotrope.setup import Setup, read_setup

START = "fork" if sys.platform == "linux" else "spawn"
"""How the processes of a proof begin: a copy of this one, which runs nothing else, has all modules already."""


def prove(options: argparse.Namespace) -> int:
    """Every case of a Setup."""
    setup = read_setup(options.setup.read_bytes())
    if options.profile:
        setup = setup.with_profile(setup.profile_named(options.profile).name)
    choice = Choice(options.sequence, options.name, options.tool, options.from_tool, options.to_tool)
    _must_be_there(setup, choice)
    wanted = {name: kind for name, kind in SEQUENCES.items() if options.only in (None, kind.option)}
    results = [result for name in wanted for result in _prove_kind(setup, name, options, choice)]
    if not results:
        if not choice.of_all:
            raise InputError.at(
                "", "There is no such sequence in this Setup; `emit --help` and `prove --json` name those there are."
            )
        raise InputError.at("", f"There is nothing to prove. {next(iter(wanted.values())).needs}.")
    cases = [_case(result, fault) for result in results for fault in result["faults"]]
    stops = {
        finding["message"]: finding
        for result in results
        for finding in result["findings"]
        if finding["severity"] == "stop"
    }
    notes = [finding for finding, _ in unreached(results)]
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


def _must_be_there(setup: Setup, choice: Choice) -> None:
    """Raises InputError where a tool or a sequence that is named is not there."""
    if choice.sequence is not None:
        MEASURING.find(choice.sequence, "/sequence")
    for number in (choice.tool, choice.from_tool, choice.to_tool):
        if number:
            setup.tool(number)


def _pool(options: argparse.Namespace, parts: int) -> ProcessPoolExecutor:
    gc.freeze()  # the processes go on sharing what is there, and it is not looked through for garbage
    return ProcessPoolExecutor(min(options.workers, parts), mp_context=multiprocessing.get_context(START))


def _prove_kind(setup: Setup, name: str, options: argparse.Namespace, choice: Choice) -> list[dict[str, Any]]:
    """Results of all sequences of a kind. An imported program is in place of the text of those that are called alike; else it is the
    text of one of them: the results are those of the sequences that are named, or that it completes, or where it completes none, of all."""
    kind, imported = SEQUENCES[name], _imported(options)
    every = kind.chosen(kind.every(setup), choice)
    named = not choice.of_all
    if not every or (imported and not kind.imports and options.only != kind.option and not named):
        return []
    document = setup.as_json()
    parts = portions(every) if kind.imports else [(first, 1) for first in range(len(every))]
    with _pool(options, len(parts)) as pool:
        known = {name: kind.prepare(document, imported)}
        under_way = [
            pool.submit(prove_part, document, plain_refs(every[first : first + count]), imported, known)
            for first, count in parts
        ]
        results = [result for part in under_way for result in part.result()]
    if kind.imports or not imported or named:
        return results
    completed = [result for result in results if not any(f["check"] == NOT_COMPLETED for f in result["findings"])]
    return completed or results


def _imported(options: argparse.Namespace) -> str | None:
    return options.program.read_text(encoding="utf-8", errors="replace") if options.program else None


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
        passing = pool.map(closest_of, [document] * len(runs), map(plain_refs, runs))
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
            "quantities": [_quantity(room) for room in rooms],
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
    return sequence_name(SEQUENCE.validate_python(entry["sequence"]))


def _quantity(room: Room) -> dict[str, Any]:
    """A quantity's limits; what fails first by the tools that it begins and ends with, or by the name of its routine."""
    reported: dict[str, Any] = ROOM.dump_python(room, mode="json")
    for way in ("less", "more"):
        fields = reported[way]
        which = as_case(SEQUENCE.validate_python(failing)) if (failing := fields.pop("sequence")) else {}
        first = {name: fields.pop(name) for name in ("by", "fails")}
        named = {"from_tool": which.get("from", 0), "to_tool": which.get("to", 0), "routine": which.get("name", "")}
        reported[way] = {**first, **named, **fields}
    return reported


def _case(result: dict[str, Any], fault: dict[str, Any]) -> dict[str, Any]:
    findings = result["findings"] if fault["fault"] == "none" else []
    if fault["verdict"] != "safe" and fault["fault"] != "none":
        reported = {
            "check": fault["check"],
            "severity": "stop" if fault["verdict"] == "unsafe" else "warn",
            "message": fault["says"],
            "line": fault["line"],
            "at_seconds": fault["at_seconds"],
        }
        findings = [{name: value for name, value in reported.items() if value is not None}]
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
    return as_case(SEQUENCE.validate_python(result["sequence"]))


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
