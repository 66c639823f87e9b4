"""Put a backup in the database's place, while no server runs: manage.py restore FILE. What was there is kept beside
it."""

import shutil
import sqlite3
from argparse import ArgumentParser
from collections.abc import Iterator
from contextlib import closing, contextmanager, suppress
from datetime import datetime
from pathlib import Path
from typing import Any

from config.single import Taken, taken
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connections

from shop.models import AuditEntry
from shop.storage import beside, copied, of_later_version, sound, synced


class Command(BaseCommand):
    help = __doc__
    requires_system_checks = []

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        file: Path = options["file"]
        if not file.exists():
            raise CommandError(f"There is no file {file}.")
        sound(file)
        if later := of_later_version(file):
            raise CommandError(
                f"{file} was written by a later version of Orthotrope ({later[-1]}). Install that version, then restore it; "
                "nothing was changed."
            )
        try:
            lock = taken(settings.DATA, seconds=0.0)
        except Taken as running:
            raise CommandError(f"{running} Stop the server first.") from None
        with lock:
            connections.close_all()
            new = self._made_ready(file)
            self._set_aside()
            self._put(new)
        sound(settings.DATABASE)
        AuditEntry.objects.create(action="restore", details={"file": file.name})
        self.stdout.write(f"{file} is in place, checked")

    def _made_ready(self, file: Path) -> Path:
        """A copy in the present version; only what came out well is put in place.

        Raises:
            CommandError: where it can't be copied or migrated; nothing was changed then.
        """
        new: Path = settings.DATABASE.with_name(settings.DATABASE.name + ".restored")
        for path in (new, *beside(new)):
            path.unlink(missing_ok=True)  # of a restore that was interrupted
        try:
            copied(file, new)
            with _as_database(new):
                call_command("migrate", verbosity=0)
            sound(new)
            with closing(sqlite3.connect(new)) as database:
                database.execute("PRAGMA journal_mode=DELETE")
            synced(new)
        except Exception as failed:
            for path in (new, *beside(new)):
                path.unlink(missing_ok=True)
            raise CommandError(
                f"{file} could not be migrated to this version: {failed}. Nothing was changed."
            ) from failed
        return new

    def _set_aside(self) -> None:
        """Keep what is there, with all that was acknowledged: what a killed server left in the log belongs to it."""
        database: Path = settings.DATABASE
        aside = database.with_name(f"{database.name}.before-{datetime.now():%Y%m%d-%H%M%S-%f}")
        try:
            copied(database, aside)
        except sqlite3.Error:  # it is damaged: its files are kept as they are, under names that belong together
            for end in ("", "-wal", "-shm"):
                part = database.with_name(database.name + end)
                if part.exists():
                    shutil.copyfile(part, aside.with_name(aside.name + end))
                    synced(aside.with_name(aside.name + end))
        self.stdout.write(f"what was there: {aside.name}")

    def _put(self, new: Path) -> None:
        """In one step. The log of the database that goes is empty by then: what is left of one would be taken for the new one's, and
        until that step the old one is whole without it."""
        database: Path = settings.DATABASE
        with suppress(sqlite3.Error), closing(sqlite3.connect(database, timeout=30)) as old:
            old.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        for path in beside(database):
            path.unlink(missing_ok=True)
        new.replace(database)
        synced(database)


@contextmanager
def _as_database(file: Path) -> Iterator[None]:
    """Django works on this file meanwhile."""
    entry = connections.databases["default"]
    before = entry["NAME"]
    connections.close_all()
    entry["NAME"] = connections["default"].settings_dict["NAME"] = file
    try:
        yield
    finally:
        connections.close_all()
        entry["NAME"] = connections["default"].settings_dict["NAME"] = before
