"""How many of the stated 95 % intervals hold the hidden truth: every probe qualified and every routine run on a part that was put
down carelessly, in the worlds of 400 seeds. Prints a line for each quantity; exit 1 where all of a machine
together are outside 92 to 98 %.

    python tools/intervals.py [--seeds 400] [--machine curlew …]
"""

import argparse
import json
import os
import sys
import time
from collections import defaultdict
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

from orthotrope.practising.probing import probed
from orthotrope.setup import read_setup

DEMO = Path(__file__).parent.parent / "demo" / "setups"
LEAST, MOST = 92.0, 98.0
"""Percent of the intervals that hold the truth, of ones that are stated rightly."""


def world(name: str, seed: int) -> list[tuple[str, float]]:
    """Each quantity of a world: its name, and how far off the truth it is in half widths."""
    setup = read_setup(json.loads((DEMO / f"{name}.json").read_text(encoding="utf-8")))
    return [(entry.quantity, abs(entry.found - entry.truth) / entry.half_width_95) for entry in probed(setup, seed)]


def held(name: str, seeds: int, workers: int) -> dict[str, tuple[float, float]]:
    """Percent of the worlds in which each quantity's interval holds, and the furthest it is off, in half widths."""
    off: dict[str, list[float]] = defaultdict(list)
    with ProcessPoolExecutor(workers) as pool:
        for done, found in enumerate(pool.map(world, [name] * seeds, range(1, seeds + 1), chunksize=4), 1):
            for quantity, by in found:
                off[quantity].append(by)
            print(f"\r{name}: {done} of {seeds} worlds", end="", file=sys.stderr, flush=True)
    print(file=sys.stderr)
    return {entry: (100.0 * sum(by <= 1.0 for by in every) / len(every), max(every)) for entry, every in off.items()}


def main() -> int:
    """Print the figures of each machine; 1 where some are outside."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--seeds", type=int, default=400)
    parser.add_argument("--machine", nargs="*", default=["curlew", "plover"])
    parser.add_argument("--workers", type=int, default=os.cpu_count() or 1)
    options = parser.parse_args()
    outside = 0
    for name in options.machine:
        begun = time.monotonic()
        found = held(name, options.seeds, options.workers)
        for quantity, (percent, furthest) in found.items():
            print(f"{name:8} {quantity:36} {percent:6.2f} %   furthest {furthest:4.2f}")
        mean = sum(percent for percent, _ in found.values()) / len(found)
        outside += not LEAST <= mean <= MOST
        print(f"{name:8} all: {mean:.2f} % of {len(found)} quantities, {time.monotonic() - begun:.0f} s")
    return 1 if outside else 0


if __name__ == "__main__":
    sys.exit(main())
