"""Attacks core's own tests (make mutate-core): single changes of its code, each against the tests that run what it stands in.

    python tools/mutate_core.py [--sample N] [--seed N] [--workers N] [--only PART]

Which tests run which line is measured first. Each worker has a clone of what is committed; survivors are listed with their change.
Exit 1 where there are any."""

import argparse
import os
import random
import sqlite3
import subprocess
import sys
import tempfile
import xml.etree.ElementTree as ElementTree
from collections.abc import Iterable, Sequence
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import NamedTuple

ROOT = Path(__file__).parent.parent
CONFIG = "tools/mutation.toml"

NO_CHANGE = ("BitOr", "Decorator", "ExceptionReplacer")
"""Operators that change annotations, or what no test of behaviour is to see."""

LONGEST = 90.0
"""Seconds; so long may the tests of one change take by themselves, the quickest first."""


class Change(NamedTuple):
    """One change of the code: ``occurrence`` of ``operator`` in ``module``, on the lines ``first`` to ``last`` of what is ``name``d."""

    module: str
    operator: str
    occurrence: int
    first: int
    last: int
    name: str


class Measured(NamedTuple):
    """Which tests run a line of a file, and how many seconds each takes."""

    tests: dict[str, dict[int, set[str]]]
    seconds: dict[str, float]

    def of(self, change: Change) -> list[str]:
        """The tests that run a change, the quickest first; of one that stands in no function those of its module."""
        lines = self.tests.get(change.module, {})
        found = {test for line in range(change.first, change.last + 1) for test in lines.get(line, ())}
        found = found or {test for tests in lines.values() for test in tests}
        kept, taken = list[str](), 0.0
        for test in sorted(found, key=lambda test: (self.seconds.get(test, 0.0), test)):
            taken += self.seconds.get(test, 0.0)
            if taken > LONGEST and kept:
                break
            kept.append(test)
        return kept


def shell(folder: Path, *arguments: str) -> None:
    """A module of this Python's, in a clone."""
    subprocess.run([sys.executable, "-m", *arguments], cwd=folder, env=surroundings(folder), check=True)


def surroundings(folder: Path) -> dict[str, str]:
    """The environment in which a clone's own code is imported."""
    return {
        **os.environ,
        "PYTHONPATH": str(folder / "core"),
        "PATH": f"{Path(sys.executable).parent}:{os.environ['PATH']}",
    }


def measured(folder: Path, workers: int) -> Measured:
    """Run core's tests once, and see what each runs."""
    from coverage import CoverageData

    shell(
        folder,
        "pytest",
        "-q",
        "core/tests",
        f"-n{workers}",
        "--cov=core/orthotrope",
        "--cov-context=test",
        "--cov-report=",
        "--junitxml=tests.xml",
    )
    data = CoverageData(str(folder / ".coverage"))
    data.read()
    tests = {
        str(Path(name).relative_to(folder)): {
            line: {context.partition("|")[0] for context in contexts if context}
            for line, contexts in data.contexts_by_lineno(name).items()
        }
        for name in data.measured_files()
    }
    cases = ElementTree.parse(folder / "tests.xml").iter("testcase")
    seconds = {
        f"{case.get('classname', '').replace('.', '/')}.py::{case.get('name')}": float(case.get("time", 0))
        for case in cases
    }
    return Measured(tests, seconds)


def changes(folder: Path, only: str) -> list[Change]:
    """All changes of what the configuration names, in a fixed order."""
    shell(folder, "cosmic_ray.cli", "init", CONFIG, "session.sqlite")
    with sqlite3.connect(folder / "session.sqlite") as data:
        rows = data.execute(
            "select module_path, operator_name, occurrence, start_pos_row, end_pos_row, definition_name from mutation_specs"
        )
        found = [Change._make((*row[:5], row[5] or "")) for row in rows]
    return sorted(c for c in found if only in c.module and not any(name in c.operator for name in NO_CHANGE))


def tried(folder: Path, part: Sequence[tuple[Change, list[str]]]) -> Iterable[tuple[Change, str]]:
    """Each change of a part and what is left of it: "" where a test noticed, the difference where none did."""
    from cosmic_ray.mutating import mutate_and_test
    from cosmic_ray.work_item import MutationSpec, TestOutcome

    os.chdir(folder)
    os.environ.update(surroundings(folder))
    results = list[tuple[Change, str]]()
    for change, tests in part:
        spec = MutationSpec(
            module_path=Path(change.module),
            operator_name=change.operator,
            occurrence=change.occurrence,
            start_pos=(change.first, 0),
            end_pos=(change.last, 1),
        )
        quoted = " ".join(f"'{test}'" for test in tests)
        command = f"{sys.executable} -m pytest -x -q -p no:cacheprovider -p no:xdist -p no:cov {quoted}"
        result = mutate_and_test([spec], command, 4 * LONGEST)
        survived = result.test_outcome == TestOutcome.SURVIVED or not tests
        results.append((change, (result.diff or "") if survived else ""))
        print(".s"[survived], end="", file=sys.stderr, flush=True)
    return results


def main() -> int:
    """Attack, and list the survivors."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--sample", type=int, default=200)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--workers", type=int, default=os.cpu_count() or 1)
    parser.add_argument("--only", default="", help="part of the modules' paths")
    options = parser.parse_args()
    with tempfile.TemporaryDirectory() as there:
        clones = [Path(there).resolve() / str(number) for number in range(options.workers)]
        for clone in clones:
            subprocess.run(["git", "clone", "-q", str(ROOT), str(clone)], check=True)
        found = changes(clones[0], options.only)
        chosen = random.Random(options.seed).sample(found, min(options.sample, len(found)))
        by_test = measured(clones[0], options.workers)
        asked = [(change, by_test.of(change)) for change in chosen]
        parts = [asked[number :: len(clones)] for number in range(len(clones))]
        with ProcessPoolExecutor(len(clones)) as pool:
            results = [result for part in pool.map(tried, clones, parts) for result in part]
    survivors = [(change, difference) for change, difference in results if difference]
    for change, difference in survivors:
        print(f"{change.module}:{change.first} {change.name} {change.operator}\n{difference}\n")
    print(f"{len(survivors)} of {len(results)} changes survived; there are {len(found)} in all.")
    return 1 if survivors else 0


if __name__ == "__main__":
    raise SystemExit(main())
