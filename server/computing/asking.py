"""Who asks: a few at a time for each user, so that none takes all workers; dropped when the asker has gone or asks
anew."""

import threading
import time
from collections.abc import Callable
from concurrent.futures import CancelledError, Future, wait
from concurrent.futures import TimeoutError as NotYet
from dataclasses import dataclass, field
from functools import partial
from typing import Any

from computing.limits import Crowded, Dropped, TooLong
from computing.processes import LOOK, Processes

AT_A_TIME = 2
"""Tasks of one user that are worked on at the same time; the others wait."""

MOST_WAITING = 8
"""Requests of one user that wait; one more is refused."""

GRACE = 0.5
"""Seconds that a task which nobody wants any more may go on: most are over by then, and a new worker costs more."""

ASIDE = 10.0
"""Seconds for which a user's tasks go to the nice workers after a heavy one: whoever asks for much has it worked on
where nobody else waits, and without a new worker for each."""

ENDING = 2.0
"""Seconds in which a stopped task must have ended."""


@dataclass(slots=True)
class Asker:
    """Who waits for an answer. ``gone``: whether the connection has ended meanwhile; ``kind``: an earlier question of
    the same user and kind is of no interest once this one is asked ("": each is). ``turn``: which is the later of two
    that are sent together and may come in either order."""

    user: int
    gone: Callable[[], bool] = lambda: False
    kind: str = ""
    turn: int = 0


@dataclass(slots=True)
class _User:
    room: threading.Semaphore = field(default_factory=lambda: threading.Semaphore(AT_A_TIME))
    here: int = 0


class TaskQueue:
    """Takes questions and has them worked on; those of users who have just asked for much, ``aside``."""

    def __init__(self, processes: Processes, aside: Processes):
        self.processes, self.aside = processes, aside
        self._heavy: dict[int, float] = {}
        self._lock = threading.Lock()
        self._users: dict[int, _User] = {}
        self._newest: dict[tuple[int, str], Asker] = {}

    def ask(self, asker: Asker, function: Callable[..., Any], *args: Any) -> Any:
        """The result of a task, or its refusal.

        Raises:
            Refused: with the reason.
            Exception: what the task itself raises.
        """
        with self._lock:
            user = self._users.setdefault(asker.user, _User())
            if user.here >= AT_A_TIME + MOST_WAITING:
                raise Crowded
            user.here += 1
            known = self._newest.get((asker.user, asker.kind))
            if asker.kind and (known is None or known.turn <= asker.turn):
                self._newest[asker.user, asker.kind] = asker
        try:
            return self._turn(asker, user, function, args)
        finally:
            with self._lock:
                user.here -= 1
                if user.here == 0:
                    self._users.pop(asker.user, None)
                if asker.kind and self._newest.get((asker.user, asker.kind)) is asker:
                    del self._newest[asker.user, asker.kind]

    def _unwanted(self, asker: Asker) -> bool:
        later = asker.kind and self._newest.get((asker.user, asker.kind)) is not asker
        return bool(later) or asker.gone()

    def _turn(self, asker: Asker, user: _User, function: Callable[..., Any], args: tuple[Any, ...]) -> Any:
        until = time.monotonic() + 3 * self.processes.limits.seconds
        while not user.room.acquire(timeout=LOOK):
            if self._unwanted(asker):
                raise Dropped
            if time.monotonic() > until:
                raise Crowded
        try:
            return self._result(asker, function, args)
        finally:
            user.room.release()

    def _result(self, asker: Asker, function: Callable[..., Any], args: tuple[Any, ...]) -> Any:
        if self._unwanted(asker):
            raise Dropped
        begun, most = time.monotonic(), 3 * self.processes.limits.seconds
        processes = self.aside if begun - self._heavy.get(asker.user, -ASIDE) < ASIDE else self.processes
        task = processes.submit(function, *args)
        task.add_done_callback(partial(self._weighed, asker.user))
        while True:
            try:
                return task.result(LOOK)
            except NotYet:
                if task.done():  # in this very moment; or the task itself has raised it
                    return task.result()
            except CancelledError:
                raise Dropped from None
            passed = time.monotonic() - begun
            if passed > most or (passed > GRACE and self._unwanted(asker)):
                processes.stop(task)
                wait(
                    [task], ENDING
                )  # until its worker can take another: else this user's next one takes a place of others
                raise TooLong(most) if passed > most else Dropped

    def _weighed(self, user: int, task: Future[Any]) -> None:
        """Remember whose tasks are heavy."""
        if not task.cancelled() and getattr(task, "heavy", False):
            self._heavy[user] = time.monotonic()
