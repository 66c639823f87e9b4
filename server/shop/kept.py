"""What was worked out from what is stored, kept until there is too much of it. It is lost with the process; nothing
depends on it."""

import threading
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

Value = TypeVar("Value")

MOST_KEPT = 200
"""Values; the oldest go first."""


class Kept(Generic[Value]):
    """Values by a key that says all that they were worked out from."""

    def __init__(self, most: int = MOST_KEPT):
        self._most, self._values, self._lock = most, dict[Hashable, Value](), threading.Lock()

    def of(self, key: Hashable, make: Callable[[], Value]) -> Value:
        """The value of a key, worked out where it is not kept."""
        with self._lock:
            if key in self._values:
                return self._values[key]
        value = make()
        with self._lock:
            self._values[key] = value
            while len(self._values) > self._most:
                self._values.pop(next(iter(self._values)))
        return value
