"""Reads, runs and reviews programs that were changed at random: none may raise, hang, or take more than its share of time and memory.

    python tools/fuzz.py [--count 200000] [--first 0]

Each is made from its number alone, so one that fails is made again by it: --first NUMBER --count 1 prints it. Exit 1 where one fails.
"""

import argparse
import json
import os
import random
import resource
import signal
import sys
import time
import traceback
from collections.abc import Iterable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from functools import cache
from pathlib import Path
from typing import Any

from orthotrope.program.reader import read_text
from orthotrope.proof.case import Purpose
from orthotrope.proof.exchanges import exchange_text
from orthotrope.proof.measuring import measuring_case
from orthotrope.proof.review import make_case, review
from orthotrope.proof.routines import provable, routine_case
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.control import find_profile

ROOT = Path(__file__).parent.parent
SECONDS, MEGABYTES = 10, 2000
"""The most that one program may take, and a process that reviews them."""
MOST_MOVES = 20_000
WINDOW = 60
"""Lines that are taken of a text."""
VOCABULARY = (
    "G0 G1 G2 G3 G4 P1 G10 L2 P1 G10 L20 P1 G17 G18 G20 G21 G28 G38.2 G38.3 G40 G41 G43 H1 G49 G53 G54 G55 G68 R3 G69 G80 G81 G90 G91 "
    "G92 G93 G94 G98 M0 M1 M2 M3 M5 M6 M10 M11 M19 M30 M98 P1 M99 T2 S900 F100 X1 Y-2 Z3 I1 J1 K1 R1 #1 #160 #5061 #[1] #<a> [ ] = + - * / ** "
    "MOD AND OR XOR EQ NE GT GE LT LE SIN[90] ATAN[1]/[2] SQRT[-1] IF THEN GOTO 1 WHILE DO1 END1 N1 O1 % / ; (MSG, a) ( ) . 1e9 -0 99999999 ä \0 \t"
)
WORDS = VOCABULARY.split(" ")

Source = tuple[str, Purpose, str]


@cache
def demo(name: str) -> Setup:
    """A demo machine's Setup."""
    return read_setup(json.loads((ROOT / "demo" / "setups" / f"{name}.json").read_text(encoding="utf-8")))


@cache
def sources() -> list[Source]:
    """The texts that are changed: the reference programs, and what is written for the demo machines; each with the machine
    ("": the bare one) and what it is for."""
    known = ROOT / "core" / "tests" / "programs"
    expected = json.loads((known / "expected.json").read_text(encoding="utf-8"))
    found: list[Source] = [("", entry["purpose"], (known / entry["program"]).read_text()) for entry in expected]
    for name in ("heron", "plover", "godwit", "curlew"):
        setup = demo(name)
        one, other = (tool.number for tool in setup.exchangeable()[:2])
        for profile in ("parametric", "plain words"):
            found.append((name, "exchange", exchange_text(setup, find_profile(profile), one, other)))
        if setup.setters:
            found.append((name, "measure", measuring_case(setup, setup.profile, "measure", (one,))[0]))
        found += [(name, "probe", routine_case(setup, setup.profile, routine)[0]) for routine in provable(setup)]
    return found


def mutated(number: int) -> Source:
    """The program of this number."""
    dice = random.Random(number)
    machine, purpose, text = dice.choice(sources())
    lines = text.split("\n")
    if len(lines) > WINDOW and dice.random() < 0.7:
        first = dice.randrange(len(lines) - WINDOW)
        lines = lines[first : first + dice.randint(1, WINDOW)]
    for _ in range(dice.choice((1, 1, 2, 3, 8, 30))):
        at = dice.randrange(len(lines))
        line = lines[at]
        place = dice.randrange(len(line) + 1)
        match dice.randrange(9):
            case 0:
                lines[at] = ""
            case 1:
                lines.insert(dice.randrange(len(lines) + 1), line)
            case 2:
                other = dice.randrange(len(lines))
                lines[at], lines[other] = lines[other], line
            case 3:
                lines[at] = line[:place] + line[place + dice.randint(1, 4) :]
            case 4 | 5:
                lines[at] = f"{line[:place]} {dice.choice(WORDS)} {line[place:]}"
            case 6:
                lines[at] = "".join(
                    dice.choice("0123456789-.") if c.isdigit() and dice.random() < 0.2 else c for c in line
                )
            case 7:
                lines[at] = (
                    line[:place] + chr(dice.choice((dice.randrange(32, 127), dice.randrange(0x250)))) + line[place:]
                )
            case _:
                lines[at] = line.replace("-", "", 1) if "-" in line else line.replace(" ", " -", 1)
    return machine, purpose, "\n".join(lines)


def reviewed(number: int) -> int:
    """Findings of the program of this number."""
    machine, purpose, text = mutated(number)
    setup = demo(machine) if machine else None
    profile = setup.profile if setup else find_profile("parametric")
    case = make_case(read_text(text), profile, purpose, setup)
    return len(review(replace(case, call=replace(case.call, most_moves=MOST_MOVES), _runs={})))


def tried(numbers: Iterable[int]) -> list[tuple[int, float, str]]:
    """Each number with its seconds, and what went wrong ("": nothing)."""
    found = []
    for number in numbers:
        begun, wrong = time.perf_counter(), ""
        signal.signal(signal.SIGALRM, _too_long)
        signal.alarm(SECONDS)
        try:
            reviewed(number)
        except BaseException:  # whatever it is, it is what is looked for
            wrong = traceback.format_exc(limit=-3)
        finally:
            signal.alarm(0)
        found.append((number, time.perf_counter() - begun, wrong))
    return found


def _bounded() -> None:
    """A process that is given programs: it fails where it takes more memory."""
    resource.setrlimit(resource.RLIMIT_AS, (MEGABYTES * 10**6, -1))


def _too_long(*_: Any) -> None:
    raise TimeoutError(f"more than {SECONDS} s")


def main() -> int:
    """Try them all; 1 where one fails."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--count", type=int, default=200_000)
    parser.add_argument("--first", type=int, default=0)
    parser.add_argument("--workers", type=int, default=os.cpu_count() or 1)
    options = parser.parse_args()
    if options.count == 1:
        print(*mutated(options.first), sep="\n")
    numbers = range(options.first, options.first + options.count)
    parts = [list(numbers[first : first + 200]) for first in range(0, options.count, 200)]
    begun, done, failed, slowest = time.monotonic(), 0, 0, (0.0, 0)
    with ProcessPoolExecutor(options.workers, initializer=_bounded) as pool:
        for part in pool.map(tried, parts):
            for number, seconds, wrong in part:
                slowest = max(slowest, (seconds, number))
                if wrong:
                    failed += 1
                    print(f"\nprogram {number}: {wrong}")
            done += len(part)
            print(f"\r{done} of {options.count}, {failed} failed", end="", file=sys.stderr, flush=True)
    peak = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024
    print(
        f"\n{done} programs in {time.monotonic() - begun:.0f} s, {failed} failed; the slowest (number {slowest[1]}) took "
        f"{slowest[0]:.2f} s, the largest process {peak:.0f} MB"
    )
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
