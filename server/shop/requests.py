"""Every request: its id, who sent it, how long it took; what went wrong in it, with its trace, once."""

import time
import uuid
from collections.abc import Callable
from typing import Any

import structlog
from django.core.signals import got_request_exception
from django.http import HttpRequest, HttpResponseBase

log = structlog.get_logger("requests")
MOST_PATH = 200


class Logged:
    """Middleware, the outermost: binds the request's id to all that is logged while it is worked on, and sends it
    back."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        reference = uuid.uuid4().hex[:12]
        request.reference = reference  # type: ignore[attr-defined]
        begun = time.perf_counter()
        with structlog.contextvars.bound_contextvars(request=reference):
            response = self.get_response(request)
            user = getattr(request, "_cached_user", None)
            told = log.info if request.path.startswith("/api/") else log.debug
            told(
                "request",
                method=request.method,
                path=request.path[:MOST_PATH],
                status=response.status_code,
                user=user.get_username() if user else "",
                ms=round((time.perf_counter() - begun) * 1000, 1),
            )
        response["X-Request-Id"] = reference
        return response


def _unhandled(sender: Any, request: HttpRequest | None = None, **kwargs: Any) -> None:
    log.exception("failed", path=request.path[:MOST_PATH] if request else "")


got_request_exception.connect(_unhandled, dispatch_uid="log what nobody handled")
