"""A real server on a data folder of its own, and a browser. A test fails on any console error that it does not expect."""

import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, sync_playwright

ROOT = Path(__file__).resolve().parents[1]
ARGUMENTS = ["--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu", "--disable-background-networking"]


class Server:
    """The application as it is started for a demo; it can be stopped and started again on its data."""

    def __init__(self, data: Path, fresh: bool = False):
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port: int = free.getsockname()[1]
        self.address = f"http://localhost:{self.port}"
        self.environment = {**os.environ, "ORTHOTROPE_DATA": str(data), "ORTHOTROPE_DEMO": "1"}
        self.process: subprocess.Popen[bytes] | None = None
        for command in ("migrate", "demo") if fresh else ():
            subprocess.run([sys.executable, "manage.py", command, "-v0"], cwd=ROOT / "server", env=self.environment, check=True)

    def start(self) -> None:
        command = ["-m", "uvicorn", "config.asgi:application", "--port", str(self.port), "--lifespan", "off"]
        self.process = subprocess.Popen([sys.executable, *command, "--log-level", "warning"], cwd=ROOT / "server",
                                        env=self.environment, start_new_session=True)  # fmt: skip
        for _ in range(200):
            try:
                urllib.request.urlopen(self.address + "/api/session", timeout=1)
                return
            except OSError:
                time.sleep(0.05)
        raise RuntimeError("the server did not start")

    def stop(self) -> None:
        if self.process:
            os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait()
            self.process = None


@pytest.fixture(scope="session")
def demo_data(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder with the demo in it, made once."""
    folder = tmp_path_factory.mktemp("demo") / "data"
    Server(folder, fresh=True)
    return folder


@pytest.fixture
def server(tmp_path: Path, demo_data: Path) -> Iterator[Server]:
    shutil.copytree(demo_data, tmp_path / "data")
    running = Server(tmp_path / "data")
    running.start()
    yield running
    running.stop()


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=ARGUMENTS)
        yield chromium
        chromium.close()


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
        page.set_default_timeout(10_000)
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
