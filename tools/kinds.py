"""A kind is named in its own folders only (make check): style of changer, setter, probe, routine.

What names one elsewhere asks "which kind is it?", and would have to be changed for the next one. docs/architecture.md counts on it where it says in how
many places a kind is added."""

import re
import sys
from collections.abc import Iterator
from pathlib import Path

from orthotrope.registry import load_all
from orthotrope.setup.changer import CHANGERS
from orthotrope.setup.probes import PROBES
from orthotrope.setup.routines import ROUTINES
from orthotrope.setup.setters import SETTERS

ROOT = Path(__file__).resolve().parents[1]

SEARCHED = ("core/orthotrope", "server", "practice", "web/src")

OWN = re.compile(r"/kinds/|web/src/(changers|routines)/[^/]+/|/tests/|\.test\.|/generated/|/migrations/")
"""Where a kind may be named: its folders, and what is no code of ours."""

OTHER_MEANINGS = {
    "angle": "a quantity's unit",
    "surface": "a worksheet: a length at a surface",
    "slot": "a shape, of the calculation span-centre",
    "web": "a shape, of the calculation span-centre; the folder of the interface",
    "touch plate": "a role of inputs",
}
"""Names of kinds that are words for something else as well."""

NAMED = {
    "core/orthotrope/sequence/probing/qualifying.py": "a probe is qualified by a bore, a boss and a surface",
    "web/src/stages/changer/around.tsx": "what reserves a pocket can be a setter in a pocket",
}
"""Modules that name kinds, and why."""


def wrong(root: Path, names: set[str]) -> Iterator[str]:
    """The places below ``root`` that name one of these kinds outside its folders."""
    quoted = re.compile(
        rf"""["']({"|".join(sorted(map(re.escape, names - OTHER_MEANINGS.keys()), reverse=True))})["']"""
    )
    for folder in SEARCHED:
        for file in sorted((root / folder).rglob("*")):
            place = str(file.relative_to(root))
            if file.suffix not in (".py", ".ts", ".tsx") or OWN.search(place) or place in NAMED:
                continue
            for number, line in enumerate(file.read_text().splitlines(), 1):
                if found := quoted.search(line):
                    yield f'{place}:{number} names the kind "{found[1]}"'


def main() -> int:
    load_all()
    names = {name for registry in (CHANGERS, SETTERS, PROBES, ROUTINES) for name in registry}
    found = [*wrong(ROOT, names)]
    print("\n".join(found) or f"{len(names)} kinds, each named in its own folders")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
