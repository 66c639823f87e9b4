"""The machines of the shop: their documents and revisions."""

import json
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router
from orthotrope.errors import InputError
from orthotrope.setup import Setup
from orthotrope.setup.changes import Conflict
from pydantic import Field

from shop.asking import ask
from shop.endpoint import ROUTERS, computed, computed_as, file, responses, user_of
from shop.machines import jobs
from shop.machines.actions import CreateMachine, PutAway, RestoreRevision, SaveSetup
from shop.machines.answers import OldRevision, RevisionListed, ShopEntry, StoredMachine, machine_named
from shop.machines.shop import shop_entries
from shop.taken import Number, Taken

router = Router()
ROUTERS.add("machines", router)

REVISIONS_A_PAGE = 40

Travelled = Annotated[float, Field(gt=0, le=20_000)]
"""mm"""


class NamedMachine(Taken):
    name: Annotated[str, Field(max_length=200)]

    @property
    def called(self) -> str:
        """The name.

        Raises:
            InputError: it is empty, or too long.
        """
        name = self.name.strip()
        if not 1 <= len(name) <= 80:
            raise InputError.at("/name", "`name` must have 1 to 80 characters; give the machine a name.")
        return name


class NewMachine(NamedMachine):
    """``travel``: of X, Y and Z, mm; ``style``: of the changer, "" for none yet."""

    kind: Annotated[str, Field(max_length=80)] = "router"
    unit: Literal["mm", "inch"] = "mm"
    travel: Annotated[list[Travelled], Field(min_length=3, max_length=3)] | None = None
    style: Annotated[str, Field(max_length=80)] = ""


class AwayIn(Taken):
    away: bool


class SaveIn(Taken):
    """``base_revision`` and ``base``: the revision and the document that the edit began from."""

    base_revision: Number
    base: dict[str, Any]
    document: dict[str, Any]


class MergeIn(Taken):
    """Three documents: what ``mine`` has other than ``base`` is put into ``theirs``."""

    base: dict[str, Any]
    mine: dict[str, Any]
    theirs: dict[str, Any]


@dataclass(frozen=True, slots=True)
class EditConflictResponse:
    """Values that two people changed; ``document`` and ``revision`` are the stored ones."""

    message: str
    conflicts: list[Conflict]
    revision: int
    author: str
    document: Setup


SAVED = {**responses(StoredMachine, 403, 404, 422), 409: EditConflictResponse}


@router.get("/machines", response=list[ShopEntry])
def shop(request: HttpRequest) -> list[ShopEntry]:
    """The machines, each with what is missing; ``pending`` ones are being worked out: ask again in a moment."""
    return shop_entries()


@router.post("/machines/new", response=responses(StoredMachine, 403, 422))
def new_machine(request: HttpRequest, body: NewMachine) -> StoredMachine:
    """A machine to begin with: of a kind, with its travel, and a changer with all that it needs."""
    action = CreateMachine(user_of(request), {}, "new")
    action.permit()  # before anything is worked out
    action.document = ask(request, "", jobs.begun, body.called, body.kind, body.unit, body.travel, body.style)
    return StoredMachine.of(action.run())


@router.post("/machines/{slug}/copy", response=responses(StoredMachine, 403, 404, 422))
def copy_machine(request: HttpRequest, slug: str, body: NamedMachine) -> StoredMachine:
    """A new machine whose Setup is another one's; readings, proofs and history stay with that one."""
    head = machine_named(slug).head
    document = head.setup.as_json()
    document["machine"]["name"] = body.called
    note = f"copied from {head.setup.machine.name}, revision {head.number}"
    return StoredMachine.of(CreateMachine(user_of(request), document, note).run())


@router.post("/machines/{slug}/put-away", response=responses(StoredMachine, 403, 404, 422))
def put_away(request: HttpRequest, slug: str, body: AwayIn) -> StoredMachine:
    """Put a machine away, or bring it back."""
    return StoredMachine.of(PutAway(user_of(request), machine_named(slug), body.away).run())


@router.post("/machines/import", response=responses(StoredMachine, 403, 422))
def import_machine(request: HttpRequest) -> StoredMachine:
    """A new machine from a Setup file; the body is the file."""
    action = CreateMachine(user_of(request), {}, "imported from a file")
    action.permit()  # before anything is worked out
    action.document = ask(request, "", jobs.checked, request.body)
    return StoredMachine.of(action.run())


@router.get("/machines/{slug}", response=responses(StoredMachine, 404, 422))
def machine(request: HttpRequest, slug: str) -> StoredMachine:
    return StoredMachine.of(machine_named(slug))


@router.put("/machines/{slug}", response=SAVED)
def save(request: HttpRequest, slug: str, body: SaveIn) -> StoredMachine:
    found = machine_named(slug)
    saved = SaveSetup(user_of(request), found, body.base_revision, body.base, body.document).run()
    return StoredMachine.of(found, saved)


@router.post("/merge", response=computed_as(jobs.Merged))
def merge_documents(request: HttpRequest, body: MergeIn) -> HttpResponse:
    """Three documents in one, as undo wants it; nothing is stored."""
    return computed(request, "", jobs.merged, body.theirs, body.base, body.mine)


@router.get("/machines/{slug}/file", response=dict[str, Any])
def download(request: HttpRequest, slug: str) -> HttpResponse:
    """The Setup as a file."""
    text = json.dumps(machine_named(slug).head.document, indent=2, ensure_ascii=False) + "\n"
    return file(text, "application/json; charset=utf-8", f"{slug}.setup.json")


@router.get("/machines/{slug}/revisions", response=responses(list[RevisionListed], 404))
def history(request: HttpRequest, slug: str, below: Number | None = None) -> list[RevisionListed]:
    """A page of revisions, the newest first, each with what it changed; ``below``: those before this number."""
    stored = machine_named(slug).revisions.select_related("author").order_by("-number")
    page = list((stored.filter(number__lt=below) if below is not None else stored)[: REVISIONS_A_PAGE + 1])
    before = [revision.document for revision in page[1:]] + [None] * bool(page)
    return [RevisionListed.of(*pair) for pair in zip(page, before, strict=True)][:REVISIONS_A_PAGE]


@router.get("/machines/{slug}/revisions/{number}", response=responses(OldRevision, 404))
def old_revision(request: HttpRequest, slug: str, number: Number, against: Number | None = None) -> OldRevision:
    """One revision, and how another differs from it; the newest where none is said."""
    found = machine_named(slug)
    other = found.head if against is None else found.revisions.get(number=against)
    return OldRevision.of(found.revisions.get(number=number), other)


@router.post("/machines/{slug}/revisions/{number}/restore", response=SAVED)
def restore(request: HttpRequest, slug: str, number: Number) -> StoredMachine:
    found = machine_named(slug)
    RestoreRevision(user_of(request), found, number).run()
    return StoredMachine.of(found)
