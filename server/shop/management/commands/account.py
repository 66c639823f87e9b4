"""Make an account with a role, or set the role and password of one: manage.py account NAME ROLE (asks for the password)."""

import getpass
from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand

from shop.roles import ROLES, make_account


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("name")
        parser.add_argument("role", choices=ROLES)

    def handle(self, *args: Any, **options: Any) -> None:
        make_account(options["name"], options["role"], getpass.getpass("Password: "))
        self.stdout.write(f"{options['name']} is a {options['role']}")
