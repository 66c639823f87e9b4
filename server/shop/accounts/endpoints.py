"""Who is signed in; signing in and out."""

import threading
from dataclasses import dataclass
from typing import Annotated

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
from shop.roles import ROLES, Role, role_of
from shop.taken import Taken

log = structlog.get_logger("accounts")
router = Router()
ROUTERS.add("accounts", router)
SIGNING_IN = threading.BoundedSemaphore(1)
"""Passwords are slow to check, on purpose; more at a time would hold up everybody else."""


class SignInFailed(HttpError):
    """Name and password do not belong together."""

    def __init__(self) -> None:
        super().__init__(401, "This name and password do not belong together. Check both and try again.")


class Visitor(APIKeyCookie):
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


@router.post("/session", auth=Visitor(), response=responses(Session, 401, 429))
def sign_in(request: HttpRequest, body: SignIn) -> Session:
    if not SIGNING_IN.acquire(timeout=5.0):
        raise HttpError(429, "Many sign in at this moment. Wait some seconds, then try again.")
    try:
        user = authenticate(request, username=body.user, password=body.password)
    finally:
        SIGNING_IN.release()
    if user is None:
        log.warning("sign-in refused", name=body.user)
        raise SignInFailed
    login(request, user)
    noted(user, "sign in")
    return _session(request)


@router.post("/session/demo", auth=Visitor(), response=responses(Session, 401))
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
