"""Attacks the proof (make mutate): every single edit of the written texts is proven as a program that was imported, every text is run
where the machine is really otherwise than its Setup says, and what nothing is said of is listed. Machines that are otherwise and as right
are proven as well: of them nothing more may be said.

    python tools/mutate.py [--machine NAME …] [--only exchanges|measuring|routines|setups|variations] [--wider] [--sample N] [--seed N]
        [--share K/N] [--survivors FILE]

An edit that is reported is found. One that is not is run beside the text as written, from several callers: where all that it does is the
same, or differs only in what :mod:`harmless` knows to do no harm, it does none, and the reason is counted. What is left are
survivors. Exit 1 where there are any."""

import argparse
import json
import os
import random
import sys
import time
from collections import Counter
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import asdict, dataclass, replace
from functools import cache
from pathlib import Path

from edits import Edit, edits, wider
from harmless import why_harmless
from orthotrope.proof.case import Case
from orthotrope.proof.exchanges import ExchangeProof, exchange_case
from orthotrope.proof.measuring import MeasuringRef, measurable, measuring_case, prove_measuring
from orthotrope.proof.room import Rooms
from orthotrope.proof.routines import provable, prove_routine, routine_case
from orthotrope.proof.sequences.registry import SEQUENCES
from orthotrope.sequence.measuring.registry import USUAL
from orthotrope.setup import Setup, read_setup
from setups import SetupEdit, outcome_of_setup, setup_edits
from variations import VARIATIONS, Variation, alarms, varied

ROOT = Path(__file__).parent.parent

MOST_TOOLS = 12
"""Of a magazine with more, the shortest and the longest are exchanged."""

Verdicts = frozenset[tuple[str, str]]
"""What is said of a text: (check, severity), and (fault, verdict) where it is not safe."""


@dataclass(frozen=True, slots=True)
class Subject:
    """What is attacked of a demo machine: the text of exchanges, of ``measuring`` or of a routine (its ``name``), or its Setup."""

    machine: str
    of: str
    name: str = ""

    def __str__(self) -> str:
        return " ".join(part for part in (self.machine, self.of, self.name) if part)


@cache
def demo(name: str) -> Setup:
    """A demo machine's Setup."""
    return read_setup((ROOT / "demo" / "setups" / f"{name}.json").read_bytes())


def subjects(machines: list[str], only: str | None) -> Iterator[Subject]:
    """What is attacked, in a fixed order."""
    for machine in machines:
        setup = demo(machine)
        if setup.changer is not None and only in (None, "exchanges"):
            yield Subject(machine, "exchanges")
        if only in (None, "measuring"):
            names = {ref.name: ref for ref in SEQUENCES["measuring"].every(setup)}
            yield from (Subject(machine, "measuring", "" if name == USUAL else name) for name in names)
        if only in (None, "routines"):
            yield from (Subject(machine, "routines", name) for name in provable(setup))
        for of in ("setups", "variations"):
            if only in (None, of):
                yield Subject(machine, of)


def pairs_of(setup: Setup) -> list[tuple[int, int]]:
    """The exchanges that between them run every block: each tool put away and fetched once, and with the empty spindle before and
    after."""
    tools = [tool.number for tool in sorted(setup.exchangeable(), key=lambda tool: tool.whole_length)]
    tools = [*tools[:4], *tools[-4:]] if len(tools) > MOST_TOOLS else tools
    return [(0, tools[-1]), (tools[0], 0), *zip(tools, [*tools[1:], tools[0]], strict=True)]


def measuring_of(subject: Subject) -> MeasuringRef:
    """The measuring sequence that is attacked: with the longest tool."""
    setup = demo(subject.machine)
    longest = max(measurable(setup), key=lambda number: setup.tool(number).whole_length)
    return MeasuringRef(name=subject.name or USUAL, tools=(longest,))


@cache
def cases_of(subject: Subject) -> tuple[str, list[Case]]:
    """The text of a subject, and the cases that it is run in."""
    setup = demo(subject.machine)
    if subject.of == "exchanges":
        text, first = exchange_case(setup, setup.profile, *pairs_of(setup)[0])
        pairs = pairs_of(setup) if setup.profile.arithmetic and setup.profile.conditions else pairs_of(setup)[:1]
        return text, [replace(first, call=replace(first.call, from_tool=a, to_tool=b), _runs={}) for a, b in pairs]
    if subject.of == "measuring":
        ref = measuring_of(subject)
        text, case = measuring_case(setup, setup.profile, ref.name, ref.tools)
        return text, [case]
    text, case = routine_case(setup, setup.profile, subject.name)
    return text, [case]


def outcome_of(subject: Subject, text: str) -> Verdicts:
    """What the proof says of a text in place of the written one."""
    setup = demo(subject.machine)
    said: set[tuple[str, str]] = set()
    if subject.of == "routines":
        result = prove_routine(setup, subject.name, imported=text)
        said |= {(finding.check, finding.severity) for finding in result.findings}
        said |= {(fault.fault, fault.verdict) for fault in result.faults if fault.verdict != "safe"}
        return frozenset(said)
    if subject.of == "exchanges":
        proof = ExchangeProof(setup, text)
        proof.round |= set(pairs_of(setup))  # of all pairs the proof takes others to fetch and put away each tool once
        for case in cases_of(subject)[1]:
            result = proof.of(case.call.from_tool, case.call.to_tool, True)
            said |= {(finding.check, finding.severity) for finding in result.findings}
            said |= {(fault.fault, fault.verdict) for fault in result.faults if fault.verdict != "safe"}
        return frozenset(said)
    result = prove_measuring(setup, measuring_of(subject), imported=text)
    said |= {(finding.check, finding.severity) for finding in result.findings}
    said |= {(fault.fault, fault.verdict) for fault in result.faults if fault.verdict != "safe"}
    return frozenset(said)


@cache
def written(subject: Subject) -> Verdicts:
    """What is said of the text as written."""
    return outcome_of(subject, cases_of(subject)[0])


Edited = Edit | SetupEdit | Variation
"""What is done to a subject."""


@dataclass(frozen=True, slots=True)
class Outcome:
    """What an edit came to: "found", the reason why it does no harm, or "" of a survivor."""

    subject: Subject
    edit: Edited
    outcome: str


@cache
def rooms_of(machine: str) -> Rooms:
    """The sequences of a demo machine, read and run once in a process."""
    return Rooms(demo(machine))


def edits_of(subject: Subject, widely: bool = False) -> Sequence[Edited]:
    """All single edits of what is attacked; ``widely``: of a text those that it has more of."""
    if subject.of == "setups":
        return list(setup_edits(demo(subject.machine)))
    if subject.of == "variations":
        return [Variation(says) for says in VARIATIONS]
    return list((wider if widely else edits)(cases_of(subject)[0]))


@cache
def alarms_of(machine: str) -> frozenset[tuple[str, str]]:
    """What is said of a demo machine as it is."""
    return alarms(demo(machine), pairs_of(demo(machine)))


def attacked(subject: Subject, edit: Edited) -> Outcome:
    """One edit, proven."""
    if isinstance(edit, Variation):
        setup = varied(demo(subject.machine), edit)
        more = alarms(setup, pairs_of(setup)) - alarms_of(subject.machine) if setup else None
        return Outcome(subject, edit, "has nothing of the kind" if more is None else "" if more else "rightly quiet")
    if isinstance(edit, SetupEdit):
        return Outcome(subject, edit, outcome_of_setup(rooms_of(subject.machine), edit))
    new = outcome_of(subject, edit.text) - written(subject)
    if new:
        return Outcome(subject, edit, "found")
    text, cases = cases_of(subject)
    return Outcome(subject, edit, why_harmless(cases, text, edit.text))


def _share(said: str) -> tuple[int, int]:
    part, _, parts = said.partition("/")
    if not (part.isdigit() and parts.isdigit() and 1 <= int(part) <= int(parts)):
        raise argparse.ArgumentTypeError(f"{said} is no share; say it as 3/20")
    return int(part), int(parts)


def main() -> int:
    """Attack, and list the survivors."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    every = sorted(path.stem for path in (ROOT / "demo" / "setups").glob("*.json"))
    parser.add_argument("--machine", nargs="*", default=every)
    parser.add_argument("--only", choices=("exchanges", "measuring", "routines", "setups", "variations"))
    parser.add_argument("--name", help="of a routine")
    parser.add_argument("--sample", type=int, default=0, help="so many edits of each text; all of them if not said")
    parser.add_argument("--wider", action="store_true", help="the edits of texts that are tried in samples only")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument(
        "--share", type=_share, default=(1, 1), help="a part of the edits, as 3/20; all parts together are all of them"
    )
    parser.add_argument("--survivors", type=Path, help="a file that the survivors of this part are written to")
    options = parser.parse_args()
    wanted: list[tuple[Subject, Edited]] = []
    for subject in subjects(options.machine, options.only):
        if options.name and subject.name != options.name:
            continue
        found = edits_of(subject, options.wider)
        if options.sample:
            found = random.Random(options.seed).sample(found, min(options.sample, len(found)))
        wanted += [(subject, edit) for edit in found]
    part, parts = options.share
    wanted = random.Random(options.seed).sample(wanted, len(wanted))[part - 1 :: parts]  # parts that take as long
    begun, survivors, counted = time.monotonic(), list[Outcome](), Counter[str]()
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        for done, outcome in enumerate(pool.map(attacked, *zip(*wanted, strict=True), chunksize=4), 1):
            counted[outcome.outcome or "survived"] += 1
            if not outcome.outcome:
                survivors.append(outcome)
            if done % 20 == 0 or done == len(wanted):
                print(f"\r{done} of {len(wanted)}", end="", file=sys.stderr, flush=True)
    print(f"\n{len(wanted)} edits in {time.monotonic() - begun:.0f} s", file=sys.stderr)
    lines = []
    for outcome in survivors:
        edit = {name: value for name, value in asdict(outcome.edit).items() if name != "text"}
        lines.append(json.dumps({"of": str(outcome.subject), **edit}, ensure_ascii=False))
    print("\n".join(lines))
    if options.survivors:
        options.survivors.write_text("".join(f"{line}\n" for line in lines))
    for what, count in counted.most_common():
        print(f"{count:6}  {what}")
    return 1 if survivors else 0


if __name__ == "__main__":
    raise SystemExit(main())
