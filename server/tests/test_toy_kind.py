"""A style that only a test has is offered, drawn and stored by the server, with no edit elsewhere."""

import json
from collections.abc import Callable, Iterator
from typing import Any

import pytest
import toy
from django.test import Client
from shop.adding.jobs import changer
from shop.stages import jobs


@pytest.fixture(autouse=True)
def _toy() -> Iterator[None]:
    with toy.present():
        yield


def test_its_words_are_offered(as_role: Callable[[str], Client]) -> None:
    words = as_role("viewer").get("/api/vocabulary").json()
    assert (
        words["styles"]["magnet row"]["switches"] == ["magnet"]
        and words["faults"]["magnet-weak"] == "the magnet is weak"
    )
    assert {"tool held"} <= set(words["input_roles"]) and {"magnet"} <= set(words["output_roles"])


def test_a_machine_gets_one_and_its_exchange_is_answered() -> None:
    document = toy.document()
    made = json.loads(changer({**document, "changer": None, "tools": [], "inputs": [], "outputs": []}, "magnet row"))
    assert made["document"]["changer"] == document["changer"]
    asked = {"from_tool": 0, "to_tool": 1, "profile": None, "fault": "magnet-weak"}
    reported: Any = jobs.Answer.model_validate_json(jobs.preview(document, asked))
    assert reported.scene and reported.scene.magazine and reported.scene.magazine.style == "magnet row"
    assert reported.exchange and reported.exchange.under and reported.exchange.under.fault == "magnet-weak"
    assert reported.exchange.trace and reported.derived and len(reported.derived.pockets) == 4
    assert [signal.role for signal in reported.uses] == ["magnet", "tool held"]
