"""Workers that may be killed, take too long or too much; people who ask too much, anew, or go away."""

import os
import signal
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import Future
from typing import Any

import pytest
from computing.asking import AT_A_TIME, GRACE, MOST_WAITING, Asker, TaskQueue
from computing.limits import Crowded, Died, Dropped, Limits, TooLong, TooMuch
from computing.processes import LONG, Processes, Task

LIMITS = Limits(seconds=2.0, memory=150_000_000)


def spun(seconds: float) -> float:
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        pass
    return seconds


def computed(seconds: float) -> None:
    until = time.process_time() + seconds
    while time.process_time() < until:
        pass


def taken(megabytes: int) -> int:
    return len(bytearray(megabytes * 1_000_000))


def failed() -> None:
    raise ValueError("the task's own")


def mine() -> int:
    return os.getpid()


@pytest.fixture(scope="module")
def processes() -> Iterator[Processes]:
    made = Processes(2, LIMITS)
    made.warm()
    yield made
    made.shutdown()


def gone(pid: int) -> bool:
    for _ in range(60):
        try:
            with open(f"/proc/{pid}/stat", encoding="ascii") as stat:
                if stat.read().split(")")[1].split()[0] == "Z":
                    return True
        except OSError:
            return True
        time.sleep(0.05)
    return False


def test_results_and_errors_come_back(processes: Processes) -> None:
    assert processes.submit(spun, 0.01).result(20) == 0.01
    with pytest.raises(ValueError, match="the task's own"):
        processes.submit(failed).result(20)


def test_what_takes_too_long_or_too_much_is_refused_and_the_next_is_done(processes: Processes) -> None:
    begun = time.monotonic()
    with pytest.raises(TooLong, match="longer than 2 seconds"):
        processes.submit(spun, 60).result(20)
    assert time.monotonic() - begun < 6
    with pytest.raises(TooMuch, match="more than 150 MB"):
        processes.submit(taken, 900).result(20)
    assert processes.submit(taken, 5).result(20) == 5_000_000


def test_a_killed_worker_fails_its_own_task_only(processes: Processes) -> None:
    for _ in range(6):
        pid = processes.submit(mine).result(20)
        other = processes.submit(spun, 0.3)
        hurt = processes.submit(spun, 0.3)
        time.sleep(0.05)
        os.kill(pid, signal.SIGKILL)  # idle or at work
        ends = [future.exception(20) for future in (other, hurt)]
        assert sum(end is None for end in ends) >= 1 and all(end is None or isinstance(end, Died) for end in ends)
        assert processes.submit(spun, 0.0).result(20) == 0.0


def test_a_running_task_is_stopped_at_once_and_a_waiting_one_is_not_begun(processes: Processes) -> None:
    running = [processes.submit(spun, 30) for _ in range(2)]
    waiting = processes.submit(spun, 30)
    time.sleep(0.2)
    begun = time.monotonic()
    for future in (waiting, *running):
        processes.stop(future)
    assert waiting.cancelled() and all(isinstance(future.exception(5), Dropped) for future in running)
    assert time.monotonic() - begun < 1


def test_workers_end_with_whoever_started_them() -> None:
    made = Processes(2, LIMITS)
    made.warm()
    pids = [worker.process.pid for worker in made._workers if worker]
    running = made.submit(spun, 30)
    time.sleep(0.1)
    made.shutdown()
    assert len(pids) == 2 and all(gone(pid) for pid in pids if pid) and running.exception(5) is not None


class Held:
    """An executor whose tasks end when the test says so."""

    def __init__(self, ends: bool = True) -> None:
        self.ends = ends
        self.limits, self.tasks, self.stopped = LIMITS, list[Task[Any]](), list[Future[Any]]()

    def submit(self, function: Callable[..., Any], *args: Any) -> Task[Any]:
        self.tasks.append(Task())
        return self.tasks[-1]

    def stop(self, future: Future[Any]) -> None:
        self.stopped.append(future)
        if self.ends:
            future.set_exception(Dropped())


def desk_of(held: Held, aside: Held | None = None) -> TaskQueue:
    return TaskQueue(held, aside or held)  # type: ignore[arg-type]


def asking(desk: TaskQueue, asker: Asker) -> tuple[threading.Thread, list[Any]]:
    found: list[Any] = []

    def ask() -> None:
        try:
            found.append(desk.ask(asker, spun, 1))
        except Exception as refused:
            found.append(refused)

    thread = threading.Thread(target=ask, daemon=True)
    thread.start()
    time.sleep(0.05)
    return thread, found


def test_one_user_has_a_few_at_a_time_and_another_is_not_kept_waiting() -> None:
    held = Held()
    desk = desk_of(held)
    mine = [asking(desk, Asker(1)) for _ in range(AT_A_TIME + MOST_WAITING)]
    assert len(held.tasks) == AT_A_TIME
    with pytest.raises(Crowded):
        desk.ask(Asker(1), spun, 1)
    thread, theirs = asking(desk, Asker(2))
    assert len(held.tasks) == AT_A_TIME + 1
    held.tasks[-1].set_result("theirs")
    thread.join(5)
    assert theirs == ["theirs"]
    for _ in range(60):
        for task in held.tasks:
            if not task.done():
                task.set_result("mine")
        time.sleep(0.05)
        if all(found for _, found in mine):
            break
    assert [found for _, found in mine] == [["mine"]] * len(mine)


def test_whoever_asked_for_much_is_worked_on_aside_for_a_while(monkeypatch: pytest.MonkeyPatch) -> None:
    here, aside = Held(), Held()
    desk = desk_of(here, aside)
    for heavy in (True, False):
        thread, found = asking(desk, Asker(1))
        (here if heavy else aside).tasks[-1].heavy = heavy
        (here if heavy else aside).tasks[-1].set_result(1)
        thread.join(5)
        assert found == [1]
    asking(desk, Asker(2))
    assert (len(here.tasks), len(aside.tasks)) == (2, 1)
    monkeypatch.setattr("computing.asking.ASIDE", 0.0)
    asking(desk, Asker(1))
    assert (len(here.tasks), len(aside.tasks)) == (3, 1)


def test_a_task_is_heavy_by_what_it_computes_not_by_how_long_it_waits(processes: Processes) -> None:
    tasks: list[Task[Any]] = [
        processes.submit(computed, 1.5 * LONG),
        processes.submit(time.sleep, 2 * LONG),
        processes.submit(taken, 900),
    ]
    for task in tasks:
        task.exception(20)
    assert [task.heavy for task in tasks] == [True, False, True]


def test_what_is_asked_anew_or_by_someone_who_has_gone_is_dropped() -> None:
    held = Held()
    desk = desk_of(held)
    _, first = asking(desk, Asker(1, kind="preview"))
    thread, second = asking(desk, Asker(1, kind="preview"))
    left = threading.Event()
    _, third = asking(desk, Asker(2, gone=left.is_set))
    left.set()
    time.sleep(GRACE + 0.3)
    assert [type(found[0]) for found in (first, third)] == [Dropped, Dropped] and len(held.stopped) == 2
    held.tasks[1].set_result("newest")
    thread.join(5)
    assert second == ["newest"]


def test_a_stopped_task_keeps_its_users_place_until_it_has_ended() -> None:
    held = Held(ends=False)
    desk = desk_of(held)
    left = threading.Event()
    for _ in range(AT_A_TIME):
        asking(desk, Asker(1, gone=left.is_set))
    asking(desk, Asker(1))
    left.set()
    time.sleep(GRACE + 0.3)
    assert len(held.stopped) == len(held.tasks) == AT_A_TIME
    held.tasks[0].set_exception(Dropped())
    time.sleep(0.2)
    assert len(held.tasks) == AT_A_TIME + 1


def test_of_two_questions_that_are_sent_together_the_later_counts_whichever_comes_first() -> None:
    held = Held()
    desk = desk_of(held)
    late, later = asking(desk, Asker(1, kind="preview", turn=8))
    early, earlier = asking(desk, Asker(1, kind="preview", turn=7))
    early.join(5)
    assert len(earlier) == 1 and isinstance(earlier[0], Dropped) and len(held.tasks) == 1
    held.tasks[0].set_result("newest")
    late.join(5)
    assert later == ["newest"]


class Late(Future[Any]):
    """A task that ends in the moment in which waiting for it does."""

    def result(self, timeout: float | None = None) -> Any:
        if not self.done():
            self.set_result("there")
            raise TimeoutError
        return Future.result(self, timeout)


def test_a_task_that_ends_as_waiting_for_it_does_is_answered(monkeypatch: pytest.MonkeyPatch) -> None:
    held = Held()
    monkeypatch.setattr(held, "submit", lambda *_: Late())
    assert desk_of(held).ask(Asker(1), spun, 1) == "there"


def test_what_a_task_raises_is_raised_a_timeout_of_its_own_too(monkeypatch: pytest.MonkeyPatch) -> None:
    held, failed = Held(), Future[Any]()
    failed.set_exception(TimeoutError("its own"))
    monkeypatch.setattr(held, "submit", lambda *_: failed)
    with pytest.raises(TimeoutError, match="its own"):
        desk_of(held).ask(Asker(1), spun, 1)
