"""Worker processes as an executor. Each has a pipe of its own, so that one that dies takes nothing with it."""

import contextlib
import gc
import multiprocessing
import os
import queue
import signal
import sys
import threading
import time
from collections.abc import Callable
from concurrent.futures import Executor, Future
from functools import partial
from multiprocessing import forkserver
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, TypeVar

from computing.limits import Died, Dropped, Limits, Refused, StillStarting, TooLong, TooMuch, hold

LOOK = 0.05
"""Seconds between two looks whether a task is still wanted."""

STARTING = 60.0
"""Seconds that a process may need to start and to have a task's modules; a task's own time begins after that."""

SELDOM = 50_000
"""Objects between two looks for garbage: runs make many small ones that die with them, and looking as often as usual takes a
seventh of the time, in pauses of tens of milliseconds."""

TASKS = 400
"""After so many tasks a worker is replaced: what it has gathered goes with it."""

LONG, YIELDING = 0.2, 10
"""A task that has computed for so many seconds, of which most need a part, goes on with this niceness, and its worker
is replaced after it: what is asked by others is worked on first. Workers that are nice from the beginning stay as they
are."""

Result = TypeVar("Result")


class Task(Future[Result]):
    """What is worked on. ``heavy``: it computed for longer than :data:`LONG`, or was stopped."""

    heavy = False


_context = multiprocessing.get_context("forkserver")


def prepare(*modules: str) -> None:
    """Modules that every worker has from its beginning; to be called before the first one starts."""
    os.environ.setdefault(
        "OPENBLAS_NUM_THREADS", "1"
    )  # a thread a core for each worker would only be in each other's way
    _context.set_forkserver_preload(["__main__", *modules])


_starting = threading.Lock()


def ready() -> None:
    """Start the process that the workers are forked from. It finds modules by the environment alone: this process' own
    places are not reported to it."""
    with _starting:
        before = os.environ.get("PYTHONPATH")
        os.environ["PYTHONPATH"] = os.pathsep.join(place for place in sys.path if place)
        try:
            forkserver.ensure_running()
        finally:
            if before is None:
                del os.environ["PYTHONPATH"]
            else:
                os.environ["PYTHONPATH"] = before


def _end_with(parent: int) -> None:
    """End as soon as the process that started this one is gone, however it ended."""
    while os.getppid() == parent:
        time.sleep(0.5)
    os._exit(1)


def _work(pipe: Connection, memory: int, nice: int) -> None:
    """A worker's life: tasks in, results out."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl C is the server's, which ends its workers itself
    signal.signal(signal.SIGTERM, signal.SIG_DFL)
    threading.Thread(target=_end_with, args=(os.getppid(),), daemon=True).start()
    os.nice(nice)
    hold(memory)
    gc.set_threshold(SELDOM)
    with contextlib.suppress(OSError):
        pipe.send(None)  # it is ready
    while True:
        try:
            function, args = pipe.recv()
            pipe.send(None)  # it has the task, and the modules that the task needs
        except (EOFError, OSError):
            return
        try:
            answer: tuple[bool, Any] = True, function(*args)
        except MemoryError:
            answer = False, None
        except Exception as failed:  # reported to whoever asked
            answer = True, failed
        try:
            pipe.send(answer)
        except MemoryError:
            pipe.send((False, None))
        except OSError:
            return  # nobody is there any more
        except Exception as failed:  # what can't be sent is reported in words
            pipe.send((True, RuntimeError(f"{type(failed).__name__}: {failed}")))


class Worker:
    """One process; it does one task at a time."""

    def __init__(self, memory: int, nice: int):
        ready()
        self.memory, self.nice, self.tasks, self.begun = memory, nice, 0, False
        self.worked = 0.0
        self.pipe, there = _context.Pipe()
        self.process = _context.Process(target=_work, args=(there, memory, nice), daemon=True)
        self.process.start()
        there.close()

    def begin(self, unwanted: Callable[[], bool]) -> None:
        """Wait until the process can take a task.

        Raises:
            Refused: as :meth:`run`.
        """
        if self.begun:
            return
        self._await_start(unwanted)
        try:
            self.pipe.recv()
        except (EOFError, OSError):
            raise Died from None
        self.begun = True

    def run(
        self, function: Callable[..., Any], args: tuple[Any, ...], seconds: float, unwanted: Callable[[], bool]
    ) -> Any:
        """Run a task.

        Raises:
            Refused: where it took too long or too much, its process died, or it is ``unwanted`` now; the worker is of
            no use
                after that.
            Exception: what the task itself raises.
        """
        self.begin(unwanted)
        self.tasks += 1
        try:
            self.pipe.send((function, args))
            self._await_start(unwanted)
            self.pipe.recv()
            before = self._worked()
            self._await(seconds, unwanted, LONG)
            done, result = self.pipe.recv()
            self.worked = self._worked() - before
        except (EOFError, OSError):
            raise Died from None
        if not done:
            raise TooMuch(self.memory)
        if isinstance(result, Exception):
            raise result
        return result

    def _await_start(self, unwanted: Callable[[], bool]) -> None:
        """Until it has started, or has a task's modules: no task is to blame where that takes too long."""
        try:
            self._await(STARTING, unwanted, STARTING)
        except TooLong:
            raise StillStarting from None

    def _await(self, seconds: float, unwanted: Callable[[], bool], long: float) -> None:
        """Until the process says something; after ``long`` seconds of computing it yields to others, unless it is nice
        already."""
        begun, worked = time.monotonic(), self._worked()
        while not self.pipe.poll(LOOK):
            if unwanted():
                raise Dropped
            passed = time.monotonic() - begun
            if passed > seconds:
                raise TooLong(seconds)
            if not self.nice and self.tasks < TASKS and passed > long and self._worked() - worked > long:
                self.tasks = TASKS
                os.setpriority(os.PRIO_PROCESS, self.process.pid or 0, YIELDING)

    def _worked(self) -> float:
        """Seconds for which its process has computed: on a busy machine less than has passed."""
        try:
            times = Path(f"/proc/{self.process.pid}/stat").read_text().rsplit(")", 1)[1].split()
        except OSError:  # it has died, which its pipe tells; or there is no such file here
            return time.monotonic()
        return (int(times[11]) + int(times[12])) / os.sysconf("SC_CLK_TCK")

    def end(self) -> None:
        """Kill the process."""
        self.process.kill()
        self.process.join(1)
        self.pipe.close()


class Processes(Executor):
    """So many workers, each led by a thread. A running task is stopped by :meth:`stop`; the executor's own cancelling
    is for those that wait."""

    def __init__(self, count: int, limits: Limits, nice: int = 0):
        self.limits, self.nice = limits, nice
        self._waiting: queue.SimpleQueue[tuple[Task[Any], Callable[..., Any], tuple[Any, ...]] | None] = (
            queue.SimpleQueue()
        )
        self._unwanted: set[Future[Any]] = set()
        self._workers: list[Worker | None] = [None] * count
        self._over = False
        for place in range(count):
            threading.Thread(target=self._lead, args=(place,), daemon=True, name=f"worker-{place}").start()

    def submit(self, function: Callable[..., Result], /, *args: Any, **kwargs: Any) -> Task[Result]:
        if self._over:
            raise RuntimeError("The workers have ended.")
        if kwargs:
            raise TypeError("Tasks are given their arguments by place.")
        future: Task[Result] = Task()
        self._waiting.put((future, function, args))
        return future

    def stop(self, future: Future[Any]) -> None:
        """Nobody wants the result any more: a waiting task is not begun, a running one is ended with its process."""
        if not future.cancel() and not future.done():
            self._unwanted.add(future)

    def warm(self) -> None:
        """Start all workers now, not with their first tasks."""
        for place in range(len(self._workers)):
            self._workers[place] = self._workers[place] or Worker(self.limits.memory, self.nice)

    def dead(self) -> int:
        """How many of the workers that were started have ended without being asked to; a new task starts them again."""
        return sum(worker is not None and not worker.process.is_alive() for worker in self._workers)

    def revive(self) -> None:
        """Start those again that have ended."""
        for place, worker in enumerate(self._workers):
            if worker is not None and not worker.process.is_alive():
                self._workers[place] = Worker(self.limits.memory, self.nice)

    def shutdown(self, wait: bool = True, *, cancel_futures: bool = False) -> None:
        """End at once, whatever is running."""
        self._over = True
        for _ in self._workers:
            self._waiting.put(None)
        for worker in self._workers:
            if worker:
                with contextlib.suppress(OSError, ValueError):
                    worker.process.kill()

    def _is_unwanted(self, future: Future[Any]) -> bool:
        return self._over or future in self._unwanted

    def _replaced(self, place: int, worker: Worker | None) -> None:
        """End a worker and have another one ready before the next task comes, which need not wait for it then."""
        self._workers[place] = None
        if worker is None:
            return
        worker.end()
        with contextlib.suppress(Refused, OSError):  # the next task tries again, and tells
            if not self._over:
                self._workers[place] = another = Worker(self.limits.memory, self.nice)
                another.begin(lambda: self._over)
        if self._over and (last := self._workers[place]):
            last.process.kill()

    def _lead(self, place: int) -> None:
        while (task := self._waiting.get()) is not None and not self._over:
            future, function, args = task
            if not future.set_running_or_notify_cancel():
                continue
            worker = self._workers[place]
            try:
                if worker is None or not worker.process.is_alive():
                    worker = self._workers[place] = Worker(self.limits.memory, self.nice)
                result = worker.run(function, args, self.limits.seconds, partial(self._is_unwanted, future))
            except (Died, Dropped, StillStarting, TooLong, TooMuch) as refused:
                future.heavy = True
                self._replaced(place, worker)
                future.set_exception(refused)
            except BaseException as failed:  # the task's own, or a worker that could not be started
                future.set_exception(failed)
            else:
                future.heavy = worker.worked > LONG
                future.set_result(result)
                if worker.tasks >= TASKS:
                    self._replaced(place, worker)
            finally:
                self._unwanted.discard(future)
