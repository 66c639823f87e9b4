"""Changers of other styles in the browser: proven, and one taken in place of another."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect
from test_jobs import saved

OpenAs = Callable[[str], Page]


def test_a_fork_rack_is_proven_and_a_cell_plays_it(open_as: OpenAs) -> None:
    page = open_as("technician")
    page.goto(f"{page.url.rstrip('/')}/machines/curlew/proof")
    page.get_by_role("button", name="Run the proof").click()
    expect(page.get_by_text("All 72 sequences are proven.")).to_be_visible(timeout=180_000)
    page.get_by_role("button", name=re.compile("^the pocket is full")).click()
    expect(page.get_by_text("A sensor at the pocket")).to_be_visible()
    page.get_by_role("button", name=re.compile("^T1 to T2, no sensor detects it")).click()
    expect(page.get_by_label("Requested tool")).to_have_value("2")
    expect(page.locator("[data-under='pocket-full']")).to_contain_text("the pocket is full")
    expect(page.locator(".line-now, [data-now]").first).to_be_visible()
    page.get_by_role("button", name="Play the normal run").click()
    expect(page.locator("[data-lane='grip']")).to_be_visible()
    page.get_by_role("button", name="Copy the text").click()
    assert "slowly into the fork" in page.evaluate("navigator.clipboard.readText()")


def test_another_style_is_taken_in_place_of_the_one_there_is_and_undone(open_as: OpenAs) -> None:
    page = open_as("supervisor")
    page.goto(f"{page.url.rstrip('/')}/machines/knot/changer")
    page.get_by_role("button", name="Another style of changer").click()
    page.get_by_role("button", name="Take the changer out").click()
    page.get_by_role("button", name=re.compile("^Add a moving disc")).click()
    expect(page.get_by_role("button", name=re.compile("^Swing"))).to_be_visible()
    expect(page.get_by_text("No output has the role magazine")).to_be_visible()
    saved(page)
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    expect(page.get_by_text("loading place").first).to_be_visible()
