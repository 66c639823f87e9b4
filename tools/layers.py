"""The folders of web/src stand in layers: what is imported stands below, stages import no other stage, and no modules import each
other in a circle (make check).

A folder or module that is in no layer is an error too, so that a new one is given its place."""

import re
import sys
from collections import defaultdict
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1] / "web" / "src"

LAYERS = (
    ("api",),
    ("quantity", "trace"),
    ("session",),
    ("work",),
    ("readings",),
    ("common",),
    ("fields",),
    ("findings",),
    ("live",),
    ("drawing",),
    ("sequences",),
    ("score", "program", "history"),
    ("changers", "routines"),
    ("touching",),
    ("stages",),
    ("shell", "shop"),
    ("app.tsx",),
    ("main.tsx",),
)
"""From the lowest to the highest; those of one layer do not import each other."""

IMPORTED = re.compile(r'(import|export)\s+(type\s)?(?:[^"\';]*?\sfrom\s*)?"(\.[^"]+)"|import\(\s*"(\.[^"]+)"\s*\)')


def modules(root: Path) -> list[Path]:
    """The modules of the application, without its tests."""
    return [
        file
        for file in sorted(root.rglob("*.ts*"))
        if not {"tests", "generated"} & set(file.relative_to(root).parts) and ".test." not in file.name
    ]


def imports(file: Path) -> list[tuple[Path, bool]]:
    """The modules that one imports, and whether only their types."""
    found = []
    for _, only_types, static, lazy in IMPORTED.findall(file.read_text(encoding="utf-8")):
        target = (file.parent / (static or lazy)).resolve()
        for path in (target, *(target.with_name(target.name + end) for end in (".ts", ".tsx")), target / "index.ts"):
            if path.is_file():
                found.append((path, bool(only_types)))
                break
    return found


def place(file: Path, root: Path) -> tuple[int, str]:
    """Layer and folder of a module; of a stage its own folder.

    Raises:
        KeyError: where it is in no layer.
    """
    first, *rest = file.relative_to(root).parts
    layer = {name: level for level, names in enumerate(LAYERS) for name in names}[first]
    return layer, f"{first}/{rest[0]}" if first == "stages" and len(rest) > 1 else first


def wrong(root: Path) -> list[str]:
    """What is not as the layers want it."""
    found, values = [], defaultdict(set)
    for file in modules(root):
        name = file.relative_to(root).as_posix()
        try:
            layer, folder = place(file, root)
        except KeyError:
            found.append(f"{name} is in no layer; give its folder a place in tools/layers.py")
            continue
        for target, only_types in imports(file):
            if not only_types:
                values[file].add(target)
            other = target.relative_to(root).as_posix()
            try:
                its_layer, its_folder = place(target, root)
            except KeyError:
                continue  # reported by itself
            if folder == its_folder or its_layer < layer:
                continue
            if its_layer == layer and "stages" in (folder, its_folder):
                continue  # what all stages have is in the folder above theirs
            found.append(f"{name} imports {other}, which stands {'beside' if its_layer == layer else 'above'} it")
    return found + [" -> ".join(f.relative_to(root).as_posix() for f in circle) for circle in circles(values)]


def circles(graph: dict[Path, set[Path]]) -> list[list[Path]]:
    """One circle of modules through each that closes one."""
    found, done = [], set[Path]()

    def follow(file: Path, path: list[Path]) -> None:
        if file in path:
            found.append([*path[path.index(file) :], file])
        elif file not in done:
            for target in sorted(graph.get(file, ())):
                follow(target, [*path, file])
            done.add(file)

    for file in sorted(graph):
        follow(file, [])
    return found


if __name__ == "__main__":
    said = wrong(ROOT)
    print("\n".join(said) or f"web/src: {len(modules(ROOT))} modules in {len(LAYERS)} layers, no circle")
    sys.exit(bool(said))
