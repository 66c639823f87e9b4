"""Put a backup in the database's place, while no server runs: manage.py restore FILE. What was there is kept beside
it."""

import shutil
from argparse import ArgumentParser
from datetime import datetime
from pathlib import Path
from typing import Any

from config.single import Taken, taken
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connections

from shop.management.commands.backup import sound


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
        try:
            lock = taken(settings.DATA, seconds=0.0)
        except Taken as running:
            raise CommandError(f"{running} Stop the server first.") from None
        with lock:
            connections.close_all()
            self._put(file)
            call_command("migrate", verbosity=0)
        sound(settings.DATABASE)
        self.stdout.write(f"{file} is in place, checked")

    def _put(self, file: Path) -> None:
        database: Path = settings.DATABASE
        new = database.with_name(database.name + ".restored")
        shutil.copyfile(file, new)
        new.chmod(0o600)
        stamp = datetime.now().strftime("%Y%m%d-%H%M%S")
        for end in ("-wal", "-shm", ""):
            part = database.with_name(database.name + end)
            if part.exists():
                part.rename(database.with_name(f"{database.name}{end}.before-{stamp}"))
        new.replace(database)
        self.stdout.write(f"what was there: {database.name}.before-{stamp}")
