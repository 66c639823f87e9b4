"""A practice machine of the demo, whose time goes at once, and one behind its real HTTP and WebSocket."""

import socket
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
import uvicorn
from orthotrope.setup import Setup, read_setup

from practice.app import application
from practice.hands import obey
from practice.machine import PracticeMachine
from practice.store import Store

ROOT = Path(__file__).resolve().parents[2]


@pytest.fixture(scope="session")
def heron() -> Setup:
    return read_setup((ROOT / "demo" / "setups" / "heron.json").read_bytes())


class Hand:
    """Whoever stands at the machine; what is begun is played to its end."""

    def __init__(self, machine: PracticeMachine):
        self.machine = machine

    def do(self, command: str, **more: Any) -> dict[str, Any]:
        answer = obey(self.machine, {"do": command, **more}, self)
        self.look()
        return answer

    def look(self) -> None:
        for _ in range(60):
            if self.machine.busy and self.machine.execution == "ACTIVE":
                self.machine.playback.look()


@pytest.fixture
def at(heron: Setup) -> Callable[..., Hand]:
    def standing(seed: int = 7, homed: bool = True, setup: Setup = heron) -> Hand:
        machine = PracticeMachine(setup, seed)
        machine.rate = float("inf")
        machine.playback._wake.set = lambda: None  # type: ignore[method-assign]  # no loop runs here: time is looked at by hand
        hand = Hand(machine)
        if homed:
            hand.do("home")
        return hand

    return standing


@pytest.fixture(scope="module")
def address(heron: Setup, tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    folder = tmp_path_factory.mktemp("practice")
    Store(folder, lambda _: None).build("heron", heron, 7)
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    server = uvicorn.Server(
        uvicorn.Config(application(folder), port=port, log_level="warning", timeout_graceful_shutdown=1)
    )
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    yield f"127.0.0.1:{port}"
    server.should_exit = True
    thread.join(5)
