"""Printed pages, read back from the PDF that the browser makes: the machine, its revision, the page's number, and all that is shown."""

import re
from collections.abc import Callable
from io import BytesIO

import pytest
from playwright.sync_api import Page, expect
from pypdf import PdfReader

OpenAs = Callable[[str], Page]

POINTS = {"A4": (842, 595), "Letter": (792, 612)}
"""Width and height of a page on its side, in points."""


def printed(page: Page, paper: str, holds: list[str]) -> list[str]:
    """The text of each page, once all that it is to hold is drawn, or is not in 30 s."""
    for _ in range(60):
        pages = pages_of(page, paper)
        if all(part in " ".join(pages) for part in holds):
            break
        page.wait_for_timeout(500)
    return pages


def pages_of(page: Page, paper: str) -> list[str]:
    """The text of each page as it is now."""
    reader = PdfReader(BytesIO(page.pdf(format=paper, landscape=True)))
    for sheet in reader.pages:
        assert (float(sheet.mediabox.width), float(sheet.mediabox.height)) == pytest.approx(POINTS[paper], abs=2)
    return [re.sub(r"\s+", " ", sheet.extract_text()) for sheet in reader.pages]


VIEWS = {
    "heron/changer": ["Pitch", "58.500", "Stored top", "on spacer", "Findings", "Clearance", "T1"],
    "heron/changer?view=table": [*(f"T{number} " for number in (1, 2, 3, 4, 5, 6, 8, 9)), "setter"],
    "curlew/machine?view=card": ["Soft limits", "900.000", "720.000", "480.000"],
    "plover/tools": ["T1", "T12", "1 to 12 of 25", "Diameter"],
    "heron/proof": ["Every sequence", "T9", "Causes, worst first"],
}


def test_each_page_says_what_it_is_of_and_nothing_is_cut(open_as: OpenAs) -> None:
    page = open_as("technician")
    home = page.url.rstrip("/")
    for where, holds in VIEWS.items():
        page.goto(f"{home}/machines/{where}")
        expect(page.get_by_role("navigation", name="Stages")).to_be_visible()
        expect(page.get_by_role("heading", level=1)).to_contain_text(re.split("[/?]", where)[0].capitalize())
        page.wait_for_load_state("networkidle")
        if where == "heron/proof":
            page.get_by_role("button", name="Run the proof").click()
            expect(page.get_by_role("link", name=re.compile("Changer *, proven"))).to_be_visible(timeout=90_000)
        machine, stage = re.split(r"[/?]", where)[:2]
        for paper in POINTS if where == "heron/changer" else ("A4",):
            pages = printed(page, paper, holds)
            whole = " ".join(pages)
            for number, text in enumerate(pages, 1):
                assert f"{machine.capitalize()} · {stage}, revision 1 by supervisor, 20" in text
                assert f"page {number} of {len(pages)}" in text
                assert re.search(r"printed 20\d\d-\d\d-\d\d \d\d:\d\d", text)
            assert not [part for part in holds if part not in whole]
            assert ("Datum pocket" in whole) == (where == "heron/changer")  # a table stands by itself
            for button in ("copy link", "Hand panel", "Skip to the stage", "Reserve a pocket"):
                assert button not in whole
            assert len(pages) <= 12
