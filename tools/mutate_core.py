"""Attacks core's own tests (make mutate-core): a sample of the single changes of its code, each against the tests of core that are quick.

    python tools/mutate_core.py [--sample N] [--seed N] [--workers N]

Each worker has a clone of what is committed; survivors are listed. Exit 1 where there are any."""

import argparse
import os
import random
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).parent.parent
CONFIG = "tools/mutation.toml"

NO_CHANGE = ("BitOr", "Decorator", "ExceptionReplacer")
"""Operators that change annotations, or what no test of behaviour is to see."""


def ray(folder: Path, *arguments: str) -> None:
    """The tool, in a clone."""
    environment = {**os.environ, "PATH": f"{Path(sys.executable).parent}:{os.environ['PATH']}"}
    subprocess.run([sys.executable, "-m", "cosmic_ray.cli", *arguments], cwd=folder, env=environment, check=True)


def sampled(session: Path, seed: int, part: int, parts: int, count: int) -> None:
    """Leave every ``parts``-th of a sample of ``count`` changes in a session."""
    with sqlite3.connect(session) as data:
        rows = data.execute("select job_id, operator_name from mutation_specs").fetchall()
        fit = sorted(job for job, operator in rows if not any(name in operator for name in NO_CHANGE))
        kept = random.Random(seed).sample(fit, min(count, len(fit)))[part::parts]
        data.execute("create temp table kept(id text)")
        data.executemany("insert into kept values (?)", [(job,) for job in kept])
        for table in ("mutation_specs", "work_items"):
            data.execute(f"delete from {table} where job_id not in (select id from kept)")


def run(folder: Path) -> tuple[int, list[tuple[str, ...]]]:
    """How many changes of a session were tried, and which survived: module, operator, line, what it stands in."""
    ray(folder, "exec", CONFIG, "session.sqlite")
    with sqlite3.connect(folder / "session.sqlite") as data:
        (count,) = data.execute("select count(*) from work_results").fetchone()
        survivors = data.execute(
            "select module_path, operator_name, start_pos_row, definition_name from mutation_specs s join work_results r "
            "on s.job_id = r.job_id where r.test_outcome = 'SURVIVED'"
        ).fetchall()
    return count, survivors


def main() -> int:
    """Attack, and list the survivors."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--sample", type=int, default=80)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--workers", type=int, default=os.cpu_count() or 1)
    options = parser.parse_args()
    with tempfile.TemporaryDirectory() as there:
        clones = [Path(there) / str(number) for number in range(options.workers)]
        for clone in clones:
            subprocess.run(["git", "clone", "-q", str(ROOT), str(clone)], check=True)
        ray(clones[0], "init", CONFIG, "session.sqlite")
        for clone in clones[1:]:
            shutil.copy(clones[0] / "session.sqlite", clone)
        for part, clone in enumerate(clones):
            sampled(clone / "session.sqlite", options.seed, part, len(clones), options.sample)
        with ThreadPoolExecutor(len(clones)) as pool:
            results = list(pool.map(run, clones))
    survivors = [survivor for _, found in results for survivor in found]
    for module, operator, row, name in survivors:
        print(f"{module}:{row} {name} {operator}")
    print(f"{len(survivors)} of {sum(count for count, _ in results)} changes survived.")
    return 1 if survivors else 0


if __name__ == "__main__":
    raise SystemExit(main())
