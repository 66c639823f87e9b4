"""Searches for room in the worker processes of the proofs, with progress and cancel. No more parts are handed over than there are
workers, so that a proof that is started meanwhile has its turn."""

import threading
import time
from concurrent.futures import FIRST_COMPLETED, Future, wait
from typing import Any

import structlog
from computing.processes import Processes
from django.conf import settings
from django.db import connection
from django.utils import timezone
from orthotrope.proof.room import quantities, rooms_of

from shop.models import RoomSearch
from shop.proofs.running import KEPT_EVERY, executor

TOGETHER = 2
"""Quantities that a process works out at a time."""

log = structlog.get_logger("rooms")
_running: dict[int, threading.Event] = {}


def is_running(search: RoomSearch) -> bool:
    """Whether it is being run."""
    return search.pk in _running


def start(search: RoomSearch) -> None:
    """Run a stored search in the background; its row tells how far it is."""
    cancelled = _running[search.pk] = threading.Event()
    threading.Thread(target=_run, args=(search.pk, cancelled), daemon=True, name=f"rooms-{search.pk}").start()


def cancel(search: RoomSearch) -> None:
    """Stop a search that runs; what was found until then is kept."""
    if event := _running.get(search.pk):
        event.set()


def end() -> None:
    """The server ends: so does all that is running."""
    for event in list(_running.values()):
        event.set()


def _run(pk: int, cancelled: threading.Event) -> None:
    try:
        search = RoomSearch.objects.select_related("revision").get(pk=pk)
        try:
            _search(search, cancelled)
            search.state = RoomSearch.State.CANCELLED if cancelled.is_set() else RoomSearch.State.DONE
        except Exception as failed:  # the row must not say "running" for ever; the reason is shown
            log.exception("room search failed", search=pk)
            search.state, search.error = RoomSearch.State.FAILED, f"{type(failed).__name__}: {failed}"
        search.finished = timezone.now()
        search.save()
    finally:
        _running.pop(pk, None)
        connection.close()


def _search(search: RoomSearch, cancelled: threading.Event) -> None:
    document: dict[str, Any] = search.revision.document
    wheres = quantities(search.revision.setup)
    waiting = [wheres[at : at + TOGETHER] for at in range(0, len(wheres), TOGETHER)][::-1]
    workers = executor()
    parts: dict[Future[list[dict[str, Any]]], list[str]] = {}
    kept, given_up = 0.0, list[str]()
    while (parts or waiting) and not cancelled.is_set():
        while waiting and len(parts) < settings.WORKERS:
            part = waiting.pop()
            parts[workers.submit(rooms_of, document, part)] = part
        for task in wait(parts, timeout=0.1, return_when=FIRST_COMPLETED).done:
            part, failed = parts.pop(task), task.exception()
            if failed is not None and len(part) > 1:  # within the limits of a process one may do where several do not
                waiting += [[where] for where in part]
                continue
            search.done += len(part)
            if failed is None:
                search.found += task.result()
            else:
                log.warning("room not found", where=part[0], why=str(failed))
                given_up += part
        if time.monotonic() - kept > KEPT_EVERY:
            search.save()
            kept = time.monotonic()
    if given_up:
        search.error = (
            f"{len(given_up)} quantities could not be worked out within the limits: {', '.join(given_up[:3])}."
        )
    for task in parts:
        workers.stop(task) if isinstance(workers, Processes) else task.cancel()
