"""The demo machine, as it is and with other numbers."""

import os
from collections.abc import Callable

import pytest
from demo_setup import DOCUMENT, changed
from hypothesis import settings
from orthotrope.setup import Setup, read_setup

settings.register_profile("orthotrope", deadline=None, derandomize=os.environ.get("CI") == "true")
settings.load_profile("orthotrope")


@pytest.fixture(scope="session")
def heron() -> Setup:
    return read_setup(DOCUMENT)


@pytest.fixture(scope="session")
def heron_with() -> Callable[..., Setup]:
    return lambda **values: read_setup(changed(DOCUMENT, **values))
