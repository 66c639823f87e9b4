"""Programs that are brought to be reviewed as they are: sent in pieces, run in a process of their own, reported, cancelled, forgotten."""

import errno
import resource
import signal
import time
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from typing import Any, cast

import pytest
from django.test import Client, override_settings
from requests_to import send
from shop.models import Machine, Review
from shop.reviews import actions, running, texts

AsRole = Callable[[str], Client]

JOB = "G21 G90 G17 G94\n(a long job)\nG0 Z10 X0 Y0\nG1 X300 F1500\nG1 X9000\nM30\n"


@pytest.fixture
def technician(heron: Machine, as_role: AsRole, tmp_path: Path) -> Any:
    with override_settings(DATA=tmp_path):
        yield as_role("technician")


def begun(client: Client, size: int, **more: Any) -> Any:
    return send(
        client, "POST", "/api/machines/heron/reviews", {"file": "job.nc", "purpose": "job", "size": size, **more}
    )


def piece(client: Client, number: int, at: int, text: str) -> Any:
    return send(client, "POST", f"/api/machines/heron/reviews/{number}/pieces", {"at": at, "text": text})


def at_its_end(client: Client, number: int) -> Any:
    for _ in range(300):
        review = send(client, "GET", f"/api/machines/heron/reviews/{number}").json()
        if review["state"] not in ("sending", "running"):
            return review
        time.sleep(0.1)
    raise AssertionError(f"it did not end: {review}")


@pytest.mark.django_db(transaction=True)
def test_a_job_comes_in_pieces_is_reviewed_and_can_be_had_back(technician: Client, as_role: AsRole) -> None:
    number = begun(technician, len(JOB)).json()["id"]
    assert piece(technician, number, 0, JOB[:40]).json()["here"] == 40
    again = piece(technician, number, 0, JOB[:40])
    assert again.status_code == 422 and "40 bytes of this program are here" in again.json()["faults"][0]["what"]
    assert piece(technician, number, 40, JOB[40:] + "M30").status_code == 422  # more than was said
    assert piece(technician, number, 40, JOB[40:]).json()["state"] == "running"
    review = at_its_end(as_role("viewer"), number)
    assert review["state"] == "done" and review["seconds"] > 12
    reported = {finding["check"]: finding for finding in review["findings"]}
    assert reported["beyond-travel"]["line"] == 5 and "9262.35" in reported["beyond-travel"]["message"]
    assert dict(review["by_line"])[4] == pytest.approx(12.0, abs=0.1)  # 300 mm at 1500 mm/min
    text = send(as_role("viewer"), "GET", f"/api/machines/heron/reviews/{number}/text?at=40")
    assert text.content.decode() == JOB[40:]
    assert piece(technician, number, len(JOB), "M30").status_code == 422


@pytest.mark.django_db(transaction=True)
def test_a_long_one_is_followed_and_cancelled(technician: Client) -> None:
    job = JOB[: JOB.index("G1 X9000")] + "G1 X310\nG1 X300\n" * 60_000 + "M30\n"
    number = begun(technician, len(job)).json()["id"]
    piece(technician, number, 0, job)
    seen = set()
    for _ in range(200):
        review = send(technician, "GET", f"/api/machines/heron/reviews/{number}").json()
        seen.add(review["doing"])
        if review["doing"] == "Running" and review["share"] > 0.1:
            break
        time.sleep(0.05)
    assert {"Reading", "Running"} <= seen
    send(technician, "POST", f"/api/machines/heron/reviews/{number}/cancel")
    assert at_its_end(technician, number)["state"] == "cancelled"


def test_what_is_too_large_or_not_known_is_refused(technician: Client) -> None:
    for change, says in (
        ({"size": 200_000_000}, "at most 100 MB"),
        ({"size": 0}, "is empty"),
        ({"profile": "no such"}, "no control profile"),
    ):
        answer = begun(technician, **cast(Any, {"size": 9, **change}))
        assert answer.status_code == 422 and says in answer.json()["faults"][0]["what"]
    assert begun(technician, 9, purpose="lunch").status_code == 422
    assert send(technician, "GET", "/api/machines/heron/reviews/99").status_code == 404


def test_only_who_began_it_adds_to_it(technician: Client, as_role: AsRole) -> None:
    number = begun(technician, 20).json()["id"]
    assert piece(as_role("supervisor"), number, 0, "G1 X5").status_code == 422


def test_the_oldest_are_forgotten_with_their_texts_but_none_that_is_on_its_way(
    technician: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    numbers = [begun(technician, 9).json()["id"] for _ in range(actions.KEPT + 2)]

    def listed() -> list[int]:
        return [entry["id"] for entry in send(technician, "GET", "/api/machines/heron/reviews").json()]

    assert listed() == numbers[::-1]  # five others were begun, and the first still comes
    first = Review.objects.get(pk=numbers[0])
    text = texts.text_of(first)
    monkeypatch.setattr(actions, "SENDING_WITHIN", timedelta(0))  # they do not come any more
    last = begun(technician, 9).json()["id"]
    assert listed() == [last, *numbers[:2:-1]] and not text.exists()


def test_a_full_disk_keeps_no_part_of_a_piece(technician: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    number = begun(technician, 20).json()["id"]
    assert piece(technician, number, 0, "G1 X5").json()["here"] == 5
    review = Review.objects.get(pk=number)
    resource.setrlimit(resource.RLIMIT_FSIZE, (8, resource.getrlimit(resource.RLIMIT_FSIZE)[1]))
    before = signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
    try:
        with pytest.raises(OSError):
            texts.added(review, 5, b"0123456789")
    finally:
        hard = resource.getrlimit(resource.RLIMIT_FSIZE)[1]
        resource.setrlimit(resource.RLIMIT_FSIZE, (hard, hard))
        signal.signal(signal.SIGXFSZ, before)
    assert texts.text_of(review).read_bytes() == b"G1 X5"
    full = OSError(errno.ENOSPC, "No space left on device")
    monkeypatch.setattr(actions, "added", lambda *_: (_ for _ in ()).throw(full))
    answer = piece(technician, number, 5, "0")
    assert answer.status_code == 507 and "disk with the server's data is full" in answer.json()["message"]


def test_a_job_is_played_as_a_job_and_an_exchange_as_one(heron: Machine, as_role: AsRole) -> None:
    asked = {"document": heron.head.document, "program": JOB, "from_tool": 2, "to_tool": 9}
    viewer = as_role("viewer")
    job = send(viewer, "POST", "/api/preview", {**asked, "purpose": "job"}).json()["exchange"]
    reported = {finding["check"] for finding in job["findings"]}
    assert "beyond-travel" in reported and not reported & {"same-tool-unguarded", "failure-continues", "low-return"}
    assert job["trace"]["blocks"][-1]["line"] == 5
    exchange = send(viewer, "POST", "/api/preview", {**asked, "program": JOB.replace("G1 X9000\n", "")}).json()[
        "exchange"
    ]
    assert (
        "body-contact" in {finding["check"] for finding in exchange["findings"]} - reported
    )  # with a tool in the spindle
    assert send(viewer, "POST", "/api/preview", {**asked, "purpose": "lunch"}).status_code == 422
    words = send(viewer, "GET", "/api/vocabulary").json()["purposes"]
    assert set(words) == {"exchange", "measure", "probe", "return", "job"} and words["job"] == "a job that cuts"


def test_a_text_that_is_gone_is_reported_and_one_of_another_database_is_not_shown(technician: Client) -> None:
    number = begun(technician, 20).json()["id"]
    texts.forget(Review.objects.get(pk=number))
    for answer in (
        send(technician, "GET", f"/api/machines/heron/reviews/{number}/text"),
        piece(technician, number, 0, "G1 X5"),
    ):
        assert answer.status_code == 422 and "not on the server any more" in answer.json()["message"]
    assert send(technician, "GET", f"/api/machines/heron/reviews/{number}").json()["here"] == 0
    # after a restore another program may have the number: the text is found by what it holds
    other = begun(technician, 9).json()["id"]
    (texts.folder() / f"{other}.nc").write_text("G1 X1 Y2\n")
    assert send(technician, "GET", f"/api/machines/heron/reviews/{other}/text").content == b""
    Review.objects.filter(pk=other).update(digest="0" * 64, state="done")
    assert send(technician, "GET", f"/api/machines/heron/reviews/{other}/text").status_code == 422


@pytest.mark.django_db(transaction=True)
def test_one_that_the_server_was_stopped_in_is_reported_as_cancelled(technician: Client) -> None:
    number = begun(technician, len(JOB)).json()["id"]
    Review.objects.filter(pk=number).update(state=Review.State.RUNNING)  # as after a restart: nobody runs it
    assert send(technician, "GET", f"/api/machines/heron/reviews/{number}").json()["state"] == "cancelled"
    assert send(technician, "POST", f"/api/machines/heron/reviews/{number}/cancel").status_code == 200


@pytest.mark.django_db(transaction=True)
def test_one_that_takes_too_long_fails_with_the_limit(technician: Client) -> None:
    job = JOB[: JOB.index("G1 X9000")] + "G1 X310\nG1 X300\n" * 40_000 + "M30\n"
    with override_settings(REVIEW_SECONDS=0.3):
        running.end()
        number = begun(technician, len(job)).json()["id"]
        piece(technician, number, 0, job)
        review = at_its_end(technician, number)
    running.end()
    assert review["state"] == "failed" and "longer than 0.3 seconds" in review["error"]
