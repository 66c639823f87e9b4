"""Machines are composed of parts (make check): no class of the virtual or the practice machine inherits more than one level, and no part uses what
another one keeps to itself.

A private member may be used in the module that has it; in another one only by the class itself."""

import ast
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]

COMPOSED = ("core/orthotrope/machine", "practice")
"""Folders whose classes are composed."""

INTERFACE = ("ABC", "Protocol")
"""A class that has one of these as its base says what others do; to inherit it is no level."""


def _modules(root: Path) -> dict[Path, ast.Module]:
    return {
        file: ast.parse(file.read_text())
        for folder in COMPOSED
        for file in sorted((root / folder).rglob("*.py"))
        if "tests" not in file.parts
    }


def _name(node: ast.expr) -> str:
    """The last part of a name, without what stands in brackets after it."""
    if isinstance(node, ast.Subscript):
        return _name(node.value)
    return node.attr if isinstance(node, ast.Attribute) else node.id if isinstance(node, ast.Name) else ""


def towers(root: Path) -> Iterator[str]:
    """The classes that inherit more than one level of these folders."""
    classes = {
        node.name: {_name(base) for base in node.bases}
        for module in _modules(root).values()
        for node in ast.walk(module)
        if isinstance(node, ast.ClassDef)
    }

    def height(name: str) -> int:
        below = [base for base in classes.get(name, ()) if base in classes]
        return max((height(base) + classes[base].isdisjoint(INTERFACE) for base in below), default=0)

    yield from (f"{name} inherits {height(name)} levels" for name in sorted(classes) if height(name) > 1)


def intrusions(root: Path) -> Iterator[str]:
    """Places that use a private member which their module does not have."""
    for file, module in _modules(root).items():
        attributes = [node for node in ast.walk(module) if isinstance(node, ast.Attribute)]
        own = {node.name for node in ast.walk(module) if isinstance(node, ast.FunctionDef | ast.ClassDef)}
        own |= {node.attr for node in attributes if isinstance(node.ctx, ast.Store) and _name(node.value) == "self"}
        own |= {_name(node.target) for node in ast.walk(module) if isinstance(node, ast.AnnAssign)}
        for node in attributes:
            private = node.attr.startswith("_") and not node.attr.startswith("__")
            # A NamedTuple's own methods begin with an underscore so as not to be fields.
            if private and node.attr not in own and node.attr not in ("_replace", "_exit", "_asdict"):
                yield f"{file.relative_to(root)}:{node.lineno} uses {node.attr}"


def main() -> int:
    found = [*towers(ROOT), *intrusions(ROOT)]
    print("\n".join(found) or f"{', '.join(COMPOSED)}: composed of parts")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
