"""The command line, as others call it."""

import io
import json
from pathlib import Path
from typing import Any

import pytest
from demo_setup import ROOT
from orthotrope import cli
from orthotrope.calc import CALCULATIONS

HERON = str(ROOT / "demo" / "setups" / "heron.json")
PROGRAMS = Path(__file__).parent / "programs"
Capture = pytest.CaptureFixture[str]


def call(capsys: Capture, *arguments: str) -> tuple[int, str, Any]:
    code = cli.main(list(arguments))
    out, err = capsys.readouterr()
    return code, out, json.loads(err) if err else None


class Input:
    def __init__(self, text: bytes):
        self.buffer = io.BytesIO(text)


def test_calc(capsys: Capture, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("sys.stdin", Input(b'{"feed": 600, "acceleration": 500, "latency": 0.002}'))
    code, out, _ = call(capsys, "calc", "stopping-distance")
    assert code == 0 and json.loads(out) == {"distance": pytest.approx(0.12)}
    monkeypatch.setattr("sys.stdin", Input(b'{"feed": -6, "latency": "long"}'))
    code, out, err = call(capsys, "calc", "stopping-distance")
    assert code == 2 and out == ""
    assert {e["where"] for e in err["errors"]} == {"/feed", "/acceleration", "/latency"}
    code, out, _ = call(capsys, "calc", "--list")
    assert [line.split()[0] for line in out.splitlines()] == list(CALCULATIONS)
    code, out, _ = call(capsys, "calc", "corner", "--schema")
    assert code == 0 and set(json.loads(out)) == {"input", "output"}
    assert call(capsys, "calc", "no-such-thing")[0] == 2


def test_review_says_all_in_json_and_by_its_exit_code(capsys: Capture) -> None:
    code, out, _ = call(capsys, "review", str(PROGRAMS / "runaway.nc"), "--purpose", "measure", "--json")
    assert code == 1 and [f["check"] for f in json.loads(out)["findings"]] == ["unbounded-loop"]
    code, out, _ = call(capsys, "review", str(PROGRAMS / "job_clean.nc"), "--purpose", "job", "--json")
    assert code == 0 and json.loads(out) == {"findings": []}
    code, out, _ = call(capsys, "review", str(PROGRAMS / "edge_no_units.nc"), "--purpose", "probe")
    assert code == 0 and "warn  unit-unstated" in out and "line 2" in out
    assert call(capsys, "review", "/nowhere.nc", "--purpose", "job")[0] == 2


def test_what_is_emitted_runs_clean(capsys: Capture, tmp_path: Path) -> None:
    file = tmp_path / "exchange.nc"
    for profile in ("parametric", "plain words"):
        code, out, _ = call(capsys, "emit", HERON, "exchange", "--from", "2", "--to", "9", "--profile", profile)
        assert code == 0 and out.startswith("%\n")
        file.write_text(out)
        options = [
            "--setup",
            HERON,
            "--purpose",
            "exchange",
            "--from",
            "2",
            "--to",
            "9",
            "--profile",
            profile,
            "--json",
        ]
        code, out, _ = call(capsys, "run", str(file), *options)
        answer = json.loads(out)
        assert code == 0 and {f["severity"] for f in answer["findings"]} == {"note"}
        first = answer["trace"]["segments"][0]
        assert {"line", "start_seconds", "end_seconds", "start", "end", "spindle", "inputs", "tool"} <= set(first)
        assert answer["trace"]["segments"][-1]["tool"] == 9
    code, out, _ = call(capsys, "run", str(file), *options, "--fault", "not-homed")
    assert code == 1 and json.loads(out)["findings"][0]["check"] == "not-homed"


def test_emit_says_what_it_needs(capsys: Capture, tmp_path: Path) -> None:
    code, _, err = call(capsys, "emit", HERON, "exchange", "--profile", "plain words")
    assert code == 2 and {e["where"] for e in err["errors"]} == {"/from", "/to"}
    code, _, err = call(capsys, "emit", HERON, "exchange", "--from", "55", "--to", "1")
    assert code == 2 and "no tool T55" in err["errors"][0]["what"]
    bad = tmp_path / "setup.json"
    bad.write_text('{"format": "orthotrope-setup"}')
    code, _, err = call(capsys, "emit", str(bad), "exchange")
    assert code == 2 and {e["where"] for e in err["errors"]} == {"/version", "/machine"}
