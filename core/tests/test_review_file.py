"""A program in a file, of whatever size: read, run and checked with word of how far it is; and how close a way passes."""

from pathlib import Path
from typing import Any

import pytest
from demo_setup import DOCUMENT, changed, demo
from orthotrope.machine.shapes import CylinderBody, stands_alone
from orthotrope.program.blocks import Program
from orthotrope.program.reader import read_file, read_text
from orthotrope.proof.case import Case
from orthotrope.proof.exchanges import exchange_case
from orthotrope.proof.findings import Finding
from orthotrope.proof.review import make_case, review, review_file
from orthotrope.proof.routines import routine_case
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.control import find_profile

HERON = read_setup(DOCUMENT)


def job_of(program: Program, setup: Setup = HERON) -> Case:
    return make_case(program, find_profile("parametric"), "job", setup)


def test_it_says_how_far_it_is_and_what_each_line_takes(tmp_path: Path) -> None:
    path = tmp_path / "job.nc"
    path.write_text("G21 G90 G17 G94\nG0 Z10 X0 Y0\nG1 F1500\n" + "X300\nX0\n" * 6000 + "M30\n")
    reported: list[tuple[str, float]] = []
    found = review_file(path, job_of, lambda what, share: reported.append((what, share)))
    assert found.findings == review(job_of(read_file(path))) and found.seconds
    for what in ("Reading", "Running"):
        shares = [share for said, share in reported if said == what]
        assert shares == sorted(shares) and 0 <= shares[0] <= shares[-1] <= 1 and len(shares) > 1
    assert [said for said, _ in reported if said == "Checking"]
    by_line = dict(found.by_line)
    assert by_line[5] == pytest.approx(12.1, abs=0.3) and 3 not in by_line
    assert sum(by_line.values()) == pytest.approx(found.seconds)


def test_one_that_cant_be_read_is_not_run_and_one_without_end_is_reported(tmp_path: Path) -> None:
    path = tmp_path / "job.nc"
    path.write_text("G21 G90\nG1 X[1\nM30\n")
    found = review_file(path, job_of, lambda *_: None)
    assert found.seconds is None and {finding.check for finding in found.findings} == {"unreadable"}
    path.write_text("G21 G90 G17 G94\nWHILE [1 EQ 1] DO1\nG4 P0.1\nEND1\nM30\n")
    assert "unbounded-loop" in {finding.check for finding in review_file(path, job_of, lambda *_: None).findings}
    with pytest.raises(OSError):
        review_file(tmp_path / "none.nc", job_of, lambda *_: None)


def post(room: float, **more: Any) -> dict[str, Any]:
    """A post beside the way along X at Y 420, so far from the nose."""
    nose = DOCUMENT["machine"]["spindle"]["nose_diameter"] / 2
    return {"name": "a post", "kind": "cylinder", "x": 500.0, "y": 420 - 20 - nose - room, "diameter": 40.0, "bottom_z": -180.0,
            "top_z": -60.0, **more}  # fmt: skip


WAY = "G21 G90 G17 G94\nG53 G0 Z-1\nG53 G0 X300 Y420\nG53 G0 Z{z}\nG53 G0 X700\nG53 G0 Z-1\nM30"


def passed(body: dict[str, Any], z: float = -90.0, **values: Any) -> list[Finding]:
    setup = read_setup({**changed(DOCUMENT, **values), "bodies": [body]})
    case = make_case(read_text(WAY.format(z=z)), find_profile("plain words"), "job", setup)
    return [finding for finding in review(case) if finding.check == "clearance"]


@pytest.mark.parametrize(
    "room, least, reported",
    [(0.3, 1.0, True), (0.99, 1.0, True), (1.01, 1.0, False), (3.0, 5.0, True), (0.3, 0.0, False)],
)
def test_passing_closer_than_the_least_clearance_is_reported_with_how_much(
    room: float, least: float, reported: bool
) -> None:
    found = passed(post(room), machine__least_clearance=least)
    assert bool(found) == reported
    for finding in found:
        assert finding.severity == "warn" and finding.quantity == "/bodies/0" and finding.line == 5
        near = float(finding.message.split(" with ")[1].split(" ")[0])
        assert near == pytest.approx(room, abs=0.006) and " sideways " in finding.message


def test_it_is_reported_in_height_too_and_not_of_what_is_touched_on_purpose() -> None:
    beneath = post(-30.0, top_z=-90.6)  # under the nose
    assert passed(beneath, -90.0) and not passed(beneath, -89.0)
    assert not passed(post(0.3, makes=1), -90.0)
    curlew = read_setup(demo("curlew"))
    for routine in ("burner boss", "lamp ring bore"):
        _, case = routine_case(curlew, curlew.profile, routine)
        assert "clearance" not in {finding.check for finding in review(case)}


def test_what_a_changer_stores_is_passed_by_and_what_is_entered_is_not() -> None:
    heron = read_setup(demo("heron"))
    _, case = exchange_case(heron, heron.profile, 1, 3)
    first, *others = case.passed
    # over the stored nuts with T3 in the spindle: the nose, at the height that the last pocket is left at
    assert first.sideways == 0.0 and first.height == pytest.approx(first.gap) and "in pocket" in first.body
    assert all(entry.gap >= first.gap for entry in others) and first.line
    ladder = case.derived.ladder if case.derived else None
    assert ladder and first.position[2] == pytest.approx(ladder.empty_z)
    segment = next(s for s in case.main.trace.segments if s.t0 <= first.at_seconds <= s.t1 and s.line == first.line)
    assert segment.at(first.at_seconds)[2] == pytest.approx(first.position[2])
    assert first.position[2] - first.body_position[2] == pytest.approx(first.gap)
    assert stands_alone(CylinderBody("a", 0, 0, 1, -5, 0)) and not stands_alone(
        CylinderBody("s", 0, 0, 1, -5, 0, makes=1)
    )
    assert not stands_alone(CylinderBody("p", 0, 0, 1, -5, 0, part_of="part"))
