"""Attacks a server of its own, on this machine, and tells how another user fares meanwhile: make hostile.

Each attack goes on for some seconds; all the while a technician elsewhere opens a machine, previews an exchange and
saves. Printed are the median and the worst of their answers, and the peak of the server's memory with all its
processes. Then the server is ended in every way, and what it leaves behind is counted."""

import io
import json
import multiprocessing
import os
import signal
import socket
import ssl
import statistics
import subprocess
import sys
import tempfile
import threading
import time
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import httpx
from held import held
from serving import ROOT, Server

SECONDS = 8.0
HERON = json.loads((ROOT / "demo" / "setups" / "heron.json").read_text(encoding="utf-8"))
PECKS = "G21 G91 G94 F900\n#1 = 0\nWHILE [#1 LT 9000] DO1\nG99 G83 X0 Y0 Z-1 R0 Q0.001\n#1 = [#1 + 1]\nEND1\nM30\n"
LOOP = "G21 G91\n#1 = 0\nWHILE [#1 LT 9999] DO1\n" + "G0 X0.1\nG0 X-0.1\n" * 29 + "#1 = [#1 + 1]\nEND1\nM30\n"
CALLS = "G21\nM98 P1 L9999\nM30\nO1\nM98 P2 L9999\nM99\nO2\nM98 P3 L9999\nM99\nO3\n#1 = [#1 + SIN[#1]]\nM99\n"


def signed_in(address: str, role: str) -> httpx.Client:
    client = httpx.Client(base_url=address, timeout=60, trust_env=False)
    client.get("/")
    client.headers["X-CSRFToken"] = client.cookies["csrftoken"]
    client.post("/api/session/demo", json={"role": role}).raise_for_status()
    client.headers["X-CSRFToken"] = client.cookies["csrftoken"]
    return client


def family(pid: int) -> set[int]:
    """A process and all that came of it."""
    parents: dict[int, int] = {}
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                parents[int(entry.name)] = int((entry / "stat").read_text().rsplit(")", 1)[1].split()[1])
            except (OSError, IndexError):
                continue
    found = {pid}
    while more := {child for child, parent in parents.items() if parent in found} - found:
        found |= more
    return found


def memory(pid: int) -> float:
    """MB of a process and all that came of it; what they share counts once."""
    total = 0
    for one in family(pid):
        try:
            for line in Path(f"/proc/{one}/smaps_rollup").read_text().splitlines():
                if line.startswith("Pss:"):
                    total += int(line.split()[1])
        except OSError:
            continue
    return total / 1000


class Watch:
    """Someone who works meanwhile, and the server's memory."""

    def __init__(self, server: Server):
        assert server.process
        self.server, self.client, self.pid = server, signed_in(server.address, "technician"), server.process.pid
        self.answers: dict[str, list[float]] = {}
        self.peak, self.refused, self.over = 0.0, 0, threading.Event()
        self.threads = [threading.Thread(target=self._work), threading.Thread(target=self._weigh)]

    def __enter__(self) -> "Watch":
        for thread in self.threads:
            thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self.over.set()
        for thread in self.threads:
            thread.join()

    def _work(self) -> None:
        asked = {"document": HERON, "from_tool": 2, "to_tool": 9}
        deeds: list[tuple[str, Callable[[], httpx.Response]]] = [
            ("open the machine", lambda: self.client.get("/api/machines/heron")),
            (
                "understand a number",
                lambda: self.client.post("/api/quantity", json={"text": "58.5 + 0.1", "kind": "length"}),
            ),
            ("preview an exchange", lambda: self.client.post("/api/preview", json=asked)),
        ]
        while not self.over.is_set():
            for name, deed in deeds:
                begun = time.perf_counter()
                answer = deed()
                self.answers.setdefault(name, []).append((time.perf_counter() - begun) * 1000)
                self.refused += answer.status_code != 200
                time.sleep(0.05)

    def _weigh(self) -> None:
        while not self.over.wait(0.3):
            self.peak = max(self.peak, memory(self.pid))

    def report(self, name: str) -> None:
        rows = [f"{deed} {statistics.median(times):.0f} / {max(times):.0f}" for deed, times in self.answers.items()]
        print(
            f"{name:<38} {'   '.join(rows)}   peak {self.peak:.0f} MB"
            + (f"   REFUSED {self.refused}" if self.refused else ""),
            flush=True,
        )


def together(count: int, deed: Callable[[], Any]) -> Callable[[], None]:
    """Do something from so many threads again and again, for some seconds."""

    def attack() -> None:
        until = time.monotonic() + SECONDS

        def again() -> None:
            while time.monotonic() < until:
                try:
                    deed()
                except httpx.HTTPError:
                    time.sleep(0.05)

        threads = [threading.Thread(target=again) for _ in range(count)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()

    return attack


def half_sent(port: int) -> None:
    """Nine hundred requests that are begun and not ended."""
    begun = []
    for _ in range(900):
        one = socket.create_connection(("127.0.0.1", port), timeout=5)
        one.sendall(b"POST /api/preview HTTP/1.1\r\nHost: localhost\r\nContent-Le")
        begun.append(one)
    time.sleep(SECONDS)
    for one in begun:
        one.close()


def attacks(server: Server) -> dict[str, Callable[[], None]]:
    viewer = signed_in(server.address, "viewer")
    circles = "".join(f"0\nCIRCLE\n8\n0\n10\n{i % 80 * 9}\n20\n{i // 80 * 9}\n30\n0\n40\n4\n" for i in range(4000))
    drawing = f"0\nSECTION\n2\nENTITIES\n{circles}0\nENDSEC\n0\nEOF\n"
    book = io.BytesIO()
    with zipfile.ZipFile(book, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("xl/worksheets/sheet1.xml", b"<c/>" * 50_000_000)

    def preview(text: str) -> Callable[[], None]:
        return together(
            8,
            lambda: viewer.post(
                "/api/preview", json={"document": HERON, "program": text, "from_tool": 2, "to_tool": 9}
            ),
        )

    def nameless() -> None:
        with httpx.Client(timeout=20, trust_env=False) as client:
            client.post(f"{server.address}/api/machines/import", content=(b"0" * 1_000_000 for _ in range(400)))

    def impatient() -> None:
        with httpx.Client(
            base_url=server.address,
            cookies=viewer.cookies,
            headers=viewer.headers,
            timeout=0.2,
            trust_env=False,
            verify=unread,
        ) as client:
            client.post("/api/preview", json={"document": HERON, "program": LOOP})

    unread = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)  # reading certificates would take more than the attack itself
    sign_in = {"user": "nobody", "password": "wrong"}
    return {
        "nothing": lambda: time.sleep(SECONDS),
        "8 previews of pecks without an end": preview(PECKS),
        "8 previews of 58 moves in a loop": preview(LOOP),
        "8 previews of calls within calls": preview(CALLS),
        "8 who leave after 0.2 s": together(8, impatient),
        "8 drawings of 4,000 circles": together(
            8, lambda: viewer.post("/api/layout", json={"text": drawing, "unit": "mm"})
        ),
        "8 workbooks of 200 MB": together(
            8, lambda: viewer.post("/api/machines/heron/pockets/preview", content=book.getvalue())
        ),
        "8 deep bodies": together(8, lambda: viewer.post("/api/offers", content="[" * 2_000_000)),
        "20 sign-ins at once": together(20, lambda: viewer.post("/api/session", json=sign_in)),
        "4 anonymous uploads of 400 MB": together(4, nameless),
        "900 half-sent requests": lambda: half_sent(server.port),
    }


def left_behind(pids: set[int], seconds: float) -> tuple[int, float]:
    begun = time.monotonic()
    while time.monotonic() - begun < seconds:
        alive = {
            pid for pid in pids if Path(f"/proc/{pid}/cmdline").exists() and Path(f"/proc/{pid}/cmdline").read_bytes()
        }
        if not alive:
            return 0, time.monotonic() - begun
        time.sleep(0.05)
    return len(alive), time.monotonic() - begun


def ends(data: Path) -> None:
    """End the server while it proves: by an interrupt, by a wish, by force."""
    for name in ("SIGINT", "SIGTERM", "SIGKILL"):
        server = Server(data)
        server.start()
        assert server.process
        client = signed_in(server.address, "technician")
        client.post("/api/preview", json={"document": HERON}).raise_for_status()
        client.post("/api/machines/plover/proofs", json={"text": "", "file": ""}).raise_for_status()
        time.sleep(2.0)
        pids = family(server.process.pid)
        os.kill(server.process.pid, getattr(signal, name))
        threading.Thread(target=server.process.wait, daemon=True).start()
        left, seconds = left_behind(pids, 20)
        print(f"{name} while proving, {len(pids)} processes: {left} left after {seconds:.1f} s", flush=True)


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder) / "data"
        server = Server(data, fresh=True)
        server.start()
        try:
            signed_in(server.address, "viewer").post("/api/preview", json={"document": HERON})  # all is loaded
            second = subprocess.run(
                [sys.executable, "manage.py", "serve", "--port", "0"],
                cwd=ROOT / "server",
                env=server.environment,
                capture_output=True,
                text=True,
                timeout=60,
            )
            print("a second server on the same data:", second.stderr.strip().splitlines()[-1][:110])
            print(f"{'another user, median / worst, ms':<38}")
            for name, attack in attacks(server).items():
                attacker = multiprocessing.get_context("fork").Process(
                    target=attack
                )  # it takes nothing from who measures
                with Watch(server) as watch:
                    attacker.start()
                    attacker.join()
                watch.report(name)
        finally:
            server.stop()
        ends(data)
        sys.exit(1 if held(data, Path(folder)) else 0)


if __name__ == "__main__":
    main()
