"""The accessibility checker in the browser: nothing serious, on light and on dark ground, with a dialog open too."""

from collections.abc import Callable

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page

OpenAs = Callable[[str], Page]
RULES = {"runOnly": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]}
PLACES = [
    *(
        f"heron/{stage}"
        for stage in ("machine", "signals", "changer", "setter", "tools", "probes", "routines", "proof")
    ),
    "godwit/changer",
    "curlew/routines",
]


def serious(page: Page) -> list[str]:
    found = Axe().run(page, options=RULES).response["violations"]
    return [
        f"{violation['id']}: {node['html'][:120]}"
        for violation in found
        if violation["impact"] in ("serious", "critical")
        for node in violation["nodes"]
    ]


@pytest.mark.parametrize("dark", [False, pytest.param(True, marks=pytest.mark.thorough)], ids=["light", "dark"])
def test_no_place_has_a_serious_violation(open_as: OpenAs, dark: bool) -> None:
    page = open_as("technician")
    shop = page.url.rstrip("/")
    if dark:
        page.keyboard.press("d")
    assert not serious(page)
    for place in PLACES[::3] if dark else PLACES:  # the same screens in other colours
        page.goto(f"{shop}/machines/{place}")
        page.wait_for_load_state("networkidle")
        page.wait_for_timeout(300)
        assert not serious(page), place
    page.keyboard.press("Control+k")
    assert not serious(page)
    page.keyboard.press("Escape")
    page.keyboard.press("?")
    assert not serious(page)
