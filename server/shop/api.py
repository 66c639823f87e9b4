"""The API: its subjects put together, and errors become HTTP. Reading needs a session; changing needs a role (see
``action``)."""

import errno
import json
import re
import shutil
from collections.abc import Iterable
from typing import Any

import structlog
from computing.limits import Crowded, Died, Dropped, StillStarting
from computing.limits import Refused as NotComputed
from django.conf import settings
from django.core.exceptions import ObjectDoesNotExist, RequestDataTooBig
from django.db import DatabaseError, DataError, IntegrityError, OperationalError
from django.http import HttpRequest, HttpResponse
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.parser import Parser
from ninja.renderers import BaseRenderer
from ninja.security import django_auth
from orthotrope.errors import Fault, InputError, OrthotropeError
from orthotrope.validation import pointer, read_json
from pydantic_core import to_json

from shop.action import NotAllowed
from shop.endpoint import ROUTERS, Refusal
from shop.linking.actions import PracticeGone
from shop.machines.actions import EditConflict
from shop.machines.endpoints import EditConflictResponse
from shop.published import PublishedAPI
from shop.readings.actions import MachineMoved

log = structlog.get_logger("api")


DISK_FULL = (
    "The disk with the server's data is full: nothing was stored, what is there can be read. What you entered is kept in this browser; "
    "make room on the server, then it is sent again."
)

ROOM = 1_000_000
"""Bytes; a disk with less free is taken as full."""


def free_bytes() -> int:
    """What is free where the data lie."""
    return shutil.disk_usage(settings.DATA).free


class Strict(Parser):
    """Bodies as JSON that a Setup could be: no NaN, no number or text that nothing can hold."""

    def parse_body(self, request: HttpRequest) -> Any:
        found = read_json(request.body)
        if b"\\u" in request.body and unusable_half(found):
            raise InputError.at("", "The text holds half a character, which can't be stored; take it out.")
        return found


class CoreJSONRenderer(BaseRenderer):
    """Answers as JSON: what they hold may be dataclasses and models of the core."""

    media_type = "application/json"

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> bytes:
        return to_json(data)


def unusable_half(node: Any) -> bool:
    """Whether a text somewhere in decoded JSON holds a lone half of a character."""
    try:
        json.dumps(node, ensure_ascii=False).encode()
    except UnicodeEncodeError:
        return True
    return False


api = PublishedAPI(
    title="Orthotrope",
    version="1",
    auth=django_auth,
    docs_url=None,
    openapi_url=None,
    urls_namespace="api",
    parser=Strict(),
    renderer=CoreJSONRenderer(),
)
for router in ROUTERS.values():
    api.add_router("", router)


@api.get("/openapi.json", response=dict[str, Any], include_in_schema=False)
def published_api(request: HttpRequest) -> dict[str, Any]:
    """The API's own description, for those who are signed in."""
    return dict(api.get_openapi_schema())


def refusal(request: HttpRequest, status: int, message: str, faults: Iterable[Fault] = ()) -> HttpResponse:
    """A refusal."""
    return api.create_response(request, Refusal(message, tuple(faults)), status=status)


@api.exception_handler(InputError)
def bad_input(request: HttpRequest, bad: InputError) -> HttpResponse:
    return refusal(request, 422, "The input has faults.", bad.faults)


@api.exception_handler(RequestDataTooBig)
def too_big(request: HttpRequest, failed: RequestDataTooBig) -> HttpResponse:
    most = f"{settings.DATA_UPLOAD_MAX_MEMORY_SIZE / 1e6:.0f}"
    return refusal(
        request, 413, f"What was sent is larger than {most} MB; a Setup file has at most 4 MB. Is it another file?"
    )


@api.exception_handler(ValidationError)
def not_as_asked(request: HttpRequest, wrong: ValidationError) -> HttpResponse:
    faults = [
        Fault(pointer([part for part in error["loc"] if part not in ("body", "path", "query")][1:]), f"{error['msg']}.")
        for error in wrong.errors
    ]
    return refusal(request, 422, "The request has faults.", faults)


@api.exception_handler(HttpError)
def not_taken(request: HttpRequest, refused: HttpError) -> HttpResponse:
    cause = refused.__cause__
    if isinstance(cause, InputError):  # the body could not be read
        return bad_input(request, cause)
    return refusal(
        request, refused.status_code, str(refused) if not isinstance(refused, AuthenticationError) else "Sign in first."
    )


@api.exception_handler(NotComputed)
def not_computed(request: HttpRequest, refused: NotComputed) -> HttpResponse:
    if isinstance(refused, Dropped):  # a later question of the same window has taken its place: there is nothing to say
        return HttpResponse(status=204)
    kinds = ((Crowded, 429), (Died, 503), (StillStarting, 503))
    return refusal(request, next((status for kind, status in kinds if isinstance(refused, kind)), 422), str(refused))


@api.exception_handler(OperationalError)
def not_stored(request: HttpRequest, failed: OperationalError) -> HttpResponse:
    log.exception("database")
    if "full" in str(failed) or ("disk I/O" in str(failed) and free_bytes() < ROOM):
        return refusal(request, 507, DISK_FULL)
    if "no such table" in str(failed) or "no such column" in str(failed):
        return refusal(
            request,
            503,
            "The database is of another version than the program. Stop the server, run manage.py migrate, and start it.",
        )
    if "locked" in str(failed):
        return refusal(request, 503, "The database is busy with what others store. Try again in some seconds.")
    return refusal(request, 503, "The database can't be used. The reason is in the server's log; nothing was stored.")


@api.exception_handler(DatabaseError)
def damaged(request: HttpRequest, failed: DatabaseError) -> HttpResponse:
    if isinstance(failed, IntegrityError | DataError):  # our own fault, not the file's
        return went_wrong(request, failed)
    log.exception("database")
    what = "The database is damaged. Stop the server and restore a backup (manage.py restore); nothing was stored."
    return refusal(request, 503, what)


@api.exception_handler(OSError)
def not_written(request: HttpRequest, failed: OSError) -> HttpResponse:
    if failed.errno not in (errno.ENOSPC, errno.EDQUOT):
        return went_wrong(request, failed)
    log.exception("disk full")
    return refusal(request, 507, DISK_FULL)


@api.exception_handler(OrthotropeError)
def not_done(request: HttpRequest, refused: OrthotropeError) -> HttpResponse:
    return refusal(request, 422, str(refused))


@api.exception_handler(Exception)
def went_wrong(request: HttpRequest, failed: Exception) -> HttpResponse:
    log.exception("failed", path=request.path[:200])
    reference = getattr(request, "reference", "")
    message = f"Something went wrong here. It is noted; its reference is {reference}."
    return api.create_response(request, {"message": message, "faults": [], "reference": reference}, status=500)


@api.exception_handler(NotAllowed)
def not_allowed(request: HttpRequest, denied: NotAllowed) -> HttpResponse:
    return refusal(request, 403, str(denied))


@api.exception_handler(MachineMoved)
@api.exception_handler(PracticeGone)
def not_now(request: HttpRequest, refused: Exception) -> HttpResponse:
    return refusal(request, 409, str(refused))


@api.exception_handler(EditConflict)
def edit_conflict(request: HttpRequest, clash: EditConflict) -> HttpResponse:
    revision = clash.revision
    author = revision.author.get_username()
    body = EditConflictResponse(str(clash), clash.conflicts, revision.number, author, revision.setup)
    return api.create_response(request, body, status=409)


@api.exception_handler(ObjectDoesNotExist)
def not_found(request: HttpRequest, missing: Exception) -> HttpResponse:
    kind = re.sub("(?<=[a-z])(?=[A-Z])", " ", type(missing).__qualname__.split(".")[0]).lower()
    return refusal(request, 404, f"There is no such {kind}.")
