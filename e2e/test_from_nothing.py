"""A machine of each kind built from nothing through the interface, with the numbers that are offered, to a green proof."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect
from test_jobs import saved, stage

OpenAs = Callable[[str], Page]

STYLES = {
    "thread-on rack": "router",
    "drop-in pockets": "machining centre",
    "fork rack": "machining centre",
    "moving disc": "machining centre",
    "disc with arm": "machining centre",
    "tools by hand": "machining centre",
}
MOST_CLICKS = 22
"""Of what was needed before, none of which ended green."""


LONG = ("fork rack", "drop-in pockets", "moving disc", "tools by hand")
"""Those that the quick run leaves to make test-all: the core proves each style from nothing anyway."""


@pytest.mark.parametrize(
    "style", [pytest.param(name, marks=pytest.mark.thorough) if name in LONG else name for name in STYLES]
)
def test_from_nothing_to_a_green_proof(open_as: OpenAs, style: str) -> None:
    page = open_as("technician")
    clicks = 0

    def click(name: str | re.Pattern[str], exact: bool = True) -> None:
        nonlocal clicks
        clicks += 1
        page.get_by_role("button", name=name, exact=exact).click()

    def choose(label: str, value: str) -> None:
        nonlocal clicks
        clicks += 1
        page.get_by_label(label).select_option(value)

    click("New machine")
    page.get_by_label("Name of the machine").fill("Avocet")
    click(STYLES[style])
    click(re.compile(f"^{style}"))
    click("Create the machine")
    expect(page.get_by_role("navigation", name="Stages")).to_be_visible()
    stage(page, "Setter")
    click("Add a setter")
    clicks += 1
    page.get_by_label("on the table").check()
    click("Add the setter")
    expect(page.get_by_text(re.compile(r"Input \d+, setter, was made for it"))).to_be_visible()
    stage(page, "Tools")
    for count in range(3):
        click("Add a tool")
        expect(page.get_by_label(f"T{count + 4} length", exact=True)).to_be_visible()
    stage(page, "Probes")
    click("Add a probe")
    clicks += 1
    page.get_by_label("touch probe").check()
    click("Add the probe")
    expect(page.get_by_text("T7 was made for it, of the type probe")).to_be_visible()
    stage(page, "Routines")
    for kind in ("bore", "edge"):
        choose("Add a routine", kind)
        expect(page.get_by_role("list", name="Routines").get_by_text(kind).first).to_be_visible()
    expect(page.get_by_label("Upper face, Z", exact=True)).to_have_accessible_description(re.compile("not entered yet"))
    saved(page)
    stage(page, "Proof")
    click("Run the proof")
    expect(page.get_by_text(re.compile(r"^\d+ of \d+ sequences"))).to_be_visible(timeout=120_000)
    latest = "async () => (await (await fetch('/api/machines/avocet/proofs/latest')).json())"
    for _ in range(240):
        if page.evaluate(latest)["state"] != "running":
            break
        page.wait_for_timeout(1000)
    proof = page.evaluate(latest)
    wrong = {cause["finding"]["message"] for cause in proof["causes"] if cause["finding"]["severity"] != "note"}
    assert not wrong, wrong
    unsafe = {group["says"] for fault in proof["faults"] for group in fault["groups"] if group["verdict"] == "unsafe"}
    assert proof["state"] == "done" and not unsafe, unsafe
    expect(page.get_by_role("link", name=re.compile("^Proof.*, proven$"))).to_be_visible()
    assert clicks <= MOST_CLICKS, clicks


def test_numbers_that_nobody_entered_are_marked_until_somebody_does(open_as: OpenAs) -> None:
    page = open_as("technician")
    page.get_by_role("button", name="New machine").click()
    page.get_by_label("Name of the machine").fill("Avocet")
    page.get_by_role("button", name="router", exact=True).click()
    page.get_by_role("button", name=re.compile("^thread-on rack")).click()
    page.get_by_role("button", name="Create the machine").click()
    expect(page.get_by_role("navigation", name="Stages")).to_be_visible()
    stage(page, "Tools")
    length = page.get_by_label("T2 length", exact=True)
    expect(length).to_have_accessible_description("not entered yet")
    expect(page.get_by_text("9 numbers here have not been entered yet")).to_be_visible()
    page.get_by_role("button", name="Show the first").click()
    expect(page.get_by_label("T1 diameter", exact=True)).to_be_focused()
    length.fill("55.8")  # the number that stands there: entered all the same
    length.press("Enter")
    expect(page.get_by_text("8 numbers here have not been entered yet")).to_be_visible()
    saved(page)
    page.reload()
    expect(length).not_to_have_accessible_description("not entered yet")
    page.get_by_role("button", name="All are right").click()
    expect(page.get_by_text("not been entered yet")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(page.get_by_text("8 numbers here have not been entered yet")).to_be_visible()
