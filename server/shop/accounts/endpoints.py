"""Who is signed in; signing in and out."""

import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Annotated
from weakref import WeakValueDictionary

import structlog
from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.models import User
from django.http import HttpRequest
from link import hub
from ninja import Router
from ninja.errors import HttpError
from ninja.security import APIKeyCookie
from pydantic import Field

from shop.action import noted
from shop.endpoint import ROUTERS, responses, user_of
from shop.roles import ROLES, WAIT_MINUTES, Role, address, role_of, sprayed
from shop.taken import Taken

log = structlog.get_logger("accounts")
router = Router()
ROUTERS.add("accounts", router)
AT_A_TIME = threading.BoundedSemaphore(2)
"""Passwords are slow to check, on purpose; more at a time would hold up everybody else."""

QUEUE_SECONDS = 30.0
"""How long one waits for one's turn: a whole shift signs in at once."""

_lines: WeakValueDictionary[str, "_Line"] = WeakValueDictionary()
_entering = threading.Lock()


class _Line:
    """Where those of one address wait, one after the other: whoever tries many passwords there keeps none from another one out."""

    def __init__(self) -> None:
        self.turn = threading.Lock()


@contextmanager
def _in_turn(where: str) -> Iterator[None]:
    """One's turn to have a password checked.

    Raises:
        HttpError: where it does not come.
    """
    with _entering:
        line = _lines.setdefault(where, _Line())
    until = time.monotonic() + QUEUE_SECONDS
    busy = HttpError(429, "Many sign in at this moment. Wait some seconds, then try again.")
    if not line.turn.acquire(timeout=QUEUE_SECONDS):
        raise busy
    try:
        if not AT_A_TIME.acquire(timeout=max(0.0, until - time.monotonic())):
            raise busy
        try:
            yield
        finally:
            AT_A_TIME.release()
    finally:
        line.turn.release()


class SignInFailed(HttpError):
    """Name and password do not belong together."""

    def __init__(self) -> None:
        super().__init__(401, "This name and password do not belong together. Check both and try again.")


class CSRFOnly(APIKeyCookie):
    """Anyone with the page's CSRF cookie; for signing in. The check of the token is ninja's own."""

    param_name = settings.CSRF_COOKIE_NAME

    def authenticate(self, request: HttpRequest, key: str | None) -> bool:
        return True


class SignIn(Taken):
    user: Annotated[str, Field(max_length=150)]
    password: Annotated[str, Field(max_length=1000)]


class DemoSignIn(Taken):
    role: Role


@dataclass(frozen=True, slots=True)
class Session:
    """``user`` None: nobody is signed in. ``demo_accounts``: those that can be had with one click."""

    user: str | None
    role: Role | None
    demo_accounts: list[str]


def _session(request: HttpRequest) -> Session:
    signed_in = request.user.is_authenticated
    return Session(
        user=request.user.get_username() if signed_in else None,
        role=role_of(request.user) if signed_in else None,
        demo_accounts=list(ROLES) if settings.DEMO else [],
    )


@router.get("/session", auth=None, response=Session)
def session(request: HttpRequest) -> Session:
    return _session(request)


@router.post("/session", auth=CSRFOnly(), response=responses(Session, 401, 429))
def sign_in(request: HttpRequest, body: SignIn) -> Session:
    where = address(request)
    if sprayed(where, body.user):
        raise HttpError(
            429, f"Too many wrong passwords came from this address. Wait {WAIT_MINUTES} minutes, then try again."
        )
    with _in_turn(where):
        user = authenticate(request, username=body.user, password=body.password)
    if user is None:
        log.warning("sign-in refused", name=body.user)
        noted(None, "sign-in refused", account=body.user, address=where)
        raise SignInFailed
    login(request, user)
    noted(user, "sign in", address=where)
    return _session(request)


@router.post("/session/demo", auth=CSRFOnly(), response=responses(Session, 401))
def sign_in_to_demo(request: HttpRequest, body: DemoSignIn) -> Session:
    """One click: the demo account of a role. Only where the server was started as a demo."""
    user = User.objects.filter(username=body.role).first() if settings.DEMO else None
    if user is None:
        raise SignInFailed
    login(request, user, backend="shop.roles.Accounts")
    noted(user, "sign in", demo=True)
    return _session(request)


@router.delete("/session", response=Session)
def sign_out(request: HttpRequest) -> Session:
    noted(user_of(request), "sign out")
    hub.end_session(request.session.session_key or "")
    logout(request)
    return _session(request)
