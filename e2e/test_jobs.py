"""Pieces of the job, done through the interface as a technician does them."""

import json
import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from serving import ROOT, Server

OpenAs = Callable[[str], Page]
DOCUMENT = json.loads((ROOT / "demo" / "setups" / "heron.json").read_text(encoding="utf-8"))


def stage(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Stages").get_by_role("link", name=re.compile(f"^{name}")).click()


def enter(page: Page, label: str, value: str) -> None:
    field = page.get_by_label(label, exact=True).first
    field.fill(value)
    field.press("Enter")


def saved(page: Page) -> None:
    page.wait_for_selector("[data-saving=saved]")


def heron(page: Page, where: str = "Changer") -> None:
    page.get_by_role("link", name=re.compile("Heron")).first.click()
    page.wait_for_selector("[data-time]")
    if where != "Changer":
        stage(page, where)


def derived(page: Page, name: str) -> str:
    return (page.locator(f"[data-derived={name}]").text_content() or "").strip()


def test_commission_a_rack_from_a_bare_machine_to_a_proven_matrix(open_as: OpenAs, tmp_path: Path) -> None:
    page = open_as("technician")
    page.get_by_role("button", name="New machine").click()
    page.get_by_label("Name of the machine").fill("Dunlin")
    enter(page, "Travel of X", "24 in")
    enter(page, "Travel of Z", "160")
    page.get_by_role("button", name="Create the machine").click()
    expect(page.get_by_label("X data sheet to", exact=True)).to_have_value("609.600")
    stage(page, "Changer")
    page.get_by_role("button", name="Add a thread-on rack").click()
    for label, value in (
        ("Datum X", "140.25"),
        ("Datum Y", "851"),
        ("Pitch", "2 x 26.5"),
        ("Nose on spacer", "-131.4"),
        ("Rack sunk by", "0.4"),
        ("Stored top", "-122.8"),
        ("Margin", "12"),
        ("Coupling feed", "1500"),
    ):
        enter(page, label, value)
        page.wait_for_timeout(60)
    expect(page.locator("[data-derived=couple_z]")).to_have_text("−131.800")
    expect(page.locator("[data-derived=ideal_feed]")).to_have_text("1\u202f500")
    page.get_by_role("button", name="Carry").click()
    expect(page.locator(".working")).to_contain_text("stored top + longest tool + margin")
    enter(page, "Pitch", "-3")
    expect(page.get_by_role("alert")).to_contain_text("`pitch` must be above 0 mm; got −3.")
    page.get_by_label("Pitch", exact=True).first.press("Escape")
    expect(page.get_by_label("Pitch", exact=True).first).to_have_value("53.000")
    stage(page, "Tools")
    for count, length in enumerate(("62.5", "48", "55.25"), 1):
        page.get_by_role("button", name="Add a tool").click()
        enter(page, f"T{count} length", length)
        page.get_by_label(f"T{count} pocket").select_option(str(count * 2))
        saved(page)
    stage(page, "Changer")
    assert derived(page, "carry_z") == "−48.300"
    page.get_by_role("button", name="Pocket 2, T1").click()
    page.get_by_role("button", name="Pocket 6, T3").click()
    expect(page.get_by_label("Requested tool")).to_have_value("3")
    expect(page.locator("[data-severity=stop], [data-severity=warn]")).to_have_count(0)
    with page.expect_download() as download:
        page.get_by_role("button", name="Download the text").click()
    text = Path(download.value.path()).read_text()
    assert "#103 = 140.25 " in text and "#107 = -131.8 " in text and "IF [#2 EQ 3] THEN #102 = 6" in text
    page.get_by_role("button", name="Plain words").click()
    expect(page.get_by_role("button", name="Plain words")).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="Copy the text").click()
    copied = page.evaluate("navigator.clipboard.readText()")
    assert "from T1 to T3" in copied and "G53 G0 X193.25 Y851" in copied
    stage(page, "Proof")
    page.get_by_role("button", name="Run the proof").click()
    expect(page.locator("button[data-worst=none]")).to_have_count(12, timeout=180_000)
    expect(page.get_by_text("12 of 12 sequences")).to_be_visible()
    expect(page.get_by_role("link", name=re.compile(", proven$"))).to_have_count(
        1
    )  # of numbers that nobody has entered
    for name in ("Machine", "Changer", "Tools"):
        stage(page, name)
        page.get_by_role("button", name=re.compile("^(All are|It is) right$")).click()
    expect(page.get_by_role("link", name=re.compile(", proven$"))).to_have_count(4)
    stage(page, "Proof")
    page.reload()
    expect(page.locator("button[data-worst=none]")).to_have_count(12)


def test_a_contact_is_found_followed_to_its_moment_and_mended(open_as: OpenAs) -> None:
    page = open_as("technician")
    heron(page)
    page.get_by_role("button", name="Stored top,").click()  # on the drawing
    page.keyboard.type("-140")
    page.keyboard.press("Enter")
    expect(page.locator("[data-derived=empty_z]")).to_have_text("−132.000")
    saved(page)
    stage(page, "Proof")
    page.get_by_role("button", name="Run the proof").click()
    cell = page.get_by_role("button", name=re.compile("^T2 to T9, stop"))
    cell.wait_for(timeout=180_000)
    cell.click()
    finding = page.locator("li[data-check=body-contact]")
    expect(finding).to_contain_text("The spindle nose meets the setter in pocket 7")
    finding.get_by_role("button", name=re.compile("line")).click()
    expect(page.locator("[data-now]")).to_contain_text("X 453.400")
    expect(page.locator("[data-program] .cm-now")).to_contain_text("(over the pocket)")
    finding.get_by_role("button", name="Set the stored top to −124.2").click()
    expect(page.locator("li[data-check=body-contact]")).to_have_count(0)
    expect(page.get_by_label("Stored top", exact=True).first).to_have_value("−124.200")
    saved(page)
    expect(page.get_by_role("link", name=re.compile(", stale$"))).to_have_count(7)
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Stored top", exact=True).first).to_have_value("−140.000")
    page.keyboard.press("Control+y")
    expect(page.get_by_label("Stored top", exact=True).first).to_have_value("−124.200")


def test_stepping_and_playing_move_machine_time_and_block_together(open_as: OpenAs) -> None:
    page = open_as("viewer")
    heron(page)
    page.keyboard.press("End")
    expect(page.locator("[data-program] .cm-now")).to_contain_text("M99")
    page.keyboard.press("Home")
    seen = set()
    for _ in range(48):
        page.keyboard.press("ArrowRight")
        seen.add(page.locator("[data-now]").text_content())
    assert len(seen) >= 2
    line = page.locator("[data-program] .cm-now").text_content()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowLeft")
    assert page.locator("[data-program] .cm-now").text_content() == line
    before = page.locator("[data-time]").text_content()
    page.keyboard.press("Space")
    page.wait_for_timeout(600)
    page.keyboard.press("Space")
    assert page.locator("[data-time]").text_content() != before
    page.keyboard.press("Control+k")
    page.get_by_placeholder("type a few letters").fill("shop")
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="The shop").wait_for()


def test_two_windows_that_edit_the_same_number(open_as: OpenAs, console: list[str]) -> None:
    console.append("409")
    one, two = open_as("technician"), open_as("supervisor")
    for page in (one, two):
        heron(page)
        page.evaluate("document.dispatchEvent(new Event('visibilitychange'))")
    two.route(
        "**/api/machines/heron", lambda route: route.abort() if route.request.method == "GET" else route.continue_()
    )
    console.append("ERR_FAILED")
    enter(one, "Pitch", "58.6")
    saved(one)
    enter(two, "Pitch", "58.7")
    dialog = two.get_by_role("dialog")
    expect(dialog).to_contain_text("technician has changed the same value meanwhile")
    expect(dialog).to_contain_text("58.600")
    expect(dialog).to_contain_text("58.700")
    two.unroute("**/api/machines/heron")
    dialog.get_by_role("button", name="Keep mine").click()
    saved(two)
    expect(one.get_by_label("Pitch", exact=True).first).to_have_value("58.700", timeout=9000)
    enter(one, "Margin", "9")
    enter(two, "Hover gap", "13.6")
    saved(two)
    expect(one.get_by_label("Hover gap", exact=True).first).to_have_value("13.600", timeout=9000)
    expect(two.get_by_label("Margin", exact=True).first).to_have_value("9.000", timeout=9000)


def test_a_viewer_reads_and_cannot_edit(open_as: OpenAs) -> None:
    page = open_as("viewer")
    assert page.get_by_role("button", name="New machine").count() == 0
    heron(page)
    assert page.get_by_label("Pitch", exact=True).first.get_attribute("readonly") is not None
    page.get_by_role("button", name="Pitch, 58.500, edit").click()
    assert page.locator("foreignObject").count() == 0
    stage(page, "Proof")
    assert page.get_by_role("button", name="Run the proof").count() == 0
    stage(page, "Tools")
    assert page.get_by_role("button", name="Add a tool").count() == 0


def test_out_and_in_again_is_the_same_document_and_a_bad_file_is_reported(
    open_as: OpenAs, console: list[str], tmp_path: Path
) -> None:
    console.append("422")
    page = open_as("technician")
    heron(page)
    with page.expect_download() as download:
        page.get_by_role("button", name="technician").click()
        page.get_by_role("menuitem", name="Download the Setup file").click()
    file = tmp_path / "out.json"
    download.value.save_as(file)
    assert json.loads(file.read_text()) == DOCUMENT
    page.keyboard.press("g")
    bad = tmp_path / "bad.json"
    bad.write_text(json.dumps({**DOCUMENT, "colour": "red", "tools": [{"number": 0}]}))
    page.get_by_label("Setup file").set_input_files(bad)
    for words in ("bad.json was not imported", "/colour", "/tools/0/number", "/tools/0/length"):
        expect(page.get_by_role("alert")).to_contain_text(words)
    page.get_by_label("Setup file").set_input_files(file)
    page.wait_for_url("**/machines/heron-2/machine")
    copy = page.evaluate("fetch('/api/machines/heron-2/file').then(answer => answer.json())")
    assert copy == DOCUMENT


def test_a_server_restarted_between_edit_and_save_and_a_session_that_ended(
    open_as: OpenAs, console: list[str], server: Server
) -> None:
    console += ["ERR_CONNECTION", "Failed to fetch", "401"]
    page = open_as("technician")
    heron(page)
    page.route(
        "**/api/machines/heron", lambda route: route.abort() if route.request.method == "PUT" else route.continue_()
    )
    console.append("ERR_FAILED")
    enter(page, "Pitch", "58.61")
    page.wait_for_selector("[data-saving=offline]")
    server.stop()
    enter(page, "Margin", "9.5")
    expect(page.get_by_role("alert").filter(has_text="No connection to the server")).to_be_visible()
    server.start()
    page.unroute("**/api/machines/heron")
    saved(page)
    page.get_by_label("Margin", exact=True).first.press("Enter")
    expect(page.locator("[data-derived=empty_z]")).to_have_text("−114.700")
    saved(page)
    page.reload()
    expect(page.get_by_label("Pitch", exact=True).first).to_have_value("58.610")
    expect(page.get_by_label("Margin", exact=True).first).to_have_value("9.500")
    page.context.clear_cookies(name="sessionid")
    enter(page, "Hover gap", "13.7")
    page.get_by_role("alert").filter(has_text="What you entered is kept here").wait_for()
    page.get_by_role("button", name="technician edits").click()
    expect(page.get_by_text("This is a demo")).to_have_count(0)
    page.get_by_label("Hover gap", exact=True).first.press("Enter")
    expect(page.locator("[data-derived=hover_z]")).to_have_text("−130.650")
    saved(page)


def test_history_shows_who_changed_what_and_restores(open_as: OpenAs) -> None:
    page = open_as("technician")
    heron(page)
    enter(page, "Pitch", "58.9")
    saved(page)
    page.get_by_role("button", name="History").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Pitch: 58.500 mm → 58.900 mm")
    dialog.get_by_role("button", name="restore").last.click()
    expect(dialog).to_contain_text("restored from revision 1")
    page.keyboard.press("Escape")
    expect(page.get_by_label("Pitch", exact=True).first).to_have_value("58.500")


@pytest.mark.parametrize("width", [1024, 1280])
def test_nothing_is_cut_off_sideways(open_as: OpenAs, width: int) -> None:
    page = open_as("technician")
    page.set_viewport_size({"width": width, "height": 800})
    heron(page)
    wider = (
        "() => [...document.querySelectorAll('html, aside')].filter(part => part.scrollWidth > part.clientWidth).length"
    )
    for name in ("Machine", "Changer", "Setter", "Tools", "Probes", "Routines", "Proof"):
        stage(page, name)
        page.wait_for_timeout(150)
        assert page.evaluate(wider) == 0, name


def test_a_machine_begins_with_a_disc_is_copied_put_away_and_brought_back(open_as: OpenAs, console: list[str]) -> None:
    console.append("422")
    page = open_as("technician")
    page.get_by_role("button", name="New machine").click()
    page.get_by_label("Name of the machine").fill("Tern")
    page.get_by_role("button", name="machining centre").click()
    page.get_by_role("button", name=re.compile("^moving disc")).click()
    enter(page, "Travel of Z", "90")
    page.get_by_role("button", name="Create the machine").click()
    expect(page.get_by_role("alert")).to_contain_text("does not fit moving disc")
    enter(page, "Travel of Z", "18 in")
    page.get_by_role("button", name="Create the machine").click()
    page.wait_for_selector("[data-time]")
    expect(page.get_by_text("No findings.")).to_be_visible()
    stage(page, "Proof")
    page.get_by_role("button", name="Run the proof").click()
    expect(page.get_by_role("link", name=re.compile("Proof *, proven"))).to_be_visible(timeout=60_000)
    expect(
        page.get_by_role("link", name=re.compile("Changer *, filled"))
    ).to_be_visible()  # its numbers are not entered yet
    page.get_by_title("To the shop").click()
    page.get_by_role("button", name="What to do with Tern").click()
    page.get_by_role("menuitem", name="Copy").click()
    page.get_by_role("button", name="Copy", exact=True).click()
    expect(page).to_have_url(re.compile("/machines/tern-2/machine"))
    page.get_by_title("To the shop").click()
    page.get_by_role("button", name="What to do with Tern 2").click()
    page.get_by_role("menuitem", name="Put away").click()
    away = page.get_by_role("region", name="Put away")
    away.get_by_role("link", name="Tern 2").click()
    expect(page.get_by_text("This machine was put away on")).to_be_visible()
    page.get_by_title("To the shop").click()
    away.get_by_role("button", name="Bring back").click()
    expect(page.get_by_role("button", name="What to do with Tern 2")).to_be_visible()
