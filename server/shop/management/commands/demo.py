"""Fill the shop with the demo: its machines and its accounts, named by role. What is there already stays as it is."""

import json
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.core.management.base import BaseCommand

from shop.machines.actions import CreateMachine
from shop.models import Machine
from shop.roles import ROLES, make_account


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        for role in ROLES:
            if not User.objects.filter(username=role).exists():
                make_account(role, role, None)
        supervisor = User.objects.get(username="supervisor")
        for file in sorted((settings.ROOT / "demo" / "setups").glob("*.json")):
            if not Machine.objects.filter(slug=file.stem).exists():
                CreateMachine(supervisor, json.loads(file.read_text(encoding="utf-8")), "the demo").run()
                self.stdout.write(f"demo: {file.stem}")
