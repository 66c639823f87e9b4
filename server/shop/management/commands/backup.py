"""Write a consistent copy of the database into one file, while the server runs: manage.py backup FILE."""

import os
import sqlite3
from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        file: Path = options["file"]
        if file.exists():
            raise CommandError(f"{file} is there already; name another file.")
        part = file.with_name(file.name + ".part")
        try:
            os.close(os.open(part, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600))
            with sqlite3.connect(settings.DATABASE, timeout=30) as source, sqlite3.connect(part) as copy:
                source.backup(copy)  # whole transactions only, those of the write-ahead log among them
                copy.execute("PRAGMA journal_mode=DELETE")
            copy.close()
            source.close()
            sound(part)
            part.replace(file)
        except (OSError, sqlite3.Error) as failed:
            part.unlink(missing_ok=True)
            raise CommandError(f"No backup was written: {failed}") from None
        self.stdout.write(f"{file}: {file.stat().st_size / 1e6:.1f} MB, checked")


def sound(file: Path) -> None:
    """Check that a file is a whole database of this application.

    Raises:
        CommandError: what is wrong with it.
    """
    try:
        with sqlite3.connect(f"file:{file}?mode=ro", uri=True) as database:
            found = database.execute("PRAGMA integrity_check").fetchall()
            broken = database.execute("PRAGMA foreign_key_check").fetchall()
            machines = database.execute("SELECT count(*) FROM shop_machine").fetchone()
        database.close()
    except sqlite3.Error as failed:
        raise CommandError(f"{file} is no database of Orthotrope, or it is damaged: {failed}") from None
    if found != [("ok",)] or broken or machines is None:
        raise CommandError(f"{file} is damaged: {(found + broken)[:3]}")
