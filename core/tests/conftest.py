"""The demo machine, as it is and with other numbers."""

from collections.abc import Callable

import pytest
from demo_setup import DOCUMENT, changed
from orthotrope.setup import Setup, read_setup


@pytest.fixture(scope="session")
def heron() -> Setup:
    return read_setup(DOCUMENT)


@pytest.fixture(scope="session")
def heron_with() -> Callable[..., Setup]:
    return lambda **values: read_setup(changed(DOCUMENT, **values))
