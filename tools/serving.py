"""The application as a process of its own on a data folder of its own, and a browser; for browser tests, bench and
pictures."""

import os
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright

ROOT = Path(__file__).resolve().parents[1]
DATABASE = "orthotrope.sqlite3"
RUNNING = ("shop_proof", "shop_roomsearch", "shop_review")
"""Tables of what runs in the background of a server."""
ARGUMENTS = ["--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu", "--disable-background-networking"]


def free_port() -> int:
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port: int = free.getsockname()[1]
        return port


def wait_for(address: str) -> None:
    """Until something answers there; on a cold disk that takes its time."""
    until = time.monotonic() + 120
    while time.monotonic() < until:
        try:
            urllib.request.urlopen(address, timeout=1)
            return
        except OSError:
            time.sleep(0.05)
    raise RuntimeError(f"{address} does not answer")


class Practice:
    """The practice machines of the demo, as a process of its own; it can be killed and started again."""

    def __init__(self, data: Path, seed: int = 7):
        self.port = free_port()
        self.address = f"http://127.0.0.1:{self.port}"
        setups = [str(file) for file in sorted((ROOT / "demo" / "setups").glob("*.json"))]
        self.command = [
            sys.executable,
            "-m",
            "practice",
            *setups,
            "--seed",
            str(seed),
            "--data",
            str(data),
            "--port",
            str(self.port),
        ]
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        self.process = subprocess.Popen(self.command, cwd=ROOT, start_new_session=True)
        wait_for(self.address + "/probe")

    def stop(self) -> None:
        if self.process:
            os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait()
            self.process = None


class Server:
    """The application as it is started for a demo; it can be stopped and started again on its data."""

    def __init__(self, data: Path, fresh: bool = False, practice: Practice | None = None):
        self.port = free_port()
        self.address = f"http://localhost:{self.port}"
        self.data = data
        self.environment = {
            **os.environ,
            "ORTHOTROPE_DATA": str(data),
            "ORTHOTROPE_DEMO": "1",
            "ORTHOTROPE_LOG": "warning",
            "ORTHOTROPE_PRACTICE": practice.address if practice else "http://127.0.0.1:9",
        }
        self.process: subprocess.Popen[bytes] | None = None
        for command in ("migrate", "demo") if fresh else ():
            subprocess.run(
                [sys.executable, "manage.py", command, "-v0"], cwd=ROOT / "server", env=self.environment, check=True
            )

    def start(self) -> None:
        command = [sys.executable, "manage.py", "serve", "--port", str(self.port)]
        self.process = subprocess.Popen(command, cwd=ROOT / "server", env=self.environment, start_new_session=True)
        wait_for(self.address + "/health")

    def stop(self) -> None:
        """As a power cut would: nothing is reported beforehand."""
        if self.process:
            os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait()
            self.process = None

    def begin_again(self, delivered: Path) -> None:
        """Have the content of the data folder ``delivered``, and nothing under way; it is started again only where it must be."""
        with closing(sqlite3.connect(self.data / DATABASE, timeout=20)) as mine:
            busy = any(
                mine.execute(f"SELECT 1 FROM {table} WHERE state = 'running' LIMIT 1").fetchone() for table in RUNNING
            )
        if busy or not self.process:
            self.stop()
            shutil.rmtree(self.data)
            shutil.copytree(delivered, self.data)
            self.start()
            return
        shutil.rmtree(self.data / "reviews", ignore_errors=True)
        with (
            closing(sqlite3.connect(self.data / DATABASE, timeout=20)) as mine,
            closing(sqlite3.connect(delivered / DATABASE)) as its,
        ):
            its.backup(mine)


@contextmanager
def chromium() -> Iterator[Browser]:
    """Debian's Chromium, without a screen."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=ARGUMENTS)
        yield browser
        browser.close()
