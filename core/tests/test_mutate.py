"""The proof is attacked by edits of the written texts: a fixed sample; all of them by `make mutate`."""

import random

import pytest
from edits import edits
from mutate import Subject, attacked, cases_of

SAMPLE = [
    (Subject("curlew", "exchanges"), 14),
    (Subject("knot", "exchanges"), 12),
    (Subject("curlew", "routines", "frame left edge"), 8),
]


@pytest.mark.parametrize("subject, count", SAMPLE, ids=str)
def test_an_edit_is_told_or_does_no_harm(subject: Subject, count: int) -> None:
    every = list(edits(cases_of(subject)[0]))
    outcomes = [attacked(subject, edit) for edit in random.Random(7).sample(every, count)]
    assert any(outcome.outcome == "found" for outcome in outcomes)
    survived = [(o.edit.line, o.edit.how, o.edit.before) for o in outcomes if not o.outcome]
    assert not survived


def test_edits_change_one_place_and_none_is_made_twice() -> None:
    text = "G21 G90 (G1 X5)\nG1 X5 F60\nG4 P0.5\nM30"
    found = list(edits(text))
    assert len({edit.text for edit in found}) == len(found) and text not in {edit.text for edit in found}
    assert {"left out", "exchanged with the next", "G1 for G0", "half", "one more", "other sign"} <= {
        e.how for e in found
    }
    assert all("(G1 X5)" in edit.text for edit in found if edit.line != 1)
