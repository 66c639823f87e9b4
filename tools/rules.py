"""The pages of docs/rules that are generated from the code: the checks with the faults, and the calculations (make rules). With --check it
fails where they are not current, or where a page or a docstring refers to a page that is not there."""

import re
import sys
from functools import cache
from pathlib import Path
from typing import Any

from orthotrope.calc.registry import CALCULATIONS
from orthotrope.proof.case import CHECKS, Registered
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.registry import load_all

ROOT = Path(__file__).resolve().parents[1]
RULES = ROOT / "docs" / "rules"
SCOPES = {
    "setup": "the Setup alone, no program is needed",
    "static": "the text, without running it",
    "text": "a text, once: it is run for it",
    "run": "every run",
}


def checks() -> str:
    """The page of the checks and faults."""
    lines = [
        "# The checks",
        "",
        "Generated from the checks' own docstrings by `make rules`, with the module of each and the modules of core/tests that name it. A check",
        "reads a program's text or its run and yields findings: what is wrong,",
        "with the figures, and what to do. *Harm* marks those that make a case under a fault unsafe. How machines behave is in",
        "[hardware.md](hardware.md).",
    ]
    for scope, says in SCOPES.items():
        lines += [
            "",
            f"## Of {says}",
            "",
            "| check | severity | harm | when | in | tests |",
            "| --- | --- | --- | --- | --- | --- |",
        ]
        lines += [_check(entry) for entry in CHECKS.values() if entry.scope == scope]
    lines += ["", "## Faults", "", "Every sequence is run under each of these that applies to it.", ""]
    lines += ["| fault | what | in | tests |", "| --- | --- | --- | --- |"]
    lines += [
        f"| {name} | {fault.label} | {_place(type(fault).__module__)} | {_tests(name)} |"
        for name, fault in FAULTS.items()
    ]
    return "\n".join([*lines, ""])


def _check(entry: Registered) -> str:
    module = sys.modules[entry.function.__module__]
    when = " ".join(_said(part) for part in (module.__doc__, entry.function.__doc__) if part)
    place = _place(entry.function.__module__)
    return f"| {entry.name} | {entry.severity} | {'yes' if entry.harms else ''} | {when} | {place} | {_tests(entry.name)} |"


def _place(module: str) -> str:
    return f"`{module.removeprefix('orthotrope.')}`"


@cache
def _sources() -> dict[str, str]:
    return {path.stem: path.read_text() for path in sorted((ROOT / "core" / "tests").glob("test_*.py"))}


def _tests(name: str) -> str:
    """The modules of the core's tests that name a check or a fault."""
    return ", ".join(stem.removeprefix("test_") for stem, text in _sources().items() if f'"{name}"' in text)


def untested() -> list[str]:
    """The checks and faults that no test of the core names."""
    return [f"{name} is in no test of the core" for name in (*CHECKS, *FAULTS) if not _tests(name)]


def _said(text: str) -> str:
    return re.sub(r":\w+:`~?([\w.]+)`", r"`\1`", " ".join(text.split())).replace("|", "\\|").replace("``", "`")


def calculations() -> str:
    """The page of the calculations."""
    lines = [
        "# The calculations",
        "",
        "Generated from the registered calculations by `make rules`. Each is a pure function that the command line, the API and the interface",
        "share: `orthotrope calc NAME < input.json`. Lengths in mm, angles in degrees, feeds in mm/min, speeds in rev/min, time in",
        "seconds. Fields with ? may be left out.",
    ]
    for name, entry in CALCULATIONS.items():
        schema = entry.schema()
        lines += ["", f"## {name}", "", f"{entry.works_out[0].upper()}{entry.works_out[1:].rstrip('.')}.", ""]
        if entry.function.__doc__:
            lines += [_said(entry.function.__doc__), ""]
        lines += [f"- in: {_fields(schema['input'])}", f"- out: {_fields(schema['output'])}"]
    return "\n".join([*lines, ""])


def _fields(schema: dict[str, Any]) -> str:
    needed = schema.get("required", [])
    return ", ".join(f"`{name}`{'' if name in needed else '?'}" for name in schema.get("properties", {}))


PAGES = {"checks.md": checks, "calculations.md": calculations}


def dangling(root: Path) -> list[str]:
    """References to pages that are not there: links of the pages, and pages that code names."""
    found = []
    for page in (*root.glob("*.md"), *root.glob("docs/**/*.md")):
        for target in re.findall(r"\]\(([^)#\s]+)[^)]*\)", page.read_text()):
            if "://" not in target and not (page.parent / target).exists():
                found.append(f"{page.relative_to(root)}: there is no {target}")
    for folder in ("core", "practice", "server", "tools", "web/src"):
        for file in (root / folder).rglob("*"):
            if file.suffix not in (".py", ".ts", ".tsx") or {"generated", "tests"} & {*file.parts}:
                continue
            for named in re.findall(r"[\w/-]+\.md\b", file.read_text()):
                if not any((root / place / named).exists() for place in ("", "docs", "docs/rules")):
                    found.append(f"{file.relative_to(root)}: there is no page {named}")
    return found


def write(folder: Path) -> None:
    """Write the pages into a folder."""
    for name, made in PAGES.items():
        (folder / name).write_text(made())


def stale(folder: Path) -> list[str]:
    """The pages in a folder that are not what the code says."""
    pages = ((folder / name, made) for name, made in PAGES.items())
    return [
        f"{page.name} is not what the code says; run make rules"
        for page, made in pages
        if not page.exists() or page.read_text() != made()
    ]


def main() -> int:
    load_all()
    if "--check" not in sys.argv:
        write(RULES)
    wrong = [*stale(RULES), *dangling(ROOT), *untested()]
    for line in wrong:
        print(line)
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
