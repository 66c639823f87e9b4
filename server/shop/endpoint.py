"""What all endpoints share: who asks, what may be answered beside what was wanted, a computed answer, a file."""

from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse
from ninja import Router
from orthotrope.errors import Fault
from orthotrope.registry import Registry

from shop.asking import ask
from shop.job import packed

ROUTERS: Registry[Router] = Registry("subject", "shop.*.endpoints", "shop.stages.*.endpoints")
"""The endpoints of each subject and stage, by its name."""


@dataclass(frozen=True, slots=True)
class Refusal:
    """What is wrong with a request, fault by fault."""

    message: str
    faults: tuple[Fault, ...] = ()


def responses(wanted: Any, *codes: int) -> dict[Any, Any]:
    """The answer that is wanted, and refusals with these codes."""
    return {200: wanted, **dict.fromkeys(codes, Refusal)}


def computed_as(wanted: Any, *codes: int) -> dict[Any, Any]:
    """The answer of a job; 204: a later question has taken its place."""
    return {**responses(wanted, *codes, 422, 429, 503), 204: None}


def user_of(request: HttpRequest) -> User:
    """Who sends it; endpoints are for those who are signed in."""
    assert isinstance(request.user, User)
    return request.user


def computed(request: HttpRequest, kind: str, job: Any, *args: Any) -> HttpResponse:
    """What a job in a worker process answers, as it comes; packed there where it is large and the browser takes it."""
    if "gzip" not in request.headers.get("Accept-Encoding", ""):
        return HttpResponse(ask(request, kind, job, *args), content_type="application/json")
    content, encoding = ask(request, kind, packed, job, *args)
    answer = HttpResponse(content, content_type="application/json")
    if encoding:
        answer["Content-Encoding"] = encoding
    return answer


def file(content: bytes | str, kind: str, name: str) -> HttpResponse:
    """A file to be stored under this name."""
    answer = HttpResponse(content, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer
