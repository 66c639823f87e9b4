"""The machines that were built, kept as files: a Setup and a seed each. The same two give the same machine again."""

import json
import os
import sys
from collections.abc import Callable
from pathlib import Path

from orthotrope.errors import InputError
from orthotrope.setup import Setup, read_setup
from orthotrope.validation import read_json

from practice.machine import PracticeMachine


class Store:
    """The machines of a folder, by their short names."""

    def __init__(self, folder: Path, changed: Callable[[str], None]):
        self.folder, self.changed = folder, changed
        self.machines: dict[str, PracticeMachine] = {}
        folder.mkdir(parents=True, exist_ok=True)
        for file in sorted(folder.glob("*.json")):
            self._take(file)

    def _take(self, file: Path) -> None:
        """A machine from its file; one that can't be read is put aside and reported, and the others start."""
        try:
            kept = read_json(file.read_bytes())
            if not isinstance(kept, dict) or type(kept.get("seed")) is not int:
                raise InputError.at("/seed", "There is no Setup with a seed in it.")
            self._make(file.stem, read_setup(kept.get("document") or {}), kept["seed"])
        except (InputError, OSError) as bad:
            aside = file.with_suffix(".unreadable")
            file.replace(aside)
            print(
                f"The practice machine {file.stem} can't be read ({str(bad)[:200]}); its file is put aside as {aside}. "
                "Rebuild it from the hand panel.",
                file=sys.stderr,
                flush=True,
            )

    def build(self, slug: str, setup: Setup, seed: int) -> PracticeMachine:
        """Build a machine, in place of the one that had the name."""
        text = json.dumps({"document": setup.as_json(), "seed": seed})
        part = self.folder / f"{slug}.part"
        with part.open("w", encoding="utf-8") as file:
            file.write(text)
            file.flush()
            os.fsync(file.fileno())
        part.replace(self.folder / f"{slug}.json")
        folder = os.open(self.folder, os.O_RDONLY)
        os.fsync(folder)  # the new name is on the disk too
        os.close(folder)
        return self._make(slug, setup, seed)

    def _make(self, slug: str, setup: Setup, seed: int) -> PracticeMachine:
        machine = PracticeMachine(setup, seed, lambda: self.changed(slug))
        self.machines[slug] = machine
        return machine
