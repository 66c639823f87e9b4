"""Actions, proofs in the background, the commands, and what the database promises."""

import importlib
import io
import json
import threading
import time
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import replace
from datetime import datetime
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.core.management import CommandError, call_command
from django.db import OperationalError, connection
from django.test import Client
from orthotrope.calc.derived import derive
from orthotrope.errors import InputError
from orthotrope.proof.conflicts import conflicts
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.planned import with_planned
from orthotrope.setup.templates import bare_setup
from requests_to import DOCUMENT, changed
from shop.action import NotAllowed
from shop.machines import shop
from shop.machines.actions import CreateMachine, EditConflict, RestoreRevision, SaveSetup
from shop.models import AuditEntry, Machine, Proof, Revision
from shop.proofs import running
from shop.proofs.actions import StartProof
from shop.proofs.answers import causes
from shop.proofs.summary import ProofSummary
from shop.roles import make_account, may_change, role_of
from shop.stages.jobs import answer
from shop.stages.registry import Evidence, StageMark, StageRequest, marks


def technician() -> User:
    return make_account("technician", "technician", "a-long-password")


def test_the_database_is_in_wal_with_full_sync(db: None) -> None:
    with connection.cursor() as cursor:
        found = [
            cursor.execute(f"PRAGMA {name}").fetchone()[0] for name in ("journal_mode", "synchronous", "foreign_keys")
        ]
    assert found[1:] == [2, 1] and found[0] in ("wal", "memory")


def test_roles_and_their_denial(db: None) -> None:
    viewer = make_account("somebody", "viewer", "a-long-password")
    assert role_of(viewer) == "viewer" and not may_change(viewer)
    assert "Sign in as a technician" in may_change(viewer).reason  # type: ignore[union-attr]
    assert role_of(make_account("somebody", "supervisor", "a-long-password")) == "supervisor"
    with pytest.raises(NotAllowed):
        CreateMachine(make_account("other", "viewer", "a-long-password"), DOCUMENT).run()
    assert not Machine.objects.exists() and not AuditEntry.objects.filter(machine__isnull=False).exists()


def test_each_action_leaves_an_audit_entry_with_its_figures(heron: Machine) -> None:
    user = technician()
    SaveSetup(user, heron, 1, DOCUMENT, changed(DOCUMENT, changer__rack__pitch=58.6)).run()
    RestoreRevision(user, heron, 1).run()
    StartProof(user, heron).run()
    mine = AuditEntry.objects.filter(machine=heron).order_by("pk")
    entries = list(mine.values_list("action", "user__username", "details"))
    assert [(action, who) for action, who, _ in entries] == [
        ("create machine", "supervisor"),
        ("save setup", "technician"),
        ("restore revision", "technician"),
        ("start proof", "technician"),
    ]
    assert entries[1][2]["changes"] == [{"where": "/changer/rack/pitch", "before": 58.5, "after": 58.6, "unit": "mm"}]


def test_a_refused_action_changes_nothing(heron: Machine) -> None:
    user = technician()
    SaveSetup(user, heron, 1, DOCUMENT, changed(DOCUMENT, changer__rack__pitch=58.6)).run()
    mine = AuditEntry.objects.filter(machine=heron)
    before = (Revision.objects.count(), mine.count(), heron.head.document)
    with pytest.raises(EditConflict, match="technician has changed the same value"):
        SaveSetup(technician(), heron, 1, DOCUMENT, changed(DOCUMENT, changer__rack__pitch=58.7)).run()
    with pytest.raises(InputError):
        SaveSetup(user, heron, 1, DOCUMENT, changed(DOCUMENT, changer__rack__pitch=-1)).run()
    assert (Revision.objects.count(), mine.count(), heron.head.document) == before


def test_a_merge_that_would_contradict_the_documents_rules_is_refused(heron: Machine) -> None:
    """Each edit is fine by itself; together two tools have one number."""
    mine = changed(DOCUMENT, tools__0__number=50)
    theirs = changed(DOCUMENT, tools__1__number=50)
    SaveSetup(technician(), heron, 1, DOCUMENT, theirs).run()
    with pytest.raises((InputError, EditConflict)):
        SaveSetup(make_account("supervisor", "supervisor", "a-long-password"), heron, 1, DOCUMENT, mine).run()


def test_machines_of_one_name_have_addresses_of_their_own(heron: Machine) -> None:
    again = [CreateMachine(technician(), DOCUMENT).run().slug for _ in range(2)]
    assert again == ["heron-2", "heron-3"]
    assert CreateMachine(technician(), changed(DOCUMENT, machine__name="!!!")).run().slug == "machine"


@pytest.mark.django_db(transaction=True)
def test_saves_at_the_same_time_are_all_there(heron: Machine) -> None:
    """Eight people change eight values at once, from one document: nothing acknowledged is lost."""
    clients = []
    for number in range(8):
        client = Client()
        client.force_login(make_account(f"person-{number}", "technician", "a-long-password"))
        clients.append(client)
    lengths = [tool["length"] + 1 for tool in DOCUMENT["tools"]]

    def save(number: int) -> int:
        body = {
            "base_revision": 1,
            "base": DOCUMENT,
            "document": changed(DOCUMENT, **{f"tools__{number}__length": lengths[number]}),
        }
        try:
            return (
                clients[number]
                .put("/api/machines/heron", json.dumps(body), content_type="application/json")
                .status_code
            )
        finally:
            connection.close()

    with ThreadPoolExecutor(8) as people:
        assert list(people.map(save, range(8))) == [200] * 8
    assert [tool["length"] for tool in heron.head.document["tools"]] == lengths
    assert sorted(Revision.objects.values_list("number", flat=True)) == list(range(1, heron.head.number + 1))


class HeldPool:
    """A pool whose work waits until it is let go, so that a proof can be looked at while it runs."""

    def __init__(self) -> None:
        self.go = threading.Event()
        self.inner = ThreadPoolExecutor(2)

    def submit(self, function: Any, *arguments: Any) -> Future[Any]:
        def waiting() -> Any:
            self.go.wait(10)
            return function(*arguments)

        return self.inner.submit(waiting)


def finished(proof: Proof) -> Proof:
    for _ in range(200):
        proof.refresh_from_db()
        if proof.state != Proof.State.RUNNING:
            return proof
        time.sleep(0.05)
    raise AssertionError("the proof runs on and on")


@pytest.mark.django_db(transaction=True)
def test_a_running_proof_can_be_stopped(heron: Machine, monkeypatch: pytest.MonkeyPatch) -> None:
    held = HeldPool()
    monkeypatch.setattr(running, "executor", lambda: held)
    proof = StartProof(technician(), heron).run()
    running.start(proof)
    assert running.is_running(proof)
    running.cancel(proof)
    held.go.set()
    assert finished(proof).state == "cancelled" and proof.done < proof.total and proof.finished is not None
    for _ in range(40):
        if not running.is_running(proof):
            break
        time.sleep(0.05)
    assert not running.is_running(proof)


@pytest.mark.django_db(transaction=True)
def test_a_proof_that_fails_says_why(heron: Machine, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken() -> Any:
        raise OSError("no more processes")

    monkeypatch.setattr(running, "executor", broken)
    proof = StartProof(technician(), heron).run()
    running.start(proof)
    assert finished(proof).state == "failed" and "no more processes" in proof.error


@pytest.mark.django_db(transaction=True)
def test_results_are_in_the_order_of_the_pairs_whatever_order_they_come_in(
    heron: Machine, monkeypatch: pytest.MonkeyPatch
) -> None:
    class Backwards(HeldPool):
        def submit(self, function: Any, *arguments: Any) -> Future[Any]:
            def late() -> Any:
                time.sleep(0.3 - arguments[1][0].get("from_tool", 9) / 30 if isinstance(arguments[1], list) else 0.0)
                return function(*arguments)

            return self.inner.submit(late)

    monkeypatch.setattr(running, "executor", Backwards)
    proof = StartProof(technician(), heron).run()
    running.start(proof)
    results = finished(proof).results
    tools = [0, *(tool["number"] for tool in DOCUMENT["tools"])]
    exchanges = [{"from_tool": a, "to_tool": b} for a in tools for b in tools if a != b]
    measured = [{"name": "measure", "tools": [tool], "setter": None} for tool in tools[1:]]
    of = [{name: value for name, value in r["sequence"].items() if name != "kind"} for r in results]
    others = [{"name": name, "tools": [5], "setter": None} for name in ("breakage", "calibrate", "renew", "unknown")]
    assert (
        of[:-2] == [*exchanges, *measured, *others] and [r["sequence"]["kind"] for r in results[-2:]] == ["routine"] * 2
    )


def test_causes_are_gathered_worst_and_widest_first() -> None:
    def finding(check: str, severity: str, quantity: str | None) -> dict[str, Any]:
        reported = {"check": check, "severity": severity, "quantity": quantity, "message": check}
        return {**reported, "line": None, "at_seconds": None, "position": None, "fix": None}

    def exchange(one: int, other: int) -> dict[str, Any]:
        return {"kind": "exchange", "from_tool": one, "to_tool": other}

    low, lift = finding("low-lateral", "stop", "/a"), finding("nut-lift", "warn", "/b")
    contact = finding("body-contact", "stop", "/a")
    results = [
        {"sequence": exchange(1, 2), "unreached": None, "findings": [lift, low, low]},
        {"sequence": exchange(2, 1), "unreached": None, "findings": [lift, low, contact]},
        {"sequence": exchange(3, 1), "unreached": None, "findings": [lift]},
    ]
    got = [(cause.finding.check, len(cause.sequences)) for cause in causes(results)]
    assert got == [("low-lateral", 2), ("body-contact", 1), ("nut-lift", 3)]


def marks_of(setup: Setup, proof: ProofSummary | None) -> list[StageMark]:
    return marks(Evidence(setup, proof, [], list(conflicts(setup, derive(setup)))))


def test_marks_of_the_stages() -> None:
    bare = bare_setup("Wren")
    assert [s.mark for s in marks_of(bare, None)] == [
        "filled",
        *["open"] * 7,
    ]
    full = read_setup(DOCUMENT)
    assert [s.mark for s in marks_of(full, None)] == [
        *["filled"] * 7,
        "open",
    ]
    nothing: dict[str, Any] = {
        "warn": 0,
        "undetectable": 0,
        "file": "",
        "error": "",
        "changed_by": "",
        "changed_at": None,
        "place": 0,
    }
    proof = ProofSummary(
        id=1,
        state="done",
        done=72,
        total=72,
        stop=0,
        cases=700,
        unsafe=0,
        revision=1,
        author="a",
        started=datetime.now(),
        stale=False,
        stale_sequences=0,
        changes=[],
        **nothing,
    )
    assert [s.mark for s in marks_of(full, proof)] == [
        "proven",
        "filled",
        *["proven"] * 6,
    ]
    planned = marks_of(read_setup(with_planned(DOCUMENT, ("tools", 2))), proof)
    assert [s.mark for s in planned] == ["proven", "filled", "proven", "proven", "filled", *["proven"] * 3]
    assert "/tools/3/length" in planned[4].planned
    assert planned[4].why == f"Proven as planned. {len(planned[4].planned)} numbers are not entered yet."
    assert [s.mark for s in marks_of(full, replace(proof, stop=3))] == ["filled"] * 7 + ["failing"]
    assert [s.mark for s in marks_of(full, replace(proof, stale=True))] == [
        "stale",
        "filled",
        *["stale"] * 6,
    ]
    odd = read_setup(changed(DOCUMENT, changer__rack__pitch=20.0))
    changer = marks_of(odd, proof)[2]
    assert changer.mark == "failing" and "overlap" in changer.why


def test_an_exchange_that_is_no_longer_there_falls_back_to_one_that_is() -> None:
    setup, unprobed = read_setup(DOCUMENT), {**DOCUMENT, "probes": [], "routines": []}
    assert answer(setup.as_json(), asked=StageRequest(77, 2)).exchange.from_tool == 1
    assert answer(setup.as_json(), asked=StageRequest(2, 2)).exchange is None
    assert answer({**unprobed, "tools": DOCUMENT["tools"][:1]}).exchange.to_tool == 0
    assert answer({**unprobed, "tools": []}).exchange is None


@pytest.mark.django_db
def test_the_demo_is_filled_once_and_what_was_changed_stays() -> None:
    call_command("demo", verbosity=0)
    assert not any(user.has_usable_password() for user in User.objects.all())
    machine = Machine.objects.get(slug="heron")
    SaveSetup(
        User.objects.get(username="technician"), machine, 1, DOCUMENT, changed(DOCUMENT, changer__rack__pitch=58.6)
    ).run()
    call_command("demo", verbosity=0)
    assert Machine.objects.count() == 7 and machine.head.document["changer"]["rack"]["pitch"] == 58.6
    assert {user.username: role_of(user) for user in User.objects.all()} == {
        r: r for r in ("viewer", "technician", "supervisor")
    }


@pytest.mark.django_db
def test_an_account_is_made_with_its_password(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("sys.stdin", io.StringIO("quite-a-long-one\n"))
    call_command("account", "Ada", "supervisor")
    ada = User.objects.get(username="Ada")
    assert ada.check_password("quite-a-long-one") and role_of(ada) == "supervisor"
    for weak in ("", "lantern", "password1", "12345678901", "Adalovelace"):
        monkeypatch.setattr("sys.stdin", io.StringIO(f"{weak}\n"))
        with pytest.raises(CommandError):
            call_command("account", "Adalovelac", "supervisor")
    assert not User.objects.filter(username="Adalovelac").exists()


def test_a_reading_of_a_setter_goes_to_where_the_setter_has_gone() -> None:
    moved = importlib.import_module("shop.migrations.0005_setters").moved
    old = json.loads((Path(__file__).parents[2] / "core" / "tests" / "setups" / "version-2-setters.json").read_text())
    assert moved(old, "/changer/reserved/7/top_z") == "/setters/setter/plane_z"
    assert moved(old, "/bodies/second setter/x") == "/setters/second setter/x"
    for stays in ("/changer/reserved/10/top_z", "/bodies/clamping jig/top_z", "/tools/3/length"):
        assert moved(old, stays) == stays


@pytest.mark.django_db(transaction=True)
def test_the_shop_is_kept_until_what_it_rests_on_changes(heron: Machine, monkeypatch: pytest.MonkeyPatch) -> None:
    """Twelve machines: a few at a time are worked out while someone waits; after that none is, until one changes."""
    user = technician()
    for number in range(11):
        CreateMachine(user, changed(DOCUMENT, machine__name=f"Tern {number}")).run()
    worked = []
    real = shop.card_of
    monkeypatch.setattr(shop, "card_of", lambda head, proof: worked.append(head.machine.slug) or real(head, proof))
    monkeypatch.setattr(shop.threading, "Thread", lambda target, **_: Now(target))
    first = shop.shop_entries()
    assert sum(entry.pending for entry in first) == 12 - shop.AT_ONCE
    assert not any(entry.pending for entry in shop.shop_entries()) and len(worked) == 12
    SaveSetup(user, heron, 1, DOCUMENT, changed(DOCUMENT, machine__description="moved")).run()
    entry = next(entry for entry in shop.shop_entries() if entry.slug == "heron")
    assert (entry.description, entry.revision, worked[12:]) == ("moved", 2, ["heron"])
    assert entry.missing.split(":")[0] == "Proof" and entry.stages["Proof"] == "open"
    proof = StartProof(user, heron).run()
    Proof.objects.filter(pk=proof.pk).update(state="cancelled")
    shop.shop_entries()
    assert worked[13:] == ["heron"]

    def full(**_: Any) -> None:
        raise OperationalError("database or disk is full")

    monkeypatch.setattr(shop.ShopCard.objects, "update_or_create", full)  # what can't be kept is shown all the same
    SaveSetup(
        user, heron, 2, changed(DOCUMENT, machine__description="moved"), changed(DOCUMENT, machine__description="full")
    ).run()
    assert next(entry for entry in shop.shop_entries() if entry.slug == "heron").description == "full"


class Now:
    """A thread that is done at once."""

    def __init__(self, target: Any):
        self.start = target
