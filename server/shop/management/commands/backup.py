"""Write a consistent copy of the database into one file, while the server runs: manage.py backup FILE."""

import sqlite3
from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from shop.models import AuditEntry, Review
from shop.storage import copied, sound, synced


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
            copied(settings.DATABASE, part)
            sound(part)
            part.replace(file)
            synced(file)
        except (OSError, sqlite3.Error) as failed:
            part.unlink(missing_ok=True)
            raise CommandError(f"No backup was written: {failed}") from None
        AuditEntry.objects.create(action="backup", details={"file": file.name})
        self.stdout.write(f"{file}: {file.stat().st_size / 1e6:.1f} MB, checked")
        if texts := Review.objects.exclude(digest="").count():
            self.stdout.write(
                f"The texts of {texts} reviewed programs are not in it; copy the folder {settings.DATA / 'reviews'} to keep them."
            )
