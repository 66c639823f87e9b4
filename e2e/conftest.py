"""A real server on a data folder of its own, and a browser. A test fails on any console error that it does not
expect."""

import shutil
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

sys.path.insert(0, str(Path(__file__).resolve().parents[1] / "tools"))
from serving import Server, chromium

expect.set_options(timeout=30_000)  # a machine that is busy with something else takes longer


@pytest.fixture(scope="session")
def demo_data(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder with the demo in it, made once."""
    folder = tmp_path_factory.mktemp("demo") / "data"
    Server(folder, fresh=True)
    return folder


@pytest.fixture(scope="session")
def shared(tmp_path_factory: pytest.TempPathFactory, demo_data: Path) -> Iterator[Server]:
    """The server of all tests that need no practice machine: to start one takes longer than most tests."""
    folder = tmp_path_factory.mktemp("shared") / "data"
    shutil.copytree(demo_data, folder)
    running = Server(folder)
    running.start()
    yield running
    running.stop()


@pytest.fixture
def server(tmp_path: Path, demo_data: Path, request: pytest.FixtureRequest) -> Iterator[Server]:
    """A server with the demo as it is delivered."""
    if "practice" not in request.fixturenames:
        running = request.getfixturevalue("shared")
        running.begin_again(demo_data)
        yield running
        return
    shutil.copytree(demo_data, tmp_path / "data")
    running = Server(tmp_path / "data", practice=request.getfixturevalue("practice"))
    running.start()
    yield running
    running.stop()


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with chromium() as running:
        yield running


@pytest.fixture
def console() -> list[str]:
    """Console errors that a test expects: parts of their texts."""
    return []


@pytest.fixture
def open_as(server: Server, browser: Browser, console: list[str]) -> Iterator[Callable[[str], Page]]:
    contexts: list[BrowserContext] = []
    errors: list[str] = []

    def signed_in(role: str) -> Page:
        context = browser.new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True)
        context.grant_permissions(["clipboard-read", "clipboard-write"])
        contexts.append(context)
        page = context.new_page()
        page.set_default_timeout(40_000)
        page.on("console", lambda said: errors.append(said.text) if said.type == "error" else None)
        page.on("pageerror", lambda error: errors.append(str(error)))
        page.goto(server.address)
        page.get_by_role("button", name=f"{role} ").first.click()
        page.get_by_role("heading", name="The shop").wait_for()
        return page

    yield signed_in
    for context in contexts:
        context.close()
    assert not [error for error in errors if not any(part in error for part in console)]
