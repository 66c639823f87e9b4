"""Changers of other styles in the browser: added, proven, and settled after power was lost in the middle of an
exchange."""

import re
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from serving import Practice
from test_jobs import saved
from test_practice import at_speed

OpenAs = Callable[[str], Page]


@pytest.fixture
def practice(tmp_path: Path) -> Iterator[Practice]:
    running = Practice(tmp_path / "practice", 7)
    running.start()
    yield running
    running.stop()


def test_a_fork_rack_is_proven_and_a_cell_plays_it(open_as: OpenAs) -> None:
    page = open_as("technician")
    page.goto(f"{page.url.rstrip('/')}/machines/curlew/proof")
    page.get_by_role("button", name="Run the proof").click()
    expect(page.get_by_text("All 72 sequences are proven.")).to_be_visible(timeout=40_000)
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


def test_power_lost_in_an_exchange_is_settled_from_the_sheet(open_as: OpenAs, practice: Practice) -> None:
    page = open_as("technician")
    page.goto(f"{page.url.rstrip('/')}/machines/dunlin/changer")
    expect(page.locator("[data-standing=connected]")).to_be_visible()
    page.get_by_role("button", name="Hand panel").click()
    at_speed(page, "at once")
    page.get_by_role("button", name="Home", exact=True).click()
    expect(page.locator("[data-homed=true]")).to_be_visible(timeout=20_000)
    at_speed(page, "real time")
    page.get_by_label("Tool in the spindle").select_option("0")
    page.get_by_label("Requested tool").select_option("1")
    page.get_by_role("button", name="Run it at the practice machine").click()
    expect(page.locator("[data-standing]")).to_contain_text("running")
    page.wait_for_timeout(1500)
    page.get_by_role("button", name="Practice machine", exact=True).click()
    page.get_by_role("button", name="Take the power away").click()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="After a stop").click()
    told = page.get_by_role("button", name=re.compile("^The machine's block is line"))
    expect(told).to_be_visible()
    told.click()
    sheet = page.get_by_role("region", name="Correct the record")
    expect(sheet).to_contain_text("the spindle is empty", ignore_case=True)
    expect(page.locator("[data-keyed]")).to_contain_text("#160 = 0")
    sheet.get_by_role("button", name="Set it at the machine").click()
    expect(sheet.get_by_role("status")).to_contain_text("Set: in the spindle is no tool")
