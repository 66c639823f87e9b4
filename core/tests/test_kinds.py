"""A kind is what is in its folder: a style, a fault, a check, roles, a type of step and a calculation that only a test
has."""

import json
import sys
import threading
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from types import SimpleNamespace

import pytest
import toy
from demo_setup import changed, exchange
from orthotrope.calc.derived import derive
from orthotrope.cli import main
from orthotrope.errors import InputError
from orthotrope.machine.report import Scene
from orthotrope.program.reader import read_text
from orthotrope.proof.conflicts import conflicts
from orthotrope.proof.digests import digests_of
from orthotrope.proof.exchanges import exchange_case, pairs, prove_exchanges
from orthotrope.proof.review import review
from orthotrope.proof.worlds import nominal_world
from orthotrope.registry import Registry, load_all
from orthotrope.setup import Setup, read_setup, setup_schema
from orthotrope.setup.control import find_profile
from orthotrope.validation import unit_at


@pytest.fixture(autouse=True)
def _toy() -> Iterator[None]:
    with toy.present():
        yield


def test_a_style_is_read_derived_and_reported_where_it_contradicts_itself() -> None:
    setup = read_setup(toy.document())
    assert read_setup(setup.as_json()) == setup and "MagnetRow" in setup_schema()["$defs"]
    derived = derive(setup)
    assert derived and [(p.x, p.y) for p in derived.pockets] == [(100, 800), (160, 800), (220, 800), (280, 800)]
    assert derived.workings["row_length"].value == 180 and unit_at(Setup, "/changer/heights/park_z") == "mm"
    assert not list(conflicts(setup, derived))
    narrow = read_setup(changed(toy.document(), changer__pitch=20.0, outputs=[]))
    assert {c.where for c in conflicts(narrow, derive(narrow))} == {"/changer/pitch", "/outputs"}
    with pytest.raises(InputError, match="`count` must be at most 50; got 51"):
        read_setup(changed(toy.document(), changer__count=51))


@pytest.mark.parametrize("profile", ["parametric", "plain words"])
def test_it_is_written_run_and_drawn_in_both_profiles(profile: str) -> None:
    setup = read_setup(toy.document())
    text, case = exchange_case(setup, find_profile(profile), 1, 2)
    assert "(MSG, beep)" in text if profile == "parametric" else "(beep)" not in text
    assert case.main.trace.ended == "end" and case.main.trace.holding[-1][1] == 2
    assert case.main.trace.stored[-1][1] == {1: 1, 3: 3}
    assert {finding.check for finding in review(case) if finding.severity == "stop"} == set()
    drawn = Scene.of(nominal_world(setup))
    assert drawn.magazine and drawn.magazine.style == "magnet row"
    assert len([body for body in drawn.bodies if body.name.startswith("pin")]) == 4


def test_it_is_proven_under_its_own_fault_and_the_others() -> None:
    setup = read_setup(toy.document())
    results = list(prove_exchanges(setup, faults=True))
    assert len(results) == len(pairs(setup)) == 12 and not any(result.findings for result in results)
    reported = {fault.fault: fault for fault in results[-1].faults}
    assert {"magnet-weak", "pocket-empty", "stopped", "wrong-tool"} <= set(
        reported
    ) and "grip-stays-shut" not in reported
    assert reported["pocket-empty"].verdict == reported["stopped"].verdict == "safe"
    assert (
        reported["magnet-weak"].verdict == "unsafe" and "pin" in reported["magnet-weak"].says
    )  # nothing tells that it let go
    fetching = {fault.fault: fault.verdict for fault in results[0].faults}
    assert fetching["magnet-weak"] == "safe"  # its input does not come
    deaf = read_setup(changed(toy.document(), inputs=[]))
    weak = {
        f.fault: f.verdict for r in prove_exchanges(deaf, faults=True) for f in r.faults if r.sequence == exchange(0, 1)
    }
    assert weak["pocket-empty"] == "undetectable" and weak["magnet-weak"] == "unsafe"
    assert digests_of(deaf) != digests_of(setup)


def test_its_check_finds_what_it_is_for() -> None:
    setup = read_setup(toy.document())
    text, case = exchange_case(setup, setup.profile, 0, 1)
    assert not review(case)
    silent = replace(case, program=read_text(text.replace("(MSG, beep)", "")), _runs={})
    assert {finding.check for finding in review(silent)} == {"no-beep"}


def test_the_command_line_knows_them(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file, program = tmp_path / "toy.json", tmp_path / "exchange.nc"
    file.write_text(json.dumps(toy.document()), encoding="utf-8")
    assert main(["emit", str(file), "exchange"]) == 0
    program.write_text(capsys.readouterr().out, encoding="utf-8")
    weak = [
        "run",
        str(program),
        "--setup",
        str(file),
        "--purpose",
        "exchange",
        "--from",
        "0",
        "--to",
        "1",
        "--fault",
        "magnet-weak",
    ]
    assert main([*weak, "--json"]) in (0, 1)
    assert json.loads(capsys.readouterr().out)["trace"]["segments"]
    assert main(["calc", "--list"]) == 0 and "magnet-pull" in capsys.readouterr().out


def test_a_second_thread_waits_until_a_registry_has_loaded(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    slow = "import slowly\nimport time\ntime.sleep(0.2)\nslowly.THINGS.add('late', 1)\n"
    (tmp_path / "slowly_loaded.py").write_text(slow)
    things: Registry[int] = Registry("thing", "slowly_loaded")
    monkeypatch.setattr(Registry, "known", [things])
    monkeypatch.setitem(sys.modules, "slowly", SimpleNamespace(THINGS=things))
    monkeypatch.syspath_prepend(tmp_path)
    first = threading.Thread(target=load_all)
    first.start()
    time.sleep(0.05)
    assert things["late"] == 1
    first.join()
