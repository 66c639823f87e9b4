"""The API. Reading needs a session; changing needs a role (see ``actions``). Errors become HTTP here."""

import json
from typing import Any, Literal

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.models import User
from django.core.exceptions import RequestDataTooBig
from django.http import HttpRequest, HttpResponse
from link.hub import link_of
from link.reader import SLOW
from ninja import NinjaAPI
from ninja.security import APIKeyCookie, django_auth
from orthotrope.calc.capture import offer, targets
from orthotrope.errors import InputError, QuantityError
from orthotrope.formats.layout import ORDERS, Mark, ordered, read_layout
from orthotrope.formats.mounting import mounting_pattern
from orthotrope.formats.pocket_table import as_csv, as_xlsx
from orthotrope.formats.pocket_table import preview as preview_table
from orthotrope.machine.report import world_as_json
from orthotrope.program.writer import write
from orthotrope.proof.savings import savings
from orthotrope.proof.settling import record_words, settling
from orthotrope.proof.worlds import nominal_world
from orthotrope.sequence.approach import approach
from orthotrope.setup import read_setup, setup_schema
from orthotrope.setup.changes import changes
from orthotrope.setup.control import ControlProfile, shipped_profiles
from orthotrope.setup.keys import unkeyed
from orthotrope.setup.styles import Changer
from orthotrope.setup.templates import bare_setup, changer_template
from orthotrope.setup.threads import Thread, shipped_threads
from orthotrope.units import KINDS, read_quantity

from shop import proving, schemas
from shop.actions import (
    ArrangePockets,
    BuildPractice,
    CancelProof,
    CreateMachine,
    EditConflict,
    KeepInputTest,
    MachineMoved,
    NotAllowed,
    PracticeGone,
    RestoreRevision,
    SaveSetup,
    SetAgent,
    Standing,
    StartProof,
    TakeReading,
    TakeSeries,
    TeachPocket,
)
from shop.answers import answer, latest_proof, proof_json, stages
from shop.models import Machine, Proof, Reading, Revision
from shop.roles import ROLES, role_of
from shop.stage_answers import profile_answer, tests_answer


class Visitor(APIKeyCookie):
    """Anyone with the page's CSRF cookie; for signing in. The check of the token is ninja's own."""

    param_name = settings.CSRF_COOKIE_NAME

    def authenticate(self, request: HttpRequest, key: str | None) -> bool:
        return True


api = NinjaAPI(title="Orthotrope", version="1", auth=django_auth, docs_url=None, urls_namespace="api")
Answer = dict[str, Any]


class SignInFailed(Exception):
    """Name and password do not belong together."""


@api.exception_handler(InputError)
def bad_input(request: HttpRequest, bad: InputError) -> HttpResponse:
    faults = [fault.as_json() for fault in bad.faults]
    return api.create_response(request, {"message": "The input has faults.", "faults": faults}, status=422)


@api.exception_handler(RequestDataTooBig)
def too_big(request: HttpRequest, failed: RequestDataTooBig) -> HttpResponse:
    most = f"{settings.DATA_UPLOAD_MAX_MEMORY_SIZE / 1e6:.0f}"
    message = f"What was sent is larger than {most} MB; a Setup file has at most 4 MB. Is it another file?"
    return api.create_response(request, {"message": message, "faults": []}, status=413)


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
    body = {"message": str(clash), "conflicts": [conflict.as_json() for conflict in clash.conflicts],
            "revision": revision.number, "author": revision.author.get_username(), "document": revision.document}  # fmt: skip
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


def _session(request: HttpRequest) -> Answer:
    signed_in = request.user.is_authenticated
    return {"user": request.user.get_username() if signed_in else None,
            "role": role_of(request.user) if signed_in else None,
            "demo_accounts": list(ROLES) if settings.DEMO else []}  # fmt: skip


@api.get("/session", auth=None, response=schemas.SessionOut)
def session(request: HttpRequest) -> Answer:
    return _session(request)


@api.post("/session", auth=Visitor(), response={200: schemas.SessionOut, 401: schemas.FaultsOut})
def sign_in(request: HttpRequest, body: schemas.SignIn) -> Answer:
    user = authenticate(request, username=body.user, password=body.password)
    if user is None:
        raise SignInFailed
    login(request, user)
    return _session(request)


@api.post("/session/demo", auth=Visitor(), response={200: schemas.SessionOut, 401: schemas.FaultsOut})
def sign_in_to_demo(request: HttpRequest, body: schemas.DemoSignIn) -> Answer:
    """One click: the demo account of a role. Only where the server was started as a demo."""
    user = User.objects.filter(username=body.role).first() if settings.DEMO else None
    if user is None:
        raise SignInFailed
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return _session(request)


@api.delete("/session", response=schemas.SessionOut)
def sign_out(request: HttpRequest) -> Answer:
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


@api.get("/setup-schema", auth=None, response=dict[str, Any])
def published_schema(request: HttpRequest) -> Answer:
    """JSON Schema of the Setup file."""
    return setup_schema()


@api.get("/machines", response=list[schemas.ShopEntryOut])
def shop(request: HttpRequest) -> list[Answer]:
    return [_shop_entry(machine) for machine in Machine.objects.order_by("slug")]


def _shop_entry(machine: Machine) -> Answer:
    head = machine.head
    setup = read_setup(head.document)
    axes = setup.machine.axes
    proof = latest_proof(machine)
    return {"slug": machine.slug, "name": setup.machine.name, "description": setup.machine.description,
            "revision": head.number, "changed": head.changed, "author": head.author.get_username(),
            "travel": [[axis.travel.least, axis.travel.greatest] for _, axis in axes.items()],
            "unit": setup.machine.unit, "scene": world_as_json(nominal_world(setup)),
            "stages": stages(setup, proof_json(proof, head) if proof else None, tests_answer(machine, setup))}  # fmt: skip


@api.post("/machines/new", response={200: schemas.MachineOut, 403: schemas.FaultsOut, 422: schemas.FaultsOut})
def new_machine(request: HttpRequest, body: schemas.NewMachine) -> Answer:
    """A bare machine, to be filled in."""
    name = body.name.strip()
    if not 1 <= len(name) <= 80:
        raise InputError.at("/name", "`name` must have 1 to 80 characters; give the machine a name.")
    return _machine_json(CreateMachine(_user(request), bare_setup(name).as_json(), "new").run())


@api.post("/changer-template", response={200: Changer, 422: schemas.FaultsOut})
def template(request: HttpRequest, body: schemas.TemplateIn) -> Any:
    """A changer of a style for a machine that has none yet; nothing is stored."""
    return changer_template(read_setup(body.document), body.style)


@api.post("/machines/import", response={200: schemas.MachineOut, 403: schemas.FaultsOut, 422: schemas.FaultsOut})
def bring_in(request: HttpRequest) -> Answer:
    """A new machine from a Setup file; the body is the file."""
    return _machine_json(CreateMachine(_user(request), request.body, "brought in from a file").run())


def _machine_json(machine: Machine) -> Answer:
    head, proof = machine.head, latest_proof(machine)
    summary = proof_json(proof, head) if proof else None
    setup = read_setup(head.document)
    tests = tests_answer(machine, setup)
    return {"slug": machine.slug, "revision": head.number, "author": head.author.get_username(), "changed": head.changed,
            "document": head.document, "stages": stages(setup, summary, tests), "proof": summary,
            "agent": machine.agent, "device": machine.device, "tests": tests}  # fmt: skip


@api.get("/machines/{slug}", response={200: schemas.MachineOut, 404: schemas.FaultsOut})
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


@api.post("/preview", response=schemas.AnswerOut)
def preview(request: HttpRequest, body: schemas.PreviewIn) -> Answer:
    """What would follow from a document, without saving it."""
    return answer(body.document, body.from_tool, body.to_tool, body.profile, body.stage, body.program)


@api.get("/machines/{slug}/file", response=dict[str, Any])
def download(request: HttpRequest, slug: str) -> HttpResponse:
    """The Setup as a file."""
    text = json.dumps(_machine(slug).head.document, indent=2, ensure_ascii=False) + "\n"
    answer = HttpResponse(text, content_type="application/json; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{slug}.setup.json"'
    return answer


@api.get("/machines/{slug}/revisions", response={200: list[schemas.RevisionOut], 404: schemas.FaultsOut})
def history(request: HttpRequest, slug: str) -> list[Answer]:
    """All revisions, the newest first, each with what it changed."""
    revisions = list(_machine(slug).revisions.select_related("author"))
    before: dict[str, Any] | None = None
    rows = []
    for revision in revisions:
        found = changes(before, revision.document) if before is not None else []
        rows.append({"number": revision.number, "author": revision.author.get_username(), "created": revision.created,
                     "changed": revision.changed, "note": revision.note,
                     "changes": [change.as_json() for change in found]})  # fmt: skip
        before = revision.document
    return rows[::-1]


@api.get("/machines/{slug}/revisions/{number}", response={200: schemas.OldRevisionOut, 404: schemas.FaultsOut})
def old_revision(request: HttpRequest, slug: str, number: int) -> Answer:
    """One revision, and how it differs from the newest."""
    found = _machine(slug)
    revision = found.revisions.get(number=number)
    return {"number": number, "document": revision.document,
            "changes": [change.as_json() for change in changes(revision.document, found.head.document)]}  # fmt: skip


@api.post("/machines/{slug}/revisions/{number}/restore", response=SAVED)
def restore(request: HttpRequest, slug: str, number: int) -> Answer:
    found = _machine(slug)
    RestoreRevision(_user(request), found, number).run()
    return _machine_json(found)


PROOF: dict[Any, Any] = {200: schemas.ProofOut, **{code: schemas.FaultsOut for code in (403, 404, 422)}}


def _proof(proof: Proof) -> Answer:
    return proof_json(proof, proof.machine.head, with_pairs=True)


@api.post("/machines/{slug}/proofs", response=PROOF)
def start_proof(request: HttpRequest, slug: str, body: schemas.ProofIn | None = None) -> Answer:
    """Prove every exchange of the newest Setup, through the written text or one that is brought."""
    brought = body or schemas.ProofIn()
    proof = StartProof(_user(request), _machine(slug), brought.text, brought.file).run()
    proving.start(proof)
    return _proof(proof)


@api.get("/machines/{slug}/proofs/latest", response={200: schemas.ProofOut | None, 404: schemas.FaultsOut})
def newest_proof(request: HttpRequest, slug: str, brought: bool = False) -> Answer | None:
    proof = latest_proof(_machine(slug), brought)
    return _proof(proof) if proof else None


@api.post("/machines/{slug}/proofs/{number}/cancel", response=PROOF)
def cancel_proof(request: HttpRequest, slug: str, number: int) -> Answer:
    proof = CancelProof(_user(request), _machine(slug), number).run()
    proving.cancel(proof)
    return _proof(proof)


TAKEN: dict[Any, Any] = {code: schemas.FaultsOut for code in (403, 404, 409, 422)}


@api.put("/machines/{slug}/agent", response={200: schemas.MachineOut, **TAKEN})
def set_agent(request: HttpRequest, slug: str, body: schemas.AgentIn) -> Answer:
    """Read the machine from this agent; an empty address: from the practice machine."""
    return _machine_json(SetAgent(_user(request), _machine(slug), body.address.strip(), body.device.strip()).run())


@api.post("/machines/{slug}/practice", response={200: schemas.PracticeIn, **TAKEN})
def build_practice(request: HttpRequest, slug: str, body: schemas.PracticeIn) -> Answer:
    """Build the practice machine anew from the newest Setup."""
    return {"seed": BuildPractice(_user(request), _machine(slug), body.seed).run()}


@api.post("/profile-sample", response=schemas.ProfileAnswerOut)
def profile_sample(request: HttpRequest, body: schemas.ProfileIn) -> Answer:
    """A sample program in a control profile, and whether it reads back as what was meant; nothing is stored."""
    return profile_answer(body.profile)


@api.get("/profiles", response=list[ControlProfile])
def profiles(request: HttpRequest) -> list[ControlProfile]:
    """The control profiles that come with Orthotrope."""
    return list(shipped_profiles().values())


@api.post("/offers", response={200: schemas.OfferOut, 422: schemas.FaultsOut})
def make_offer(request: HttpRequest, body: schemas.OfferIn) -> Answer:
    """Which number of the machine would go into a quantity; nothing is stored."""
    setup = read_setup(body.document)
    nothing = {"axis": None, "raw": None, "value": None, "step": None, "edit_at": "", "edit": None}
    try:
        to = {str(axis): value for axis, value in targets(setup, body.quantity).items()}
        if body.position is None or len(body.position) != 3:
            return {**nothing, "says": "", "targets": to}
        x, y, z = body.position
        found = offer(setup, body.quantity, (x, y, z), body.tool)
    except InputError as bad:
        return {**nothing, "says": bad.faults[0].what, "targets": {}}
    return {"axis": found.axis, "raw": found.raw, "value": found.value, "step": found.step, "says": found.says,
            "edit_at": found.edit_at, "edit": found.edit, "targets": to}  # fmt: skip


def _standing(slug: str) -> Standing | None:
    link = link_of(slug)
    if link is None or not link.heard_once:
        return None
    state = link.frozen()
    return Standing(state.vector(), state.tool, state.offset, state.dials, link.age < SLOW)


@api.post("/machines/{slug}/readings", response={200: schemas.TakenOut, **TAKEN})
def take_reading(request: HttpRequest, slug: str, body: schemas.ReadingIn) -> Answer:
    found = _machine(slug)
    seen = (body.seen[0], body.seen[1], body.seen[2]) if body.seen and len(body.seen) == 3 else None
    action = TakeReading(_user(request), found, body.quantity, body.source, _standing(slug), seen, body.value, body.came)
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
    if len(body.seen) != 3:
        raise InputError.at("/seen", "`seen` must be X, Y and Z.")
    found = _machine(slug)
    seen = (body.seen[0], body.seen[1], body.seen[2])
    action = TeachPocket(_user(request), found, body.pocket, seen, body.with_height, _standing(slug))
    kept = action.run()
    listed = [_reading_json(reading, found.head.document) for reading in kept]
    return {"readings": listed, "edit_at": "/changer/rack/taught", "edit": action.taught}


@api.post("/savings", response={200: list[schemas.SavingOut], 422: schemas.FaultsOut})
def time_savings(request: HttpRequest, body: schemas.PairIn) -> list[Answer]:
    """What would save most time in an exchange, each change tried; nothing is stored."""
    found = savings(read_setup(body.document), body.from_tool, body.to_tool)
    return [{"says": saving.says, "where": saving.where, "seconds": saving.seconds} for saving in found]


@api.get("/threads", response=list[Thread])
def threads(request: HttpRequest) -> Any:
    """The standard threads of collet nuts that come with Orthotrope."""
    return shipped_threads()


@api.post("/layout", response={200: list[schemas.LayerOut], 422: schemas.FaultsOut})
def layout(request: HttpRequest, body: schemas.LayoutIn) -> list[Answer]:
    """The circles and points of a drawing, by layer, in every order that pockets may be numbered in; nothing is stored."""
    layers: dict[str, list[Mark]] = {}
    for mark in read_layout(body.text.encode(), body.unit):
        layers.setdefault(mark.layer, []).append(mark)
    return [{"name": name, "marks": [{"x": m.x, "y": m.y, "diameter": m.diameter} for m in marks],
             "orders": {order: [marks.index(mark) for mark in ordered(marks, order)] for order in ORDERS}}
            for name, marks in layers.items()]  # fmt: skip


@api.post("/settling", response={200: schemas.SettlingOut, 422: schemas.FaultsOut})
def settling_sheet(request: HttpRequest, body: schemas.PairIn) -> Answer:
    """What may be where after this exchange was stopped, block by block, and how the record is set; nothing is stored."""
    setup = read_setup(body.document)
    rows = [stretch.as_json() for stretch in settling(setup, body.from_tool, body.to_tool)]
    return {"stretches": rows, **record_words(setup)}


@api.post("/approach", response={200: list[schemas.ApproachOut], 422: schemas.FaultsOut})
def approach_texts(request: HttpRequest, body: schemas.ApproachIn) -> list[Answer]:
    """The programs of a pocket's first approach, in the Setup's control profile; nothing is stored."""
    setup = read_setup(body.document)
    return [{"name": made.title, "text": write(made, setup.profile)} for made in approach(setup, body.pocket)]


MOST_READINGS = 500


@api.get("/machines/{slug}/readings", response={200: list[schemas.ReadingOut], 404: schemas.FaultsOut})
def readings(request: HttpRequest, slug: str) -> list[Answer]:
    """The readings of a machine, the newest first."""
    found = _machine(slug)
    document = found.head.document
    newest = found.readings.select_related("author").order_by("-pk")[:MOST_READINGS]
    return [_reading_json(reading, document) for reading in newest]


def _reading_json(reading: Reading, document: Any) -> Answer:
    details = reading.details
    return {"id": reading.pk, "quantity": reading.quantity, "pointer": unkeyed(document, reading.quantity),
            "source": reading.source, "value": reading.value, "raw": reading.raw, "step": reading.step,
            "position": reading.position, "work_offset": reading.work_offset, "tool": reading.tool,
            "tool_length": reading.tool_length, "says": details.get("says", ""), "came": details.get("came"),
            "difference": details.get("difference"), "agrees": details.get("agrees"), "slip": details.get("slip", ""),
            "author": reading.author.get_username(), "taken": reading.taken}  # fmt: skip


@api.post("/machines/{slug}/inputs/{number}/tests", response={200: schemas.MachineOut, **TAKEN})
def keep_input_test(request: HttpRequest, slug: str, number: int, body: schemas.InputTestIn) -> Answer:
    found = _machine(slug)
    edges = [edge.dict() for edge in body.edges]
    KeepInputTest(_user(request), found, number, list(body.seen), edges, body.by_hand).run()
    return _machine_json(found)


@api.post("/machines/{slug}/pockets/arrange", response={200: schemas.MachineOut, **TAKEN})
def arrange_pockets(request: HttpRequest, slug: str, body: schemas.ArrangeIn) -> Answer:
    """Fill in order, empty all, or number the tools by their pockets; a lead's."""
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
    return _file(as_csv(read_setup(_machine(slug).head.document)), "text/csv; charset=utf-8", f"{slug}-pockets.csv")


@api.get("/machines/{slug}/pockets.xlsx", response=str)
def pocket_table_xlsx(request: HttpRequest, slug: str) -> HttpResponse:
    """The pocket table as a workbook."""
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return _file(as_xlsx(read_setup(_machine(slug).head.document)), kind, f"{slug}-pockets.xlsx")


@api.post(
    "/machines/{slug}/pockets/preview", response={200: schemas.TablePreviewOut, 404: schemas.FaultsOut, 422: schemas.FaultsOut}
)
def preview_pocket_table(request: HttpRequest, slug: str) -> Answer:
    """What a table (CSV or XLSX, the body is the file) would change; nothing is stored."""
    rows, tools = preview_table(read_setup(_machine(slug).head.document), request.body)
    return {"rows": [{"row": r.row, "pocket": r.pocket, "tool": r.tool, "changes": r.changes, "wrong": r.wrong} for r in rows],
            "tools": tools}  # fmt: skip


@api.get("/machines/{slug}/mounting.dxf", response={200: str, 404: schemas.FaultsOut, 422: schemas.FaultsOut})
def mounting(request: HttpRequest, slug: str, unit: Literal["mm", "inch"] = "mm",
             frame: Literal["machine", "rack"] = "rack") -> HttpResponse:  # fmt: skip
    """The rack's mounting pattern as DXF, in millimetres or inches, in the rack's own frame or the machine's."""
    text = mounting_pattern(read_setup(_machine(slug).head.document), unit, frame)
    return _file(text, "application/dxf", f"{slug}-mounting-{unit}.dxf")
