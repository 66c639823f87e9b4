"""What a server of its own keeps and whom it lets in, attacked from outside: part of make hostile.

Each attack tells what it saw, and what is not as it must be: something acknowledged that is gone, or a door that opens."""

import os
import resource
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from pathlib import Path

import httpx
from serving import ROOT, Server

QUANTITY = "/changer/heights/stored_top_z"
RIGHT = "a-long-password"
SAVERS = 30
WAITED = 1.0
"""s that one of thirty who save at once may wait (95 of 100)"""


class Wrong(Exception):
    """What an attack has got through with."""


@contextmanager
def client_of(address: str, headers: dict[str, str] | None = None) -> Iterator[httpx.Client]:
    with httpx.Client(base_url=address, timeout=60, trust_env=False, headers=headers) as client:
        client.get("/")
        client.headers["X-CSRFToken"] = client.cookies["csrftoken"]
        yield client


@contextmanager
def technician(address: str) -> Iterator[httpx.Client]:
    with client_of(address) as client:
        client.post("/api/session/demo", json={"role": "technician"}).raise_for_status()
        client.headers["X-CSRFToken"] = client.cookies["csrftoken"]
        yield client


def manage(server: Server, *command: str, given: str = "") -> str:
    line = [sys.executable, "manage.py", *command]
    done = subprocess.run(
        line, cwd=ROOT / "server", env=server.environment, input=given, capture_output=True, text=True, timeout=120
    )
    if done.returncode:
        raise Wrong(f"{' '.join(command)}: {done.stderr.strip().splitlines()[-1]}")
    return done.stdout


def reading(client: httpx.Client, value: float) -> int:
    asked = {"quantity": QUANTITY, "source": "typed", "value": value}
    return client.post("/api/machines/heron/readings", json=asked).status_code


def kept(client: httpx.Client) -> set[float]:
    listed = client.get("/api/machines/heron/readings").raise_for_status().json()
    return {entry["value"] for entry in listed if entry["quantity"] == QUANTITY}


@contextmanager
def running(server: Server) -> Iterator[httpx.Client]:
    server.start()
    try:
        with technician(server.address) as client:
            yield client
    finally:
        server.stop()


def restored_and_back(server: Server, folder: Path) -> str:
    """Killed while people take readings, restored from a backup, and that undone by what was set aside."""
    acknowledged: set[float] = set()
    with running(server) as client:
        for count in range(40):
            if count == 20:
                manage(server, "backup", str(folder / "kept.sqlite3"))
            if reading(client, -120 - count / 100) == 200:
                acknowledged.add(-120 - count / 100)
        assert server.process
        os.killpg(server.process.pid, signal.SIGKILL)
    aside = manage(server, "restore", str(folder / "kept.sqlite3")).split("what was there: ")[1].split()[0]
    with running(server) as client:
        of_backup = kept(client)
    manage(server, "restore", str(Path(server.environment["ORTHOTROPE_DATA"]) / aside))
    with running(server) as client:
        gone = acknowledged - kept(client)
    if gone or len(of_backup) != 20:
        raise Wrong(
            f"{len(gone)} of {len(acknowledged)} acknowledged readings are gone; the backup has {len(of_backup)} of 20"
        )
    return f"{len(acknowledged)} readings acknowledged, {len(of_backup)} in the backup, all there after the way back"


def full_disk(server: Server, folder: Path) -> str:
    """Nothing can be written for a while: reading goes on, what is refused says so, what was acknowledged is there afterwards."""
    from hostile import family

    def room(most: int) -> None:
        assert server.process
        for pid in family(server.process.pid):
            resource.prlimit(pid, resource.RLIMIT_FSIZE, (most, resource.RLIM_INFINITY))

    with running(server) as client:
        acknowledged = {-110.0} if reading(client, -110.0) == 200 else set()
        room(8)
        answers = [
            client.post(
                "/api/machines/heron/readings", json={"quantity": QUANTITY, "source": "typed", "value": -111 - n}
            )
            for n in range(5)
        ]
        read = [
            client.get(path).status_code
            for path in ("/api/machines", "/api/machines/heron", "/api/machines/heron/readings")
        ]
        preview = client.post(
            "/api/preview", json={"document": client.get("/api/machines/heron").json()["document"]}
        ).status_code
        room(resource.RLIM_INFINITY)
        after = reading(client, -112.5)
        there = kept(client)
    reported = {answer.status_code for answer in answers}
    if not reported <= {503, 507} or set(read) != {200} or preview != 200 or after != 200 or not acknowledged <= there:
        raise Wrong(
            f"full: saves {reported}, reads {read}, preview {preview}; afterwards a save {after}, {answers[0].text[:120]}"
        )
    if there & {-111.0 - n for n in range(5)}:
        raise Wrong("a refused reading is kept")
    return "5 saves refused, nothing of them kept; all reads and a preview answered, saves go on with room"


def sign_in(client: httpx.Client, user: str, password: str) -> int:
    return client.post("/api/session", json={"user": user, "password": password}).status_code


def spraying(server: Server, folder: Path) -> str:
    """One password at many names, wrong ones at one name with an address of one's own choice, and people who sign in meanwhile."""
    manage(server, "account", "kit", "technician", given=RIGHT + "\n")
    with running(server), client_of(server.address) as known:
        if sign_in(known, "kit", RIGHT) != 200:
            raise Wrong("the right password is refused")
        forged = []
        for count in range(14):
            with client_of(server.address, {"X-Forwarded-For": f"10.1.1.{count}"}) as one:
                forged.append(sign_in(one, "nobody", "wrong"))
        if 429 not in forged:
            raise Wrong(f"fourteen wrong passwords with an address of one's own choice are not refused: {forged}")
        with client_of(server.address) as one:
            sprayed = [sign_in(one, f"name-{count}", "summer-2026") for count in range(60)]
        if 429 not in sprayed or 200 in sprayed:
            raise Wrong(f"one password at sixty names is not refused: {sprayed}")
        with client_of(server.address) as again:
            owner = sign_in(again, "kit", RIGHT)
        if owner != 200:
            raise Wrong(f"the owner, who has signed in from here, is kept out meanwhile: {owner}")
    return (
        f"refused after {forged.index(429)} with a forged address, after {sprayed.index(429)} names; the owner signs in"
    )


def flood(server: Server, folder: Path) -> str:
    """Thirty people save one machine, a second after each answer and then without a pause."""
    said = []
    with running(server):
        for pause in (1.0, 0.0):
            times, acknowledged = _savers(server.address, pause)
            with technician(server.address) as client:
                there = kept(client)
            newest = {value for value in acknowledged if value in there}
            if not newest:
                raise Wrong(f"{len(acknowledged)} saves acknowledged, none of them is there")
            p95 = sorted(times)[int(len(times) * 0.95)]
            said.append(f"p95 of {len(times)} saves {p95:.2f} s {'a second apart' if pause else 'without a pause'}")
    return ", ".join(said) + f"; {WAITED:.0f} s wanted"


def _savers(address: str, pause: float) -> tuple[list[float], list[float]]:
    """Seconds that each save took, and the values that were acknowledged.

    Raises:
        Wrong: where one is refused.
    """
    times: list[float] = []
    acknowledged: list[float] = []
    refused: list[int] = []
    over = threading.Event()

    def save(who: int) -> None:
        with technician(address) as client:
            while not over.is_set():
                value, begun = -100 - who - len(times) / 1e6, time.perf_counter()
                status = reading(client, value)
                times.append(time.perf_counter() - begun)
                acknowledged.append(value) if status == 200 else refused.append(status)
                over.wait(pause)

    with ThreadPoolExecutor(SAVERS) as pool:
        savers = [pool.submit(save, who) for who in range(SAVERS)]
        time.sleep(12)
        over.set()
        for saver in savers:
            saver.result()
    if refused:
        raise Wrong(f"{len(refused)} of {len(times)} saves refused: {set(refused)}")
    return times, acknowledged


ATTACKS: dict[str, Callable[[Server, Path], str]] = {
    "restore after a kill, and back": restored_and_back,
    "no room on the disk": full_disk,
    "spraying and forged addresses": spraying,
    "thirty who save one machine": flood,
}


def held(data: Path, folder: Path) -> int:
    """Every attack on a server that works on this data; how many got through."""
    through = 0
    for name, attack in ATTACKS.items():
        try:
            said = attack(Server(data), folder)
        except Wrong as wrong:
            through, said = through + 1, f"GOT THROUGH: {wrong}"
        print(f"{name:<38} {said}", flush=True)
    return through
