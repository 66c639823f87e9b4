"""Proofs on a pool of processes, with progress and cancel.

The pool is any ``concurrent.futures.Executor``. What is handed to it are chunks of a proof as plain values, so that it may
be a cluster's client as well; results come back in any order and are stored in the order of the pairs.
"""

import multiprocessing
import threading
import time
from concurrent.futures import FIRST_COMPLETED, Executor, Future, ProcessPoolExecutor, wait
from importlib import import_module
from typing import Any

from django.conf import settings
from django.db import connection
from django.utils import timezone
from orthotrope.proof.exchanges import pairs, prove_chunk
from orthotrope.setup import read_setup

from shop.models import Proof

CHUNK = 12
"""Pairs a chunk: small enough for progress, large enough that sending the Setup costs little."""

KEPT_EVERY = 0.5
"""Seconds between two times that what is proven so far is stored."""

_lock = threading.Lock()
_pool: list[Executor] = []
_running: dict[int, threading.Event] = {}


def pool() -> Executor:
    """The local process pool, or the cluster that the settings name, started when it is first needed."""
    with _lock:
        if not _pool:
            _pool.append(_cluster(settings.CLUSTER) if settings.CLUSTER else _processes())
        return _pool[0]


def _processes() -> Executor:
    return ProcessPoolExecutor(settings.WORKERS, mp_context=multiprocessing.get_context("forkserver"))


def _cluster(address: str) -> Executor:
    """A Dask cluster's client; its workers need Orthotrope's core installed, of the same version."""
    distributed: Any = import_module("distributed")  # an optional extra: only where a cluster is named
    executor: Executor = distributed.Client(address).get_executor()
    return executor


def is_running(proof: Proof) -> bool:
    return proof.pk in _running


def start(proof: Proof) -> None:
    """Run a stored proof in the background; its row tells how far it is."""
    cancelled = threading.Event()
    _running[proof.pk] = cancelled
    threading.Thread(target=_run, args=(proof.pk, cancelled), daemon=True, name=f"proof-{proof.pk}").start()


def cancel(proof: Proof) -> None:
    """Stop a running proof; what was proven until then is kept."""
    if event := _running.get(proof.pk):
        event.set()


def _run(pk: int, cancelled: threading.Event) -> None:
    proof = Proof.objects.get(pk=pk)
    try:
        _prove(proof, cancelled)
        proof.state = Proof.State.CANCELLED if cancelled.is_set() else Proof.State.DONE
    except Exception as failed:  # the row must not say "running" for ever; the reason is shown
        proof.state, proof.error = Proof.State.FAILED, f"{type(failed).__name__}: {failed}"
    finally:
        proof.finished = timezone.now()
        proof.save()
        _running.pop(pk, None)
        connection.close()


def _prove(proof: Proof, cancelled: threading.Event) -> None:
    document: dict[str, Any] = proof.revision.document
    total = len(pairs(read_setup(document)))
    executor = pool()
    parts: dict[Future[list[dict[str, Any]]], int] = {
        executor.submit(prove_chunk, document, first, CHUNK, proof.brought or None): first for first in range(0, total, CHUNK)
    }
    found: dict[int, list[dict[str, Any]]] = {}
    waiting, kept = set(parts), 0.0
    while waiting and not cancelled.is_set():
        done, waiting = wait(waiting, timeout=0.2, return_when=FIRST_COMPLETED)
        for part in done:
            found[parts[part]] = part.result()
        if done:
            proof.results = [result for first in sorted(found) for result in found[first]]
            proof.done = len(proof.results)
            if time.monotonic() - kept > KEPT_EVERY:
                proof.save()
                kept = time.monotonic()
    for part in waiting:
        part.cancel()
