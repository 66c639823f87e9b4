"""Setters, probes, tools and their inputs, added to a Setup; nothing is stored."""

from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import Router
from orthotrope.proof.adding import Added
from pydantic import Field

from shop.adding import jobs
from shop.endpoint import ROUTERS, computed, computed_as
from shop.taken import DocumentIn, Number

router = Router()
ROUTERS.add("adding", router)

Kind = Annotated[str, Field(max_length=40)]


class SetterIn(DocumentIn):
    """``input``: the number of its input; null: one is made."""

    kind: Kind
    input: Number | None = None


class ProbeIn(SetterIn):
    """``tool``: the one that it is in the spindle; null: one is made."""

    tool: Number | None = None


class ChangerIn(DocumentIn):
    style: Kind


class DeviceIn(DocumentIn):
    """``where``: JSON pointer of a setter or probe."""

    where: Annotated[str, Field(max_length=60)]


class EntryIn(DocumentIn):
    """``where``: JSON pointer of a list; ``entry``: what is added to it, with the numbers that it begins with."""

    where: Annotated[str, Field(max_length=200)]
    entry: dict[str, Any]


class RenameIn(DeviceIn):
    """``where``: JSON pointer of an entry's number or name; ``value``: the new one."""

    value: Number | Annotated[str, Field(max_length=200)]


@router.post("/adding/setter", response=computed_as(Added, 422))
def setter(request: HttpRequest, body: SetterIn) -> HttpResponse:
    """The Setup with a setter of a kind more, at a place where it is in nothing's way."""
    return computed(request, "", jobs.setter, body.document, body.kind, body.input)


@router.post("/adding/probe", response=computed_as(Added, 422))
def probe(request: HttpRequest, body: ProbeIn) -> HttpResponse:
    """The Setup with a probe of a kind more."""
    return computed(request, "", jobs.probe, body.document, body.kind, body.tool, body.input)


@router.post("/adding/changer", response=computed_as(Added, 422))
def changer(request: HttpRequest, body: ChangerIn) -> HttpResponse:
    """The Setup with a changer of a style, with usual numbers."""
    return computed(request, "", jobs.changer, body.document, body.style)


@router.post("/adding/tool", response=computed_as(Added, 422))
def tool(request: HttpRequest, body: DocumentIn) -> HttpResponse:
    """The Setup with a tool more."""
    return computed(request, "", jobs.tool, body.document)


@router.post("/adding/entry", response=computed_as(Added, 422))
def entry(request: HttpRequest, body: EntryIn) -> HttpResponse:
    """The Setup with an entry of a list more, its numbers marked as not entered yet."""
    return computed(request, "", jobs.entry, body.document, body.where, body.entry)


@router.post("/adding/touch-input", response=computed_as(Added, 422))
def touch_input(request: HttpRequest, body: DeviceIn) -> HttpResponse:
    """The Setup with a new input of the right role, on which the setter or probe is then."""
    return computed(request, "", jobs.touch_input, body.document, body.where)


@router.post("/adding/rename", response=computed_as(Added, 422))
def rename(request: HttpRequest, body: RenameIn) -> HttpResponse:
    """The Setup with another number or name of an entry; what refers to it follows."""
    return computed(request, "", jobs.renamed_entry, body.document, body.where, body.value)
