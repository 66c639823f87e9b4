"""Make an account with a role, or set the role and password of one: manage.py account NAME ROLE (asks for the
password). NAME lock, unlock or remove: it can't sign in any more, can again, or goes."""

import getpass
import sys
from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand, CommandError
from orthotrope.errors import InputError

from shop.roles import ROLES, lock_account, make_account, remove_account


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("name")
        parser.add_argument("role", choices=(*ROLES, "lock", "unlock", "remove"))

    def handle(self, *args: Any, **options: Any) -> None:
        done = {"lock": "is locked", "unlock": "can sign in again", "remove": "is removed"}
        if options["role"] in done:
            try:
                if options["role"] == "remove":
                    remove_account(options["name"])
                else:
                    lock_account(options["name"], options["role"] == "lock")
            except InputError as bad:
                raise CommandError(" ".join(fault.what for fault in bad.faults)) from None
            self.stdout.write(f"{options['name']} {done[options['role']]}")
            return
        asked = sys.stdin.isatty()
        password = getpass.getpass("Password: ") if asked else sys.stdin.readline().rstrip("\n")
        if asked and getpass.getpass("Once more: ") != password:
            raise CommandError("The two passwords differ; nothing was changed.")
        try:
            make_account(options["name"], options["role"], password)
        except InputError as bad:
            raise CommandError(" ".join(fault.what for fault in bad.faults)) from None
        self.stdout.write(f"{options['name']} is a {options['role']}")
