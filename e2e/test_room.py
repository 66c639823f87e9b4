"""How close and how wrong in the browser: the gap on the sheet at its moment, the room of each quantity, stale after an edit."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect
from test_jobs import saved

OpenAs = Callable[[str], Page]


def test_the_closest_passing_is_drawn_at_its_moment(open_as: OpenAs) -> None:
    page = open_as("viewer")
    page.goto(f"{page.url.rstrip('/')}/machines/curlew/changer")
    first = page.get_by_role("region", name="Clearance").get_by_role("listitem").first
    expect(first).to_contain_text("8.000 mm in height, the spindle body past")
    expect(page.locator("[data-clearance]")).to_have_count(0)
    first.get_by_role("button").click()
    expect(page.locator("[data-clearance]")).to_contain_text("8.000 mm")
    assert float(page.locator("[data-clearance]").get_attribute("data-clearance") or "nan") == 8.0


def test_the_room_is_found_opened_at_its_limit_and_stale_after_an_edit(open_as: OpenAs) -> None:
    page = open_as("technician")
    shop = page.url.rstrip("/")
    page.goto(f"{shop}/machines/knot/proof")
    page.get_by_role("button", name=re.compile("^Room")).click()
    expect(page.get_by_text("Not searched yet. Press")).to_be_visible()
    page.get_by_role("button", name="Find the room").click()
    expect(page.get_by_role("button", name="Find it again")).to_be_enabled(timeout=180_000)
    row = page.locator("[data-room='/changer/x']")
    expect(row).to_contain_text(re.compile(r"210\.000 mm *0\.49\d mm *0\.49\d mm *typed"))
    row.get_by_role("button").click()
    expect(page.get_by_label("Requested tool")).to_have_value("1")
    expect(page.locator("[data-now]").first).to_be_visible()
    page.get_by_label("Exchange place Y", exact=True).first.fill("41")
    page.get_by_label("Exchange place Y", exact=True).first.press("Enter")
    saved(page)
    page.goto(f"{shop}/machines/knot/proof")
    page.get_by_role("button", name=re.compile("^Room")).click()
    expect(page.get_by_text(re.compile("quantities, stale"))).to_be_visible()
    expect(page.get_by_role("button", name="Find the room")).to_be_enabled()
