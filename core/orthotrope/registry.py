"""What comes in kinds is found by its name: each kind registers itself, and nothing else knows it."""

import importlib
import importlib.util
import pkgutil
import threading
from collections.abc import Callable, Iterator, Mapping, ValuesView
from typing import Any, ClassVar, Generic, TypeVar

from orthotrope.errors import InputError

Entry = TypeVar("Entry")
Decorated = TypeVar("Decorated")

_loading = threading.RLock()
"""Held while any registry loads: loading one may ask another, and a second thread waits for the whole of it."""


class Registry(Mapping[str, Entry], Generic[Entry]):
    """Entries by name, in the order of their names; without ``sort`` as they came.

    ``what`` is said where a name is not there. ``modules`` are those in which entries register themselves; a ``*``
    stands for every module or folder of a package: ``orthotrope.kinds.*.plan``. They are loaded when the registry is
    first asked, not when it is imported, so that a kind may import the package that asks for it. A second thread waits
    for that; a module that is being loaded may ask, and finds what is there so far."""

    known: ClassVar[list["Registry[Any]"]] = []

    def __init__(self, what: str, *modules: str, sort: bool = True):
        self.what, self._modules, self._sort = what, modules, sort
        self._entries: dict[str, Entry] = {}
        self._loaded = self._under_way = False
        Registry.known.append(self)

    def add(self, name: str, entry: Entry) -> None:
        """Register an entry. A name that is taken by another one is an error of the program."""
        if self._entries.get(name, entry) is not entry:
            raise ValueError(f"There is a {self.what} {name} already.")
        self._entries[name] = entry
        if self._sort:
            self._entries = dict(sorted(self._entries.items()))

    def remove(self, name: str) -> None:
        """Take an entry out again, as a test does that brought one."""
        del self._entries[name]

    def register(self, name: str) -> Callable[[Decorated], Decorated]:
        """Register what stands below, a class or a function, as it is."""

        def decorate(entry: Decorated) -> Decorated:
            self.add(name, entry)  # type: ignore[arg-type]
            return entry

        return decorate

    def find(self, name: str, where: str = "") -> Entry:
        """The entry of this name.

        Raises:
            InputError: at ``where``, that lists the names there are.
        """
        if name not in self:
            raise InputError.at(where, f"There is no {self.what} '{name}'; there are {', '.join(self)}.")
        return self[name]

    def __hash__(self) -> int:
        return id(self)

    def __eq__(self, other: object) -> bool:
        return self is other

    def _load(self) -> None:
        if self._loaded:
            return
        with _loading:
            if self._loaded or self._under_way:
                return
            self._under_way = True
            try:
                for pattern in self._modules:
                    self._import(pattern)
                self._loaded = True
            finally:
                self._under_way = False

    @staticmethod
    def _import(pattern: str) -> None:
        package, star, rest = pattern.partition(".*")
        if not star:
            importlib.import_module(package)
            return
        for module in pkgutil.iter_modules(importlib.import_module(package).__path__, f"{package}."):
            name = module.name + rest
            if not rest or (module.ispkg and importlib.util.find_spec(name)):
                importlib.import_module(name)

    def __getitem__(self, name: str) -> Entry:
        if not self._loaded:
            self._load()
        return self._entries[name]

    def values(self) -> ValuesView[Entry]:
        self._load()
        return self._entries.values()

    def __iter__(self) -> Iterator[str]:
        self._load()
        return iter(self._entries)

    def __len__(self) -> int:
        self._load()
        return len(self._entries)


def load_all() -> None:
    """Load every registry that has been imported; a program with threads does so before it starts them."""
    for registry in list(Registry.known):
        len(registry)
