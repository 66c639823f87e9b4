"""Reviews in worker processes of their own, with progress and cancel: a job of 100 MB must hold up no proof and no preview."""

import threading
from concurrent.futures import Future
from typing import Any

import structlog
from computing.limits import Dropped, Limits
from computing.processes import Processes
from django.conf import settings
from django.db import connection
from django.utils import timezone

from shop.models import Review
from shop.reviews import jobs
from shop.reviews.texts import progress_of, text_of

AT_A_TIME = 2

log = structlog.get_logger("reviews")
_lock = threading.Lock()
_executor: list[Processes] = []
_running: dict[int, Future[dict[str, Any]]] = {}


def _processes() -> Processes:
    with _lock:
        if not _executor:
            _executor.append(Processes(AT_A_TIME, Limits(settings.REVIEW_SECONDS, settings.REVIEW_MEMORY), nice=7))
        return _executor[0]


def is_running(review: Review) -> bool:
    """Whether it is being run, or waits for its turn."""
    return review.pk in _running


def how_far(review: Review) -> tuple[str, float]:
    """What its process is doing, and how far it is with that, 0 to 1."""
    try:
        share, what = progress_of(review.pk).read_text(encoding="utf-8").split(" ", 1)
    except FileNotFoundError:
        return "Waiting", 0.0
    return what, float(share)


def start(review: Review) -> None:
    """Run a stored review whose text is there, in the background."""
    document: dict[str, Any] = review.revision.document
    text, progress = str(text_of(review)), str(progress_of(review.pk))
    task = _processes().submit(jobs.reviewed, document, text, progress, review.purpose, review.profile)
    _running[review.pk] = task
    task.add_done_callback(lambda done: _ended(review.pk, done))


def cancel(review: Review) -> None:
    """Stop a review that runs or waits."""
    task = _running.get(review.pk)
    if task is not None:
        _processes().stop(task)


def end() -> None:
    """The server ends: so does all that is running."""
    with _lock:
        for workers in _executor:
            workers.shutdown(wait=False, cancel_futures=True)
        _executor.clear()


def _ended(number: int, task: Future[dict[str, Any]]) -> None:
    """Keep what a review came to; called in the thread that led it."""
    try:
        review = Review.objects.filter(pk=number).first()
        if review is None:
            return  # it was forgotten meanwhile
        review.finished = timezone.now()
        failed = None if task.cancelled() else task.exception()
        if task.cancelled() or isinstance(failed, Dropped):
            review.state = Review.State.CANCELLED
        elif failed is not None:
            log.warning("review failed", review=number, why=str(failed))
            review.state, review.error = Review.State.FAILED, str(failed)
        else:
            review.state, review.found = Review.State.DONE, task.result()
        review.save(update_fields=["state", "error", "found", "finished"])
    except Exception:  # the row then says by itself that it does not run any more
        log.exception("review not kept", review=number)
    finally:
        _running.pop(number, None)
        progress_of(number).unlink(missing_ok=True)
        connection.close()
