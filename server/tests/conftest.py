"""A shop with Heron, and a client for each role."""

from collections.abc import Callable
from typing import Any

import pytest
from django.test import Client
from requests_to import DOCUMENT
from shop.machines.actions import CreateMachine
from shop.models import Machine
from shop.roles import ROLES, make_account


@pytest.fixture(autouse=True)
def own_settings(settings: Any) -> None:
    settings.PRACTICE = "http://127.0.0.1:9"  # nothing listens there
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


@pytest.fixture
def heron(db: None) -> Machine:
    supervisor = make_account("supervisor", "supervisor", "a-long-password")
    return CreateMachine(supervisor, DOCUMENT, "the demo").run()


@pytest.fixture
def as_role(db: None) -> Callable[[str], Client]:
    def signed_in(role: str) -> Client:
        client = Client()
        if role != "stranger":
            assert role in ROLES
            client.force_login(make_account(role, role, "a-long-password"))
        return client

    return signed_in
