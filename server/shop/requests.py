"""Every request: its id, who sent it, how long it took; what went wrong in it, with its trace, once."""

import sys
import threading
import time
import uuid
from collections.abc import Callable
from typing import Any

import structlog
from django.conf import settings
from django.core.signals import got_request_exception
from django.http import HttpRequest, HttpResponseBase

log = structlog.get_logger("requests")
MOST_PATH = 200


class FromProxy:
    """Middleware, before all others: what a proxy says of a request's scheme is believed only of the proxy that the settings name."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        if not settings.PROXY or request.META.get("REMOTE_ADDR") != settings.PROXY:
            request.META.pop("HTTP_X_FORWARDED_PROTO", None)
        return self.get_response(request)


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
            reported = log.info if request.path.startswith("/api/") else log.debug
            reported(
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


def _uncaught(kind: type[BaseException], failed: BaseException, trace: Any) -> None:
    if issubclass(kind, KeyboardInterrupt | SystemExit):
        sys.__excepthook__(kind, failed, trace)
    else:
        log.error("failed outside a request", exc_info=(kind, failed, trace))


def _uncaught_in_thread(args: threading.ExceptHookArgs) -> None:
    if args.exc_value is not None:
        _uncaught(args.exc_type, args.exc_value, args.exc_traceback)


def log_all() -> None:
    """What goes wrong outside a request is logged as all else is, not printed beside it."""
    sys.excepthook, threading.excepthook = _uncaught, _uncaught_in_thread
