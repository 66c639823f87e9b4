"""The database file: whether it is whole and of this version, copied with all that was acknowledged, and put in place."""

import os
import sqlite3
from contextlib import closing
from pathlib import Path

from django.core.management.base import CommandError
from django.db.migrations.loader import MigrationLoader


def sound(file: Path) -> None:
    """Check that a file is a whole database of this application.

    Raises:
        CommandError: what is wrong with it.
    """
    try:
        with closing(sqlite3.connect(f"file:{file}?mode=rw", uri=True)) as database:
            found = database.execute("PRAGMA integrity_check").fetchall()
            broken = database.execute("PRAGMA foreign_key_check").fetchall()
            machines = database.execute("SELECT count(*) FROM shop_machine").fetchone()
    except sqlite3.Error as failed:
        raise CommandError(f"{file} is no database of Orthotrope, or it is damaged: {failed}") from None
    if found != [("ok",)] or broken or machines is None:
        raise CommandError(f"{file} is damaged: {(found + broken)[:3]}")


def applied(file: Path) -> set[tuple[str, str]]:
    """The migrations that a database has had; none where it has no tables."""
    with closing(sqlite3.connect(f"file:{file}?mode=rw", uri=True)) as database:
        if not database.execute("SELECT 1 FROM sqlite_master WHERE name = 'django_migrations'").fetchone():
            return set()
        return {(app, name) for app, name in database.execute("SELECT app, name FROM django_migrations")}


def of_later_version(file: Path) -> list[str]:
    """The migrations of a database that this version of the program does not know."""
    known = set(MigrationLoader(None).disk_migrations)
    apps = {app for app, _ in known}
    return sorted(name for app, name in applied(file) - known if app in apps)


def to_be_migrated(file: Path) -> list[str]:
    """The migrations that a database has not had yet."""
    known = set(MigrationLoader(None).disk_migrations)
    return sorted(name for _, name in known - applied(file))


def copied(source: Path, to: Path) -> None:
    """Copy a database while others may write to it: whole transactions only, those of the write-ahead log among them. It is on
    the disk when this returns.

    Raises:
        sqlite3.Error, OSError: nothing is left of the copy then.
    """
    try:
        os.close(os.open(to, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600))
        source_there = sqlite3.connect(f"file:{source}?mode=rw", timeout=30, uri=True)
        with closing(source_there) as database, closing(sqlite3.connect(to)) as copy:
            database.backup(copy)
            copy.execute("PRAGMA journal_mode=DELETE")
        synced(to)
    except (OSError, sqlite3.Error):
        to.unlink(missing_ok=True)
        raise


def synced(path: Path) -> None:
    """A file, and its name in its folder, are on the disk."""
    for each in (path, path.parent):
        number = os.open(each, os.O_RDONLY)
        try:
            os.fsync(number)
        finally:
            os.close(number)


def beside(file: Path) -> list[Path]:
    """The files that SQLite keeps beside a database while it is open."""
    return [file.with_name(file.name + end) for end in ("-wal", "-shm")]
