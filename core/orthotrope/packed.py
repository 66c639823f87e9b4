"""Long lists in little memory: what a program of a hundred thousand lines is, and what happened in its run."""

import pickle
import zlib
from collections.abc import Iterable, Iterator, MutableSequence
from tempfile import SpooledTemporaryFile
from typing import Any, NamedTuple, TypeVar

Item = TypeVar("Item")

PIECE = 512
"""Items that are packed together. The last piece or two are not packed: they are asked again and again."""


MOST_KEPT = 4_000_000
"""Bytes of packed pieces that are kept in memory; with more, they lie in a file that ends with the list."""


class _Laid(NamedTuple):
    """Where a packed piece lies."""

    at: int
    length: int


class Packed(MutableSequence[Item]):
    """A list that grows at its end, of items that stay as they are: what it takes in memory stays flat. One piece of what is packed is open at a time, so
    going through it from one end to the other is cheap, and jumping about in it is not. A piece that can't be packed
    (it holds what is worked out by a function) stays open."""

    def __init__(self, items: Iterable[Item] = ()):
        self._pieces: list[_Laid | list[Item]] = []
        self._packed = SpooledTemporaryFile(MOST_KEPT)  # noqa: SIM115 it ends with the list
        self._length = 0
        self._rest: list[Item] = []
        self._opened: tuple[int, list[Item]] = -1, []
        for item in items:
            self.append(item)

    def append(self, value: Item) -> None:
        self._rest.append(value)
        if len(self._rest) == 2 * PIECE:
            self._pieces.append(self._laid(self._rest[:PIECE]))
            del self._rest[:PIECE]

    def _laid(self, items: list[Item]) -> _Laid | list[Item]:
        try:
            packed = zlib.compress(pickle.dumps(items, pickle.HIGHEST_PROTOCOL), 1)
        except (pickle.PicklingError, AttributeError, TypeError):  # the ways in which functions can't be
            return items
        laid = _Laid(self._length, len(packed))
        self._packed.seek(laid.at)
        self._packed.write(packed)
        self._length += laid.length
        return laid

    def insert(self, index: int, value: Item) -> None:
        if index != len(self):
            raise IndexError("It grows at its end only.")
        self.append(value)

    def __len__(self) -> int:
        return PIECE * len(self._pieces) + len(self._rest)

    def _piece(self, number: int) -> list[Item]:
        found = self._pieces[number]
        if isinstance(found, list):
            return found
        if self._opened[0] != number:
            self._packed.seek(found.at)
            self._opened = number, pickle.loads(zlib.decompress(self._packed.read(found.length)))
        return self._opened[1]

    def __getitem__(self, index: Any) -> Any:
        if isinstance(index, slice):
            return [self[at] for at in range(*index.indices(len(self)))]
        at = index + len(self) if index < 0 else index
        number, place = divmod(at, PIECE)
        if 0 <= number < len(self._pieces):
            return self._piece(number)[place]
        if at < 0:
            raise IndexError(index)
        return self._rest[at - PIECE * len(self._pieces)]

    def __iter__(self) -> Iterator[Item]:
        for number in range(len(self._pieces)):
            yield from self._piece(number)
        yield from self._rest

    def __setitem__(self, index: Any, value: Any) -> None:
        raise TypeError("What is in it stays as it is.")

    def __delitem__(self, index: Any) -> None:
        """Only its end can be cut off: ``del it[length:]``."""
        if not isinstance(index, slice) or index.stop is not None or index.step is not None:
            raise TypeError("Only its end can be cut off.")
        length = index.indices(len(self))[0]
        while len(self) > length:
            kept = length - PIECE * len(self._pieces)
            if kept >= 0:
                del self._rest[kept:]
            else:
                self._rest = list(self._piece(len(self._pieces) - 1))
                self._pieces.pop()
                self._opened = -1, []
