"""Proofs in worker processes, with progress and cancel.

The workers are any ``concurrent.futures.Executor``. What is handed to it are chunks of a proof as plain values, so that
it may be a cluster's client as well; results come back in any order and are stored in the order of the pairs. A chunk
that takes too long, too much memory, or whose process dies is run again pair by pair; a pair that still can't be run is
reported as such, and the rest goes on."""

import queue
import threading
import time
from concurrent.futures import FIRST_COMPLETED, Executor, Future, wait
from importlib import import_module
from typing import Any

import structlog
from computing.limits import Limits
from computing.processes import Processes
from django.conf import settings
from django.db import connection
from django.utils import timezone
from orthotrope.proof.sequences.registry import Prepared
from orthotrope.proof.whole import not_proven, plain_refs, portions, prepared, prove_part, sequences

from shop.models import Proof

AT_A_TIME = 2
"""Proofs that are run at the same time; the others wait their turn."""

KEPT_EVERY = 0.5
"""Seconds between two times that what is proven so far is stored."""

MOST_GIVEN_UP = 3
"""Pairs that could not be run within their limits; after so many the rest is not tried."""

log = structlog.get_logger("proving")
_lock = threading.Lock()
_executor: list[Executor] = []
_runners: list[threading.Thread] = []
_queue: "queue.SimpleQueue[int]" = queue.SimpleQueue()
_waiting: dict[int, None] = {}
_running: dict[int, threading.Event] = {}


def executor() -> Executor:
    """The local worker processes, or the cluster that the settings name, started when they are first needed."""
    with _lock:
        if not _executor:
            _executor.append(_cluster(settings.CLUSTER) if settings.CLUSTER else _processes())
        return _executor[0]


def _processes() -> Executor:
    return Processes(settings.WORKERS, Limits(settings.PROOF_SECONDS, settings.PROOF_MEMORY), nice=5)


def _cluster(address: str) -> Executor:
    """A Dask cluster's client; its workers need Orthotrope's core installed, of the same version."""
    distributed: Any = import_module("distributed")  # an optional extra: only where a cluster is named
    executor: Executor = distributed.Client(address).get_executor()
    return executor


def is_running(proof: Proof) -> bool:
    """Whether it is being run, or waits for its turn."""
    return proof.pk in _running or proof.pk in _waiting


def place(proof: Proof) -> int:
    """Which one in the line of those that wait it is; 0: it does not wait."""
    with _lock:
        return list(_waiting).index(proof.pk) + 1 if proof.pk in _waiting else 0


def start(proof: Proof) -> None:
    """Run a stored proof in the background when its turn comes; its row tells how far it is."""
    with _lock:
        _waiting[proof.pk] = None
        _queue.put(proof.pk)
        if len(_runners) < AT_A_TIME:
            _runners.append(threading.Thread(target=_serve, daemon=True, name=f"proofs-{len(_runners)}"))
            _runners[-1].start()


def cancel(proof: Proof) -> None:
    """Stop a proof that runs or waits; what was proven until then is kept."""
    with _lock:
        waited = _waiting.pop(proof.pk, ...) is None
    if waited:
        Proof.objects.filter(pk=proof.pk).update(state=Proof.State.CANCELLED, finished=timezone.now())
        proof.refresh_from_db()
    elif event := _running.get(proof.pk):
        event.set()


def end() -> None:
    """The server ends: so does all that is running."""
    for event in list(_running.values()):
        event.set()
    with _lock:
        for workers in _executor:
            workers.shutdown(wait=False, cancel_futures=True)
        _executor.clear()


def _serve() -> None:
    """A runner's life: one proof after the other."""
    while True:
        pk = _queue.get()
        cancelled = threading.Event()
        with _lock:
            if _waiting.pop(pk, ...) is not None:
                continue  # it was cancelled before its turn came
            _running[pk] = cancelled
        try:
            _run(pk, cancelled)
        except Exception:  # the database itself: the next proof has its chance
            log.exception("proof not kept", proof=pk)
        finally:
            _running.pop(pk, None)
            connection.close()


def _run(pk: int, cancelled: threading.Event) -> None:
    proof = Proof.objects.select_related("revision").get(pk=pk)
    try:
        why = _prove(proof, cancelled)
        proof.state = Proof.State.CANCELLED if cancelled.is_set() else Proof.State.FAILED if why else Proof.State.DONE
        proof.error = why
    except Exception as failed:  # the row must not say "running" for ever; the reason is shown
        log.exception("proof failed", proof=pk)
        proof.state, proof.error = Proof.State.FAILED, f"{type(failed).__name__}: {failed}"
    proof.finished = timezone.now()
    proof.save()


def _prove(proof: Proof, cancelled: threading.Event) -> str:
    """Run every sequence; why it gave up, "" where it did not."""
    document: dict[str, Any] = proof.revision.document
    every = sequences(proof.revision.setup, bool(proof.imported))
    imported = proof.imported or None
    workers = executor()
    parts: dict[Future[list[dict[str, Any]]], tuple[int, int]] = {}
    found: dict[int, list[dict[str, Any]]] = {}
    given_up, kept = 0, 0.0

    known = _prepared(workers, document, imported, cancelled)

    def begin(first: int, count: int) -> None:
        part = plain_refs(every[first : first + count])
        parts[workers.submit(prove_part, document, part, imported, known)] = first, count

    for first, count in portions(every):
        begin(first, count)
    while parts and not cancelled.is_set() and given_up <= MOST_GIVEN_UP:
        done, _ = wait(parts, timeout=0.1, return_when=FIRST_COMPLETED)
        for part in done:
            first, count = parts.pop(part)
            failed = part.exception()
            if failed is None:
                found[first] = part.result()
            elif cancelled.is_set():
                continue  # its worker was ended with the server
            elif count > 1:
                for place in range(first, first + count):
                    begin(place, 1)
            else:
                given_up += 1
                found[first] = [not_proven(every[first], str(failed))]
        if done:
            proof.take([result for first in sorted(found) for result in found[first]])
            if time.monotonic() - kept > KEPT_EVERY:
                proof.save()
                kept = time.monotonic()
    for part in parts:
        if isinstance(workers, Processes):
            workers.stop(part)
        else:
            part.cancel()
    if given_up > MOST_GIVEN_UP and not cancelled.is_set():
        return f"{given_up} sequences could not be run within their limits; the rest was not tried. {_why(found)}"
    return ""


def _prepared(
    workers: Executor, document: dict[str, Any], imported: str | None, cancelled: threading.Event
) -> Prepared | None:
    """What is the same for all sequences of a kind, calculated once; None where that could not be: each part calculates it, or
    reports why not."""
    task = workers.submit(prepared, document, imported)
    while not wait([task], timeout=0.1).done:
        if cancelled.is_set():
            workers.stop(task) if isinstance(workers, Processes) else task.cancel()
            return None
    failed = task.exception()
    if failed is not None:
        log.warning("not prepared", why=str(failed))
    return None if failed else task.result()


def _why(found: dict[int, list[dict[str, Any]]]) -> str:
    """The first sentence that tells of a pair that could not be run."""
    return next(
        (
            finding["message"]
            for results in found.values()
            for result in results
            for finding in result["findings"]
            if "could not be proven" in finding["message"]
        ),
        "",
    )
