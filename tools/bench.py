"""Prints the figures of speed: median and 95th percentile, with what is wanted of each (make bench)."""

import gzip
import json
import os
import random
import re
import resource
import statistics
import subprocess
import sys
import tempfile
import time
import tracemalloc
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from orthotrope.machine.executor import run_program
from orthotrope.machine.run import Call
from orthotrope.program.reader import read_lines, read_text
from orthotrope.proof.exchanges import exchange_text, prove_exchanges
from orthotrope.proof.review import called_at, make_case, review
from orthotrope.proof.routines import provable, prove_routine
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.control import find_profile
from playwright.sync_api import Page
from serving import ROOT, Practice, Server, chromium

HERON = ROOT / "demo" / "setups" / "heron.json"


def long_job() -> None:
    """Seconds and memory of a review of a job of a megabyte."""
    text = "\n".join(["G21 G90", *plain_lines(28_000), "M30"])
    tracemalloc.start()
    review(make_case(read_text(text), find_profile("parametric"), "job"))
    peak = tracemalloc.get_traced_memory()[1] / 1e6
    tracemalloc.stop()
    seconds = min(timed(lambda: review(make_case(read_text(text), find_profile("parametric"), "job")), 2))
    size = len(text) / 1e6
    print(f"review of a job of {size:.2f} MB: {seconds:.1f} s, {peak / size:.1f} MB for each   wanted: 7 MB")


LONG = 100
"""MB of the job that is reviewed by the command line."""


def longest_job() -> None:
    """The rate and the memory of a review on the command line, of a long job and of one a tenth of it, beside the bare floor:
    splitting the lines into letters and numbers."""
    line = "\n".join(plain_lines(1000)) + "\n"
    pairs = re.compile(r"([A-Za-z])([-+]?[0-9]+\.?[0-9]*|[-+]?\.[0-9]+)")
    floor = len(line) / 1e6 / min(timed(lambda: [(a, float(b)) for a, b in pairs.findall(line)], 5))
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "job.nc"
        for size in (LONG / 10, LONG):
            with path.open("w") as file:
                file.write("G21 G90 G17 G94\n")
                for _ in range(int(size * 1e6 / len(line))):
                    file.write(line)
                file.write("M30\n")
            begun = time.perf_counter()
            child = subprocess.Popen(
                [sys.executable, "-c", REVIEW, str(path), "--purpose", "job"], stdout=subprocess.DEVNULL
            )
            _, _, used = os.wait4(child.pid, 0)
            rate, peak = size / (time.perf_counter() - begun), used.ru_maxrss / 1024
            print(
                f"review of a job of {size:.0f} MB: {rate:.2f} MB/s, {rate / floor:.1%} of the bare floor's {floor:.1f} MB/s, {peak:.0f} MB"
            )


def routines() -> None:
    """The full proof of each routine of a demo machine on one core: every condition of the part and every fault."""
    setup = read_setup((HERON.parent / "curlew.json").read_bytes())
    prove_routine(setup, setup.routines[0].name)  # what is read once and kept
    seconds = {name: min(timed(partial(prove_routine, setup, name), 2)) for name in provable(setup)}
    slowest = max(seconds, key=seconds.__getitem__)
    print(f"full proof of a routine, one core: {slowest} takes longest, {seconds[slowest]:.2f} s   wanted: under 2 s")


def report(name: str, seconds: list[float], wanted: str) -> None:
    ordered = sorted(seconds)
    p95 = ordered[min(len(ordered) - 1, int(0.95 * len(ordered)))]
    print(f"{name:<46} median {statistics.median(ordered) * 1e3:8.2f} ms   p95 {p95 * 1e3:8.2f} ms   wanted: {wanted}")


def timed(function: Callable[[], Any], count: int) -> list[float]:
    spans = []
    for _ in range(count):
        begun = time.perf_counter()
        function()
        spans.append(time.perf_counter() - begun)
    return spans


def exchanges(setup: Setup) -> None:
    profile, world = setup.profile, nominal_world(setup)
    text = exchange_text(setup, profile, 2, 9)
    call = Call(called_at(setup), from_tool=2, to_tool=9)
    report(
        "one exchange, read and run",
        timed(lambda: run_program(read_text(text), profile, world, call), 60),
        "under 5 ms",
    )
    report("all 72 pairs, run and checked, one core", timed(lambda: list(prove_exchanges(setup)), 9), "under 500 ms")


def proving() -> None:
    """The whole proof of a disc on the command line, two processes: its time by pockets, and the memory of all
    processes."""
    document = json.loads((ROOT / "demo" / "setups" / "plover.json").read_text())
    with tempfile.TemporaryDirectory() as folder:
        for count in (8, 24, 60):
            changed = json.loads(json.dumps(document))
            disc, tools = changed["changer"]["disc"], changed["tools"]
            disc["count"], disc["radius"] = count, disc["radius"] * count / 24
            changed["probes"], changed["routines"] = [], []  # they have a tool of their own
            changed["tools"] = [{**tools[n % len(tools)], "number": n + 1, "pocket": n + 1} for n in range(count)]
            path = Path(folder) / f"{count}.json"
            path.write_text(json.dumps(changed))
            command = [sys.executable, "-c", PROVE, str(path), "--only", "exchanges", "--workers", "2", "--json"]
            begun = time.perf_counter()
            done = subprocess.run(command, capture_output=True, text=True, check=False)
            seconds = time.perf_counter() - begun
            peak = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024
            told_cases = json.loads(done.stdout)["cases"]
            unsafe = sum(case["verdict"] == "unsafe" for case in told_cases)
            wanted = {24: "   wanted: under 6 s, under 500 MB", 60: "   wanted: under 35 s"}.get(count, "")
            cases = f"{count * (count + 1):4} pairs, {len(told_cases):6} cases"
            each = f"{seconds / len(told_cases) * 1e3:.2f} ms a case, {unsafe} unsafe, {peak:.0f} MB in a process"
            print(f"proof of a disc of {count:2} pockets, {cases}: {seconds:6.1f} s, {each}{wanted}")


def measuring() -> None:
    """The proof of measuring all tools of the disc on the command line, two processes."""
    path = ROOT / "demo" / "setups" / "plover.json"
    command = [sys.executable, "-c", PROVE, str(path), "--only", "measuring", "--workers", "2", "--json"]
    begun = time.perf_counter()
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    seconds = time.perf_counter() - begun
    cases = len(json.loads(done.stdout)["cases"])
    print(f"proof of measuring 24 tools, {cases} cases: {seconds:.1f} s   wanted: under 5 s")


REVIEW = "import sys; from orthotrope.cli import main; sys.argv[1:1] = ['review']; raise SystemExit(main())"
PROVE = "import sys; from orthotrope.cli import main; sys.argv[1:1] = ['prove']; raise SystemExit(main())"


def plain_lines(count: int) -> list[str]:
    dice = random.Random(1)
    return [
        f"G1 X{dice.uniform(0, 800):.3f} Y{dice.uniform(0, 900):.3f} Z{dice.uniform(-90, 0):.3f} F1500"
        for _ in range(count)
    ]


def _read(lines: list[str]) -> None:
    for _ in read_lines(lines):
        pass


def reader() -> None:
    lines = plain_lines(60_000)
    text = "\n".join(lines)
    pairs = re.compile(r"([A-Za-z])([-+]?[0-9]+\.?[0-9]*|[-+]?\.[0-9]+)")
    rates = []
    for _ in range(7):
        floor = min(timed(lambda: [(letter, float(value)) for letter, value in pairs.findall(text)], 2))
        ours = min(timed(lambda: [None for _ in read_lines(text.split("\n"))], 2))
        rates.append(floor / ours)
    mb = len(text) / 1e6
    print(
        f"reader, plain motion blocks: {mb / ours:.1f} MB/s, {statistics.median(rates):.0%} of the bare floor's rate   "
        "wanted: 60 %"
    )
    small, large = (min(timed(partial(_read, lines[:k]), 3)) for k in (6_000, 60_000))
    print(f"ten times the program takes {large / small:.1f} times as long")
    peaks = []
    for repeats in (1, 10):
        tracemalloc.start()
        for _ in read_lines(line for _ in range(repeats) for line in lines[:6000]):
            pass
        peaks.append(tracemalloc.get_traced_memory()[1])
        tracemalloc.stop()
    print(
        f"memory while streaming: {peaks[0] / 1e3:.0f} kB at its highest, {peaks[1] / 1e3:.0f} kB for ten times as much"
    )


def sign_in(page: Page, server: Server) -> None:
    page.goto(server.address)
    page.get_by_role("button", name="technician edits").click()
    page.get_by_role("heading", name="The shop").wait_for()


def in_the_browser(server: Server) -> None:
    with chromium() as browser:
        context = browser.new_context(viewport={"width": 1280, "height": 800})
        page = context.new_page()
        sign_in(page, server)
        document = json.loads(HERON.read_text())
        spans = []
        for step in range(80):
            document["changer"]["heights"]["margin"] = 8 + step / 100
            body = {"document": document, "from_tool": 2, "to_tool": 9}
            spans.append(page.evaluate(PREVIEW, body) / 1e3)
        for stage in ("machine", "signals"):
            others = [page.evaluate(PREVIEW, {"document": document, "stage": stage}) / 1e3 for _ in range(25)]
            report(f"preview answer for {stage.capitalize()}", others[5:], "")
        report("preview answer of Heron, from the browser", spans[5:], "p95 under 60 ms")
        page.goto(f"{server.address}/machines/heron/changer")
        page.wait_for_selector("[data-time]")
        edits = []
        for step in range(40):
            field = page.get_by_label("Margin", exact=True).first
            field.fill(f"{9 + step / 10:.1f}")
            page.evaluate(WATCH)
            field.press("Enter")
            edits.append(page.evaluate("window.redrawn") / 1e3)
        report("edit to redrawn screen", edits[3:], "under 150 ms")
        loads = []
        for _ in range(7):
            fresh = browser.new_context(viewport={"width": 1280, "height": 800}, storage_state=context.storage_state())
            first = fresh.new_page()
            begun = time.perf_counter()
            first.goto(server.address)
            first.get_by_role("link", name=re.compile("Heron")).wait_for()
            loads.append(time.perf_counter() - begun)
            fresh.close()
        report("first load to the usable shop", loads, "under 1500 ms")


def stored(server: Server) -> None:
    """What is stored, asked for and added to, with a whole proof of 600 exchanges there."""
    with chromium() as browser:
        page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        sign_in(page, server)

        def ask(method: str, path: str, body: Any = None) -> float:
            return float(page.evaluate(ASK, [method, f"/api{path}", body])[0]) / 1e3

        def answer(method: str, path: str, body: Any = None) -> Any:
            return page.evaluate(ASK, [method, f"/api{path}", body])[1]

        answer("POST", "/machines/plover/proofs", {"text": "", "file": ""})
        brief = []
        while answer("GET", "/machines/plover/proofs/latest?brief=true")["state"] == "running":
            brief.append(ask("GET", "/machines/plover/proofs/latest?brief=true"))
            time.sleep(0.2)
        report("progress of a running proof of 600 pairs", brief, "")
        head = answer("GET", "/machines/plover")
        saves = []
        for step in range(30):
            base = json.loads(json.dumps(head["document"]))
            head["document"]["changer"]["heights"]["margin"] = 10 + step / 100
            body = {"base_revision": head["revision"], "base": base, "document": head["document"]}
            saves.append(ask("PUT", "/machines/plover", body))
        report("saving with proofs stored", saves[3:], "under 60 ms")
        report("the shop with seven machines", [ask("GET", "/machines") for _ in range(25)][3:], "under 150 ms")
        for number in range(600):
            answer("POST", f"/machines/heron/revisions/{number % 2 + 1}/restore")
        pages = [ask("GET", "/machines/heron/revisions") for _ in range(20)]
        report("history of 600 revisions, a page", pages[3:], "under 100 ms")


ASK = """async ([method, path, body]) => {
  const token = document.cookie.match(/csrftoken=([^;]*)/)[1];
  const headers = { "Content-Type": "application/json", "X-CSRFToken": token };
  const begun = performance.now();
  const answer = await fetch(path, { method, headers, body: body === null ? undefined : JSON.stringify(body) });
  const text = await answer.text();
  return [performance.now() - begun, JSON.parse(text)];
}"""


def panel(server: Server) -> None:
    """How far behind the machine the hand panel is: from the agent's time of a position to its being painted."""
    with chromium() as browser:
        page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        sign_in(page, server)
        page.goto(f"{server.address}/machines/heron/changer")
        page.locator("[data-standing=connected]").wait_for()
        page.get_by_role("button", name="Hand panel").click()
        page.get_by_role("button", name="Home", exact=True).click()
        page.locator("[data-homed=true]").wait_for(timeout=60_000)
        page.get_by_role("group", name="Step").get_by_role("button", name="hold").click()
        page.evaluate(DELAYS)
        button = page.get_by_role("button", name="Jog X plus")
        button.dispatch_event("pointerdown", {"pointerId": 1, "isPrimary": True})
        page.wait_for_timeout(8000)
        button.dispatch_event("pointerup", {"pointerId": 1})
        delays = page.evaluate("window.delays")
        report(f"machine to panel, {len(delays)} positions", [delay / 1e3 for delay in delays], "p95 under 150 ms")


DELAYS = """() => {
  window.delays = [];
  const shown = document.querySelector("[data-positions]");
  new MutationObserver(() => {
    const when = Number(shown.getAttribute("data-when")) * 1000;
    requestAnimationFrame(() => setTimeout(() => window.delays.push(Date.now() - when)));
  }).observe(shown, { attributes: true, attributeFilter: ["data-when"] });
}"""
PREVIEW = """async (body) => {
  const token = document.cookie.match(/csrftoken=([^;]*)/)[1];
  const begun = performance.now();
  const answer = await fetch("/api/preview", {
    method: "POST", headers: { "Content-Type": "application/json", "X-CSRFToken": token }, body: JSON.stringify(body) });
  await answer.json();
  return performance.now() - begun;
}"""
WATCH = """() => {
  const shown = document.querySelector("[data-derived=carry_z]");
  window.redrawn = new Promise((done) => {
    let begun = 0;
    document.addEventListener("keydown", () => { begun = performance.now(); }, { once: true, capture: true });
    const watcher = new MutationObserver(() => {
      watcher.disconnect();
      requestAnimationFrame(() => setTimeout(() => done(performance.now() - begun)));
    });
    watcher.observe(shown, { characterData: true, childList: true, subtree: true });
  });
}"""


def bundle() -> None:
    page = (ROOT / "web" / "dist" / "index.html").read_text()
    first = re.findall(r'(?:src|href)="/(assets/[^"]+\.(?:js|css))"', page)
    size = sum(len(gzip.compress((ROOT / "web" / "dist" / name).read_bytes())) for name in first)
    print(f"first bundle: {size / 1e3:.0f} kB compressed   wanted: under 250 kB")


def main() -> None:
    exchanges(read_setup(HERON.read_text()))
    reader()
    long_job()
    bundle()
    proving()
    measuring()
    routines()
    longest_job()
    with tempfile.TemporaryDirectory() as folder:
        practice = Practice(Path(folder) / "practice")
        server = Server(Path(folder) / "data", fresh=True, practice=practice)
        practice.start()
        server.start()
        try:
            in_the_browser(server)
            panel(server)
            stored(server)
        finally:
            server.stop()
            practice.stop()


if __name__ == "__main__":
    main()
