"""The API. Reading needs a session; changing needs a role (see ``actions``). Errors become HTTP here."""

import json
import threading
from typing import Annotated, Any, Literal

import structlog
from computing.limits import Crowded, Died, Dropped
from computing.limits import Refused as NotComputed
from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.models import User
from django.core.exceptions import RequestDataTooBig
from django.db import OperationalError
from django.http import HttpRequest, HttpResponse
from link import hub
from link.reader import SLOW
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError
from ninja.parser import Parser
from ninja.security import APIKeyCookie, django_auth
from orthotrope.errors import Fault, InputError, OrthotropeError, QuantityError
from orthotrope.formats.mounting import mounting_pattern
from orthotrope.formats.pocket_table import as_csv, as_xlsx
from orthotrope.machine.report import world_as_json
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup, read_setup, setup_schema
from orthotrope.setup.changer import AnyChanger
from orthotrope.setup.changes import changes
from orthotrope.setup.control import ControlProfile, shipped_profiles
from orthotrope.setup.keys import unkeyed
from orthotrope.setup.templates import bare_setup
from orthotrope.setup.threads import Thread, shipped_threads
from orthotrope.units import KINDS, read_quantity
from orthotrope.validation import pointer, read_json
from pydantic import Field

from shop import jobs, proving, schemas
from shop.actions import (
    ArrangePockets,
    BuildPractice,
    CancelProof,
    CreateMachine,
    EditConflict,
    KeepInputTest,
    MachineMoved,
    MachineSeen,
    NotAllowed,
    PracticeGone,
    RestoreRevision,
    SaveSetup,
    SetAgent,
    StartProof,
    TakeReading,
    TakeSeries,
    TeachPocket,
    noted,
)
from shop.asking import ask
from shop.kept import Kept
from shop.models import InputTest, Machine, Proof, Reading, Revision
from shop.roles import ROLES, role_of
from shop.standing import change_json, latest_proof, latest_proofs, proof_json, stages, tests_answer
from shop.vocabulary import vocabulary as core_words

log = structlog.get_logger("api")
Number = Annotated[int, Field(ge=0, lt=2**31)]
SIGNING_IN = threading.BoundedSemaphore(1)
"""Passwords are slow to check, on purpose; more at a time would hold up everybody else."""


class Visitor(APIKeyCookie):
    """Anyone with the page's CSRF cookie; for signing in. The check of the token is ninja's own."""

    param_name = settings.CSRF_COOKIE_NAME

    def authenticate(self, request: HttpRequest, key: str | None) -> bool:
        return True


class Strict(Parser):
    """Bodies as JSON that a Setup could be: no NaN, no number or text that nothing can hold."""

    def parse_body(self, request: HttpRequest) -> Any:
        found = read_json(request.body)
        if b"\\u" in request.body and unusable_half(found):
            raise InputError.at("", "The text holds half a character, which can't be stored; take it out.")
        return found


def unusable_half(node: Any) -> bool:
    """Whether a text somewhere in decoded JSON holds a lone half of a character."""
    try:
        json.dumps(node, ensure_ascii=False).encode()
    except UnicodeEncodeError:
        return True
    return False


api = NinjaAPI(
    title="Orthotrope",
    version="1",
    auth=django_auth,
    docs_url=None,
    openapi_url=None,
    urls_namespace="api",
    parser=Strict(),
)
Answer = dict[str, Any]


ASKED: dict[Any, Any] = {code: schemas.FaultsOut for code in (422, 429, 503)}
ASKED[204] = None


class SignInFailed(Exception):
    """Name and password do not belong together."""


@api.exception_handler(InputError)
def bad_input(request: HttpRequest, bad: InputError) -> HttpResponse:
    faults = [fault.as_json() for fault in bad.faults]
    return api.create_response(request, {"message": "The input has faults.", "faults": faults}, status=422)


def _told(request: HttpRequest, status: int, message: str, faults: list[dict[str, str]] | None = None) -> HttpResponse:
    return api.create_response(request, {"message": message, "faults": faults or []}, status=status)


@api.exception_handler(RequestDataTooBig)
def too_big(request: HttpRequest, failed: RequestDataTooBig) -> HttpResponse:
    most = f"{settings.DATA_UPLOAD_MAX_MEMORY_SIZE / 1e6:.0f}"
    return _told(
        request, 413, f"What was sent is larger than {most} MB; a Setup file has at most 4 MB. Is it another file?"
    )


@api.exception_handler(ValidationError)
def not_as_asked(request: HttpRequest, wrong: ValidationError) -> HttpResponse:
    faults = [
        Fault(pointer([part for part in error["loc"] if part not in ("body", "path", "query")][1:]), f"{error['msg']}.")
        for error in wrong.errors
    ]
    return _told(request, 422, "The request has faults.", [fault.as_json() for fault in faults])


@api.exception_handler(HttpError)
def not_taken(request: HttpRequest, refused: HttpError) -> HttpResponse:
    cause = refused.__cause__
    if isinstance(cause, InputError):  # the body could not be read
        return bad_input(request, cause)
    return _told(request, refused.status_code, str(refused) if refused.status_code != 401 else "Sign in first.")


@api.exception_handler(NotComputed)
def not_computed(request: HttpRequest, refused: NotComputed) -> HttpResponse:
    if isinstance(refused, Dropped):  # a later question of the same window has taken its place: there is nothing to say
        return HttpResponse(status=204)
    kinds = ((Crowded, 429), (Died, 503))
    return _told(request, next((status for kind, status in kinds if isinstance(refused, kind)), 422), str(refused))


@api.exception_handler(OperationalError)
def not_stored(request: HttpRequest, failed: OperationalError) -> HttpResponse:
    log.exception("database")
    if "full" in str(failed):
        return _told(
            request,
            507,
            "The server's disk is full: nothing was stored. What you entered is kept in this browser; make room "
            "on the server, then it is sent again.",
        )
    return _told(request, 503, f"The database did not take it ({failed}). Try again.")


@api.exception_handler(OrthotropeError)
def not_done(request: HttpRequest, refused: OrthotropeError) -> HttpResponse:
    return _told(request, 422, str(refused))


@api.exception_handler(Exception)
def went_wrong(request: HttpRequest, failed: Exception) -> HttpResponse:
    log.exception("failed", path=request.path[:200])
    reference = getattr(request, "reference", "")
    message = f"Something went wrong here. It is noted; its reference is {reference}."
    return api.create_response(request, {"message": message, "faults": [], "reference": reference}, status=500)


@api.exception_handler(NotAllowed)
def not_allowed(request: HttpRequest, denied: NotAllowed) -> HttpResponse:
    return api.create_response(request, {"message": str(denied), "faults": []}, status=403)


@api.exception_handler(MachineMoved)
@api.exception_handler(PracticeGone)
def not_now(request: HttpRequest, refused: Exception) -> HttpResponse:
    return api.create_response(request, {"message": str(refused), "faults": []}, status=409)


@api.exception_handler(SignInFailed)
def sign_in_failed(request: HttpRequest, failed: SignInFailed) -> HttpResponse:
    message = "This name and password do not belong together. Check both and try again."
    return api.create_response(request, {"message": message, "faults": []}, status=401)


@api.exception_handler(EditConflict)
def edit_conflict(request: HttpRequest, clash: EditConflict) -> HttpResponse:
    revision = clash.revision
    body = {
        "message": str(clash),
        "conflicts": [change_json(conflict) for conflict in clash.conflicts],
        "revision": revision.number,
        "author": revision.author.get_username(),
        "document": _setup(revision).as_json(),
    }
    return api.create_response(request, body, status=409)


@api.exception_handler(Machine.DoesNotExist)
@api.exception_handler(Revision.DoesNotExist)
@api.exception_handler(Proof.DoesNotExist)
def not_found(request: HttpRequest, missing: Exception) -> HttpResponse:
    kind = type(missing).__qualname__.split(".")[0].lower()
    return api.create_response(request, {"message": f"There is no such {kind}.", "faults": []}, status=404)


def _user(request: HttpRequest) -> User:
    assert isinstance(request.user, User)
    return request.user


def _machine(slug: str) -> Machine:
    return Machine.objects.get(slug=slug)


def _setup(revision: Revision) -> Setup:
    """A stored Setup, in the present version.

    Raises:
        InputError: where it can't be read; its file can still be had.
    """
    return read_setup(revision.document)


def _computed(request: HttpRequest, kind: str, job: Any, *args: Any) -> HttpResponse:
    """What a job in a worker process answers, as it comes."""
    return HttpResponse(ask(request, kind, job, *args), content_type="application/json")


def _session(request: HttpRequest) -> Answer:
    signed_in = request.user.is_authenticated
    return {
        "user": request.user.get_username() if signed_in else None,
        "role": role_of(request.user) if signed_in else None,
        "demo_accounts": list(ROLES) if settings.DEMO else [],
    }


@api.get("/session", auth=None, response=schemas.SessionOut)
def session(request: HttpRequest) -> Answer:
    return _session(request)


@api.post("/session", auth=Visitor(), response={200: schemas.SessionOut, 401: schemas.FaultsOut})
def sign_in(request: HttpRequest, body: schemas.SignIn) -> Answer:
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


@api.post("/session/demo", auth=Visitor(), response={200: schemas.SessionOut, 401: schemas.FaultsOut})
def sign_in_to_demo(request: HttpRequest, body: schemas.DemoSignIn) -> Answer:
    """One click: the demo account of a role. Only where the server was started as a demo."""
    user = User.objects.filter(username=body.role).first() if settings.DEMO else None
    if user is None:
        raise SignInFailed
    login(request, user, backend="shop.roles.Accounts")
    noted(user, "sign in", demo=True)
    return _session(request)


@api.delete("/session", response=schemas.SessionOut)
def sign_out(request: HttpRequest) -> Answer:
    noted(_user(request), "sign out")
    hub.end_session(request.session.session_key or "")
    logout(request)
    return _session(request)


@api.post("/quantity", response=schemas.QuantityOut)
def quantity(request: HttpRequest, body: schemas.QuantityIn) -> Answer:
    """What is understood of a typed quantity."""
    try:
        found = read_quantity(body.text, body.kind, body.unit)
    except QuantityError as bad:
        return {"value": None, "unit": KINDS[body.kind].unit, "what": bad.what, "column": bad.column}
    return {"value": found.value, "unit": found.unit}


@api.get("/vocabulary", response=schemas.VocabularyOut)
def vocabulary(request: HttpRequest) -> Answer:
    """The words that the screen offers: they are the core's."""
    return core_words()


@api.get("/openapi.json", response=dict[str, Any], include_in_schema=False)
def published_api(request: HttpRequest) -> Answer:
    """This API's own description, for those who are signed in."""
    return dict(api.get_openapi_schema())


@api.get("/setup-schema", auth=None, response=dict[str, Any])
def published_schema(request: HttpRequest) -> Answer:
    """JSON Schema of the Setup file."""
    return setup_schema()


@api.get("/machines", response=list[schemas.ShopEntryOut])
def shop(request: HttpRequest) -> list[Answer]:
    proofs, tests = latest_proofs(), InputTest.newest_of_all()
    return [_shop_entry(head, proofs.get(head.machine_id), tests.get(head.machine_id, {})) for head in Revision.heads()]


_scenes: Kept[Answer] = Kept()


def _shop_entry(head: Revision, proof: Proof | None, tests: dict[int, InputTest]) -> Answer:
    """A machine in the shop; one whose Setup can't be read is shown as such, and the others stay."""
    slug = head.machine.slug
    shared = {"slug": slug, "revision": head.number, "changed": head.changed, "author": head.author.get_username()}
    try:
        setup = _setup(head)
    except InputError as bad:
        told = head.document.get("machine") if isinstance(head.document, dict) else None
        name = str(told.get("name", slug)) if isinstance(told, dict) else slug
        return {
            **shared,
            "name": name,
            "description": "This Setup can't be read.",
            "travel": [[0.0, 1.0]] * 3,
            "unit": "mm",
            "scene": None,
            "stages": [],
            "unreadable": [fault.as_json() for fault in bad.faults[:20]],
        }
    axes = setup.machine.axes
    return {
        **shared,
        "name": setup.machine.name,
        "description": setup.machine.description,
        "unit": setup.machine.unit,
        "travel": [[axis.travel.least, axis.travel.greatest] for _, axis in axes.items()],
        "unreadable": [],
        "scene": _scenes.of((head.pk, head.changed), lambda: world_as_json(nominal_world(setup))),
        "stages": stages(setup, proof_json(proof, head) if proof else None, tests_answer(tests, setup), head),
    }


@api.post("/machines/new", response={200: schemas.MachineOut, 403: schemas.FaultsOut, 422: schemas.FaultsOut})
def new_machine(request: HttpRequest, body: schemas.NewMachine) -> Answer:
    """A bare machine, to be filled in."""
    name = body.name.strip()
    if not 1 <= len(name) <= 80:
        raise InputError.at("/name", "`name` must have 1 to 80 characters; give the machine a name.")
    return _machine_json(CreateMachine(_user(request), bare_setup(name).as_json(), "new").run())


@api.post("/changer-template", response={200: AnyChanger, **ASKED})
def template(request: HttpRequest, body: schemas.TemplateIn) -> HttpResponse:
    """A changer of a style for a machine that has none yet; nothing is stored."""
    return _computed(request, "", jobs.template, body.document, body.style)


@api.post("/machines/import", response={200: schemas.MachineOut, 403: schemas.FaultsOut, 422: schemas.FaultsOut})
def bring_in(request: HttpRequest) -> Answer:
    """A new machine from a Setup file; the body is the file."""
    action = CreateMachine(_user(request), {}, "brought in from a file")
    action.permit()  # before anything is worked out
    action.document = ask(request, "", jobs.checked, request.body)
    return _machine_json(action.run())


def _machine_json(machine: Machine) -> Answer:
    head, proof = machine.head, latest_proof(machine)
    summary = proof_json(proof, head) if proof else None
    setup = _setup(head)
    tests = tests_answer(InputTest.newest(machine), setup)
    return {
        "slug": machine.slug,
        "revision": head.number,
        "author": head.author.get_username(),
        "changed": head.changed,
        "document": setup.as_json(),
        "stages": stages(setup, summary, tests, head),
        "proof": summary,
        "agent": machine.agent,
        "device": machine.device,
        "tests": tests,
    }


@api.get("/machines/{slug}", response={200: schemas.MachineOut, 404: schemas.FaultsOut, 422: schemas.FaultsOut})
def machine(request: HttpRequest, slug: str) -> Answer:
    return _machine_json(_machine(slug))


SAVED: dict[Any, Any] = {
    200: schemas.MachineOut,
    403: schemas.FaultsOut,
    404: schemas.FaultsOut,
    409: schemas.EditConflictOut,
    422: schemas.FaultsOut,
}


@api.put("/machines/{slug}", response=SAVED)
def save(request: HttpRequest, slug: str, body: schemas.SaveIn) -> Answer:
    found = _machine(slug)
    SaveSetup(_user(request), found, body.base_revision, body.base, body.document).run()
    return _machine_json(found)


@api.post("/preview", response={200: schemas.AnswerOut, **ASKED})
def preview(request: HttpRequest, body: schemas.PreviewIn) -> HttpResponse:
    """What would follow from a document, without saving it."""
    asked = body.dict()
    return _computed(request, "preview", jobs.preview, asked.pop("document"), asked)


@api.post("/merge", response={200: schemas.MergedOut, **ASKED})
def merge_documents(request: HttpRequest, body: schemas.MergeIn) -> HttpResponse:
    """Three documents in one, as undo wants it; nothing is stored."""
    return _computed(request, "", jobs.merged, body.theirs, body.base, body.mine)


@api.get("/machines/{slug}/file", response=dict[str, Any])
def download(request: HttpRequest, slug: str) -> HttpResponse:
    """The Setup as a file."""
    text = json.dumps(_machine(slug).head.document, indent=2, ensure_ascii=False) + "\n"
    answer = HttpResponse(text, content_type="application/json; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{slug}.setup.json"'
    return answer


REVISIONS_A_PAGE = 40


@api.get("/machines/{slug}/revisions", response={200: list[schemas.RevisionOut], 404: schemas.FaultsOut})
def history(request: HttpRequest, slug: str, below: Number | None = None) -> list[Answer]:
    """A page of revisions, the newest first, each with what it changed; ``below``: those before this number."""
    stored = _machine(slug).revisions.select_related("author").order_by("-number")
    page = list((stored.filter(number__lt=below) if below is not None else stored)[: REVISIONS_A_PAGE + 1])
    before: dict[str, Any] | None = page[-1].document if len(page) > REVISIONS_A_PAGE else None
    rows = []
    for revision in page[REVISIONS_A_PAGE - 1 :: -1]:
        found = changes(before, revision.document) if before is not None else []
        rows.append(
            {
                "number": revision.number,
                "author": revision.author.get_username(),
                "created": revision.created,
                "changed": revision.changed,
                "note": revision.note,
                "changes": [change_json(change) for change in found],
            }
        )
        before = revision.document
    return rows[::-1]


@api.get("/machines/{slug}/revisions/{number}", response={200: schemas.OldRevisionOut, 404: schemas.FaultsOut})
def old_revision(request: HttpRequest, slug: str, number: Number) -> Answer:
    """One revision, and how it differs from the newest."""
    found = _machine(slug)
    revision = found.revisions.get(number=number)
    document = _setup(revision).as_json()
    return {
        "number": number,
        "document": document,
        "changes": [change_json(change) for change in changes(document, _setup(found.head).as_json())],
    }


@api.post("/machines/{slug}/revisions/{number}/restore", response=SAVED)
def restore(request: HttpRequest, slug: str, number: Number) -> Answer:
    found = _machine(slug)
    RestoreRevision(_user(request), found, number).run()
    return _machine_json(found)


PROOF: dict[Any, Any] = {200: schemas.ProofOut, **{code: schemas.FaultsOut for code in (403, 404, 422)}}


def _proof(proof: Proof, brief: bool = False) -> Answer:
    return proof_json(proof, proof.machine.head, with_pairs=True, brief=brief)


@api.post("/machines/{slug}/proofs", response=PROOF)
def start_proof(request: HttpRequest, slug: str, body: schemas.ProofIn) -> Answer:
    """Prove every exchange of the newest Setup, through the written text or one that is brought."""
    action = StartProof(_user(request), _machine(slug), body.text, body.file)
    action.permit()
    if body.text and (wrong := ask(request, "", jobs.unreadable, body.text)):
        raise InputError.at("/text", f"The program can't be read, nothing is proven. {wrong}")
    proof = action.run()
    proving.start(proof)
    return _proof(proof)


@api.get("/machines/{slug}/proofs/latest", response={200: schemas.ProofOut | None, 404: schemas.FaultsOut})
def newest_proof(request: HttpRequest, slug: str, brought: bool = False, brief: bool = False) -> Answer | None:
    """The newest proof; ``brief``: while it runs only how far it is, and the worst of each pair."""
    proof = latest_proof(_machine(slug), brought)
    return _proof(proof, brief) if proof else None


@api.post("/machines/{slug}/proofs/{number}/cancel", response=PROOF)
def cancel_proof(request: HttpRequest, slug: str, number: Number) -> Answer:
    proof = CancelProof(_user(request), _machine(slug), number).run()
    proving.cancel(proof)
    return _proof(proof)


TAKEN: dict[Any, Any] = {code: schemas.FaultsOut for code in (403, 404, 409, 422)}


@api.put("/machines/{slug}/agent", response={200: schemas.MachineOut, **TAKEN})
def set_agent(request: HttpRequest, slug: str, body: schemas.AgentIn) -> Answer:
    """Read the machine from this agent; an empty address: from the practice machine."""
    found = SetAgent(_user(request), _machine(slug), body.address.strip(), body.device.strip()).run()
    hub.moved(slug, found.agent_address, found.agent_device)
    return _machine_json(found)


@api.post("/machines/{slug}/practice", response={200: schemas.PracticeIn, **TAKEN})
def build_practice(request: HttpRequest, slug: str, body: schemas.PracticeIn) -> Answer:
    """Build the practice machine anew from the newest Setup."""
    return {"seed": BuildPractice(_user(request), _machine(slug), body.seed).run()}


@api.post("/profile-sample", response={200: schemas.ProfileAnswerOut, **ASKED})
def profile_sample(request: HttpRequest, body: schemas.ProfileIn) -> HttpResponse:
    """A sample program in a control profile, and whether it reads back as what was meant; nothing is stored."""
    return _computed(request, "profile", jobs.profile_sample, body.profile)


@api.get("/profiles", response=list[ControlProfile])
def profiles(request: HttpRequest) -> list[ControlProfile]:
    """The control profiles that come with Orthotrope."""
    return list(shipped_profiles().values())


@api.post("/offers", response={200: schemas.OfferOut, **ASKED})
def make_offer(request: HttpRequest, body: schemas.OfferIn) -> HttpResponse:
    """Which number of the machine would go into a quantity; nothing is stored."""
    kind = "offer" if body.position else "targets"
    return _computed(request, kind, jobs.make_offer, body.document, body.quantity, body.position, body.tool)


def _standing(machine: Machine) -> MachineSeen | None:
    link = hub.link_of(machine.slug, machine.agent_address, machine.agent_device)
    if link is None or not link.heard_once:
        return None
    state = link.frozen()
    return MachineSeen(state.vector(), state.tool, state.offset, state.dials, link.age < SLOW)


@api.post("/machines/{slug}/readings", response={200: schemas.TakenOut, **TAKEN})
def take_reading(request: HttpRequest, slug: str, body: schemas.ReadingIn) -> Answer:
    found = _machine(slug)
    seen = (body.seen[0], body.seen[1], body.seen[2]) if body.seen else None
    action = TakeReading(
        _user(request), found, body.quantity, body.source, _standing(found), seen, body.value, body.came
    )
    reading = action.run()
    made = action.offer
    edit = {"edit_at": made.edit_at, "edit": made.edit} if made else {}
    return {"reading": _reading_json(reading, found.head.document), **edit}


@api.post("/machines/{slug}/series", response={200: schemas.TakenOut, **TAKEN})
def take_series(request: HttpRequest, slug: str, body: schemas.SeriesIn) -> Answer:
    """What a series of dial readings says about the scatter of home or the backlash of an axis."""
    found = _machine(slug)
    reading = TakeSeries(_user(request), found, body.quantity, body.readings).run()
    return {"reading": _reading_json(reading, found.head.document), "edit_at": body.quantity, "edit": reading.value}


@api.post("/machines/{slug}/teach", response={200: schemas.TaughtPocketOut, **TAKEN})
def teach_pocket(request: HttpRequest, slug: str, body: schemas.TeachIn) -> Answer:
    """Teach a pocket where the machine stands."""
    found = _machine(slug)
    seen = (body.seen[0], body.seen[1], body.seen[2])
    action = TeachPocket(_user(request), found, body.pocket, seen, body.with_height, _standing(found))
    kept = action.run()
    listed = [_reading_json(reading, found.head.document) for reading in kept]
    return {"readings": listed, "edit_at": "/changer/rack/taught", "edit": action.taught}


@api.post("/savings", response={200: list[schemas.SavingOut], **ASKED})
def time_savings(request: HttpRequest, body: schemas.PairIn) -> HttpResponse:
    """What would save most time in an exchange, each change tried; nothing is stored."""
    return _computed(request, "", jobs.time_savings, body.document, body.from_tool, body.to_tool)


@api.get("/threads", response=list[Thread])
def threads(request: HttpRequest) -> Any:
    """The standard threads of collet nuts that come with Orthotrope."""
    return shipped_threads()


@api.post("/layout", response={200: list[schemas.LayerOut], **ASKED})
def layout(request: HttpRequest, body: schemas.LayoutIn) -> HttpResponse:
    """The circles and points of a drawing, by layer, in every order that pockets may be numbered in; nothing is
    stored."""
    return _computed(request, "", jobs.layers, body.text, body.unit)


@api.post("/settling", response={200: schemas.SettlingOut, **ASKED})
def settling_sheet(request: HttpRequest, body: schemas.PairIn) -> HttpResponse:
    """What may be where after this exchange was stopped, block by block, and how the record is set; nothing is
    stored."""
    return _computed(request, "settling", jobs.settling_sheet, body.document, body.from_tool, body.to_tool)


@api.post("/approach", response={200: list[schemas.ApproachOut], **ASKED})
def approach_texts(request: HttpRequest, body: schemas.ApproachIn) -> HttpResponse:
    """The programs of a pocket's first approach, in the Setup's control profile; nothing is stored."""
    return _computed(request, "approach", jobs.approach_texts, body.document, body.pocket)


MOST_READINGS = 500


@api.get("/machines/{slug}/readings", response={200: list[schemas.ReadingOut], 404: schemas.FaultsOut})
def readings(request: HttpRequest, slug: str) -> list[Answer]:
    """The readings of a machine, the newest first."""
    found = _machine(slug)
    document = _setup(found.head).as_json()
    newest = found.readings.select_related("author").order_by("-pk")[:MOST_READINGS]
    return [_reading_json(reading, document) for reading in newest]


def _reading_json(reading: Reading, document: Any) -> Answer:
    details = reading.details
    return {
        "id": reading.pk,
        "quantity": reading.quantity,
        "pointer": unkeyed(document, reading.quantity),
        "source": reading.source,
        "value": reading.value,
        "raw": reading.raw,
        "step": reading.step,
        "position": reading.position,
        "work_offset": reading.work_offset,
        "tool": reading.tool,
        "tool_length": reading.tool_length,
        "says": details.get("says", ""),
        "came": details.get("came"),
        "difference": details.get("difference"),
        "agrees": details.get("agrees"),
        "slip": details.get("slip", ""),
        "author": reading.author.get_username(),
        "taken": reading.taken,
    }


@api.post("/machines/{slug}/inputs/{number}/tests", response={200: schemas.MachineOut, **TAKEN})
def keep_input_test(request: HttpRequest, slug: str, number: Number, body: schemas.InputTestIn) -> Answer:
    found = _machine(slug)
    edges = [edge.dict() for edge in body.edges]
    KeepInputTest(_user(request), found, number, list(body.seen), edges, body.by_hand).run()
    return _machine_json(found)


@api.post("/machines/{slug}/pockets/arrange", response={200: schemas.MachineOut, **TAKEN})
def arrange_pockets(request: HttpRequest, slug: str, body: schemas.ArrangeIn) -> Answer:
    """Fill in order, empty all, or number the tools by their pockets; a supervisor's."""
    found = _machine(slug)
    ArrangePockets(_user(request), found, body.how).run()
    return _machine_json(found)


def _file(content: bytes | str, kind: str, name: str) -> HttpResponse:
    answer = HttpResponse(content, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer


@api.get("/machines/{slug}/pockets.csv", response=str)
def pocket_table_csv(request: HttpRequest, slug: str) -> HttpResponse:
    """The pocket table as CSV."""
    return _file(as_csv(_setup(_machine(slug).head)), "text/csv; charset=utf-8", f"{slug}-pockets.csv")


@api.get("/machines/{slug}/pockets.xlsx", response=str)
def pocket_table_xlsx(request: HttpRequest, slug: str) -> HttpResponse:
    """The pocket table as a workbook."""
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return _file(as_xlsx(_setup(_machine(slug).head)), kind, f"{slug}-pockets.xlsx")


@api.post("/machines/{slug}/pockets/preview", response={200: schemas.TablePreviewOut, 404: schemas.FaultsOut, **ASKED})
def preview_pocket_table(request: HttpRequest, slug: str) -> HttpResponse:
    """What a table (CSV or XLSX, the body is the file) would change; nothing is stored."""
    return _computed(request, "", jobs.pocket_table, _setup(_machine(slug).head).as_json(), request.body)


@api.get("/machines/{slug}/mounting.dxf", response={200: str, 404: schemas.FaultsOut, 422: schemas.FaultsOut})
def mounting(
    request: HttpRequest, slug: str, unit: Literal["mm", "inch"] = "mm", frame: Literal["machine", "rack"] = "rack"
) -> HttpResponse:
    """The rack's mounting pattern as DXF, in millimetres or inches, in the rack's own frame or the machine's."""
    text = mounting_pattern(_setup(_machine(slug).head), unit, frame)
    return _file(text, "application/dxf", f"{slug}-mounting-{unit}.dxf")
