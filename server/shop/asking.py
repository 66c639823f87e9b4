"""The desk at which this server's users ask: its worker processes, started when they are first needed."""

import threading
from functools import cache
from typing import Any

from computing.asking import AT_A_TIME, Asker, TaskQueue
from computing.limits import Limits
from computing.processes import YIELDING, Processes, prepare
from django.conf import settings
from django.contrib.auth.models import User
from django.http import HttpRequest

prepare("shop.worker")


@cache
def desk() -> TaskQueue:
    """The one desk of this process."""
    limits = Limits(settings.ANSWER_SECONDS, settings.ANSWER_MEMORY)
    return TaskQueue(Processes(settings.ANSWERS, limits), Processes(AT_A_TIME, limits, nice=YIELDING))


def warm() -> None:
    """Start the workers, and wait until one can answer."""
    desk().processes.warm()
    desk().processes.submit(int).result()


def end() -> None:
    """The server ends: so do its workers."""
    if desk.cache_info().currsize:
        desk().processes.shutdown()
        desk().aside.shutdown()


def asker(request: HttpRequest, kind: str = "") -> Asker:
    """Who asks. ``kind``: what is asked anew again and again in one window of the browser; only the newest question
    counts."""
    gone: threading.Event | None = getattr(request, "scope", {}).get("gone")
    window = request.headers.get("X-Window", "")[:40]
    number = request.user.pk if isinstance(request.user, User) else 0
    said = request.headers.get("X-Question", "")
    turn = int(said) if said.isascii() and said.isdigit() and len(said) < 10 else 0
    return Asker(number, gone.is_set if gone else lambda: False, f"{kind} {window}" if kind and window else "", turn)


def ask(request: HttpRequest, kind: str, job: Any, *args: Any) -> Any:
    """The result of a job for whoever sent this request.

    Raises:
        Refused: with the reason.
    """
    return desk().ask(asker(request, kind), job, *args)
