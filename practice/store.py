"""The machines that were built, kept as files: a Setup and a seed each. The same two give the same machine again."""

import json
from collections.abc import Callable
from pathlib import Path

from orthotrope.setup import Setup, read_setup

from practice.machine import PracticeMachine


class Store:
    """The machines of a folder, by their short names."""

    def __init__(self, folder: Path, changed: Callable[[str], None]):
        self.folder, self.changed = folder, changed
        self.machines: dict[str, PracticeMachine] = {}
        folder.mkdir(parents=True, exist_ok=True)
        for file in sorted(folder.glob("*.json")):
            kept = json.loads(file.read_text(encoding="utf-8"))
            self._make(file.stem, read_setup(kept["document"]), kept["seed"])

    def build(self, slug: str, setup: Setup, seed: int) -> PracticeMachine:
        """Build a machine, in place of the one that had the name."""
        text = json.dumps({"document": setup.as_json(), "seed": seed})
        part = self.folder / f"{slug}.part"
        part.write_text(text, encoding="utf-8")
        part.replace(self.folder / f"{slug}.json")
        return self._make(slug, setup, seed)

    def _make(self, slug: str, setup: Setup, seed: int) -> PracticeMachine:
        machine = PracticeMachine(setup, seed, lambda: self.changed(slug))
        self.machines[slug] = machine
        return machine
