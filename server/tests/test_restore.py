"""Restoring and migrating: nothing that was acknowledged is lost, and only what came out well is put in place."""

import os
import shutil
import socket
import sqlite3
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest
from django.conf import settings

Manage = Callable[..., subprocess.CompletedProcess[str]]
DATABASES = Path(__file__).parent / "databases"

READ = """
from django.test import Client
from django.contrib.auth.models import User
from shop.models import Machine
client = Client(HTTP_HOST="localhost")
user = User.objects.first()
user.set_password("a-long-password")
user.save()
client.force_login(user, backend="shop.roles.Accounts")
for machine in Machine.objects.all():
    base = f"/api/machines/{machine.slug}"
    below = [f"/revisions/{n.number}" for n in machine.revisions.all()]
    below += [f"/reviews/{r.pk}" for r in machine.reviews.all()]
    for end in ("", "/revisions", "/readings", "/reviews", "/rooms/latest", "/proofs/latest", "/file", "/routines/results?routine=corner of the sheet", *below):
        print(end, client.get(base + end).status_code)
from shop.models import Proof, RoomSearch
from shop.roles import role_of
words = {fault["verdict"] for proof in Proof.objects.all() for result in proof.results for fault in result["faults"]}
assert words and words <= {"safe", "undetectable"}, words
for proof in Proof.objects.all():
    reported = client.get(f"/api/machines/{proof.machine.slug}/proofs/latest").json()
    print("kinds", *sorted({entry["sequence"]["kind"] for entry in reported["sequences"]}))
for search in RoomSearch.objects.all():
    rooms = client.get(f"/api/machines/{search.machine.slug}/rooms/latest").json()["rooms"]
    print("limits", *sorted({room["room"]["less"]["sequence"]["kind"] for room in rooms if room["room"]["less"]["fails"]}))
assert role_of(user) == "supervisor" and user.username == "supervisor"
print("/machines", client.get("/api/machines").status_code)
"""


@pytest.fixture
def manage(tmp_path: Path) -> Manage:
    environment = {**os.environ, "ORTHOTROPE_DATA": str(tmp_path / "data"), "DJANGO_SETTINGS_MODULE": "config.settings"}

    def run(*command: str) -> subprocess.CompletedProcess[str]:
        line = [sys.executable, str(settings.ROOT / "server" / "manage.py"), *command]
        return subprocess.run(line, env=environment, capture_output=True, text=True, timeout=120)

    return run


def made(file: Path, name: str) -> Path:
    """A database of an earlier version, with every kind of content that it had."""
    database = sqlite3.connect(file)
    database.executescript((DATABASES / name).read_text())
    database.close()
    return file


def rows(database: Path, table: str) -> list[str]:
    found = sqlite3.connect(database)
    try:
        return [slug for (slug,) in found.execute(f"SELECT slug FROM {table} ORDER BY id")]
    finally:
        found.close()


VERSIONS = sorted(path.name for path in DATABASES.glob("*.sql"))
BETWEEN = [pytest.param(name, marks=pytest.mark.thorough) for name in VERSIONS[1:-1]]


@pytest.mark.parametrize("name", [VERSIONS[0], *BETWEEN, VERSIONS[-1]])
def test_a_database_of_each_version_is_migrated_and_can_be_read(name: str, tmp_path: Path, manage: Manage) -> None:
    restored = manage("restore", str(made(tmp_path / "old.sqlite3", name)))
    assert restored.returncode == 0, restored.stderr
    read = manage("shell", "-v0", "-c", READ)
    assert read.returncode == 0, read.stderr
    statuses = dict(line.rsplit(" ", 1) for line in read.stdout.splitlines() if line.startswith("/") or line[:1] == " ")
    said = [line for line in read.stdout.splitlines() if line.startswith(("kinds", "limits"))]
    assert name not in ("at-0010.sql", "at-0011.sql") or said == [
        "kinds exchange measuring routine",
        "limits exchange measuring routine",
    ], said
    assert len(statuses) >= 9 and set(statuses.values()) == {"200"}, statuses


def test_what_a_killed_server_had_acknowledged_is_set_aside_whole(tmp_path: Path, manage: Manage) -> None:
    """62 saves are in the log beside the database when the server is killed; a backup was made after 51."""
    assert manage("migrate", "-v0").returncode == 0
    data = tmp_path / "data"
    database = data / "orthotrope.sqlite3"
    live = sqlite3.connect(database, isolation_level=None)
    live.execute("PRAGMA journal_mode=WAL")
    live.execute("PRAGMA wal_autocheckpoint=0")
    for number in range(62):
        if number == 51:
            assert manage("backup", str(tmp_path / "kept.sqlite3")).returncode == 0
        live.execute(
            "INSERT INTO shop_machine (slug, created, agent, device) VALUES (?, '2026-01-01', '', '')", [f"m{number}"]
        )
    killed = tmp_path / "killed"
    shutil.copytree(data, killed)  # the files as a kill leaves them: most of it is in the log
    live.close()
    shutil.rmtree(data)
    shutil.copytree(killed, data)
    assert (data / "orthotrope.sqlite3-wal").stat().st_size > 0
    restored = manage("restore", str(tmp_path / "kept.sqlite3"))
    assert restored.returncode == 0, restored.stderr
    assert len(rows(database, "shop_machine")) == 51
    (aside,) = data.glob("*.before-*")
    assert rows(aside, "shop_machine") == [f"m{number}" for number in range(62)]
    assert manage("restore", str(aside)).returncode == 0  # and the restore is taken back
    assert len(rows(database, "shop_machine")) == 62


def test_a_restore_that_fails_changes_nothing(tmp_path: Path, manage: Manage) -> None:
    assert manage("migrate", "-v0").returncode == 0
    database = tmp_path / "data" / "orthotrope.sqlite3"
    before = database.read_bytes()
    later = made(tmp_path / "later.sqlite3", "at-0009.sql")
    with sqlite3.connect(later) as found:
        found.execute("INSERT INTO django_migrations (app, name, applied) VALUES ('shop', '0999_later', '2030-01-01')")
    found.close()
    refused = manage("restore", str(later))
    assert refused.returncode and "written by a later version of Orthotrope (0999_later)" in refused.stderr
    broken = made(tmp_path / "broken.sqlite3", "at-0003.sql")
    with sqlite3.connect(broken) as found:
        found.execute("UPDATE shop_proof SET results = '[{}]'")  # a migration can do nothing with it
    found.close()
    refused = manage("restore", str(broken))
    assert refused.returncode and "Nothing was changed" in refused.stderr
    assert database.read_bytes() == before
    assert sorted(path.name for path in database.parent.iterdir() if "sqlite3" in path.name) == [database.name]


def test_a_server_that_can_not_serve_says_what_to_do_at_once(tmp_path: Path, manage: Manage) -> None:
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        port = str(other.getsockname()[1])
        refused = manage("serve", "--port", port)
        assert refused.returncode and f"Port {port} of 127.0.0.1 can't be had" in refused.stderr
    free = socket.socket()
    free.bind(("127.0.0.1", 0))
    port = str(free.getsockname()[1])
    free.close()
    database = tmp_path / "data" / "orthotrope.sqlite3"
    assert "has no tables yet. Run: manage.py migrate" in manage("serve", "--port", port).stderr
    database.unlink()
    made(database, "at-0003.sql")
    assert "is of an earlier version. Run: manage.py migrate" in manage("serve", "--port", port).stderr
    database.write_bytes(b"not a database" * 500)
    assert "Restore a backup: manage.py restore FILE" in manage("serve", "--port", port).stderr
