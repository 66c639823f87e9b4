"""Takes the pictures in docs/screenshots from the demo data (make screenshots)."""

import re
import tempfile
from pathlib import Path

from playwright.sync_api import Page
from serving import ROOT, Practice, Server, chromium

FOLDER = ROOT / "docs" / "screenshots"


def shot(page: Page, name: str) -> None:
    page.wait_for_timeout(400)
    page.screenshot(path=FOLDER / f"{name}.png")


def stage(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Stages").get_by_role("link", name=re.compile(f"^{name}")).click()


def length_by_hand(page: Page) -> None:
    page.get_by_role("button", name="A length by hand").click()
    page.get_by_label("shim", exact=True).fill("0.1")
    page.get_by_label("shim", exact=True).press("Enter")
    page.get_by_label("the readout shows").fill("10.87")
    page.get_by_label("the readout shows").press("Enter")
    page.get_by_role("button", name="Take it as the length").wait_for()
    shot(page, "length-by-hand")


def take(page: Page, server: Server) -> None:
    page.goto(server.address)
    page.get_by_role("button", name="technician edits").click()
    page.get_by_role("link", name=re.compile("Heron")).wait_for()
    stage_link = page.get_by_role("link", name=re.compile("Heron")).first
    stage_link.click()
    page.wait_for_selector("[data-time]")
    stage(page, "Proof")
    page.get_by_role("button", name="Run the proof").click()
    page.locator("button[data-worst=none]").nth(71).wait_for(timeout=20_000)
    page.keyboard.press("g")
    page.get_by_role("link", name=re.compile("Heron")).wait_for()
    shot(page, "shop")
    page.get_by_role("link", name=re.compile("Heron")).first.click()
    page.wait_for_selector("[data-time]")
    page.get_by_label("Tool in the spindle").select_option("4")
    page.get_by_label("Requested tool").select_option("9")
    page.get_by_label("Pitch", exact=True).first.focus()
    page.wait_for_timeout(300)
    shot(page, "changer")
    page.locator("[data-scrub]").click(position={"x": 330, "y": 100})
    page.keyboard.press("d")
    shot(page, "changer-dark")
    page.keyboard.press("d")
    stage(page, "Tools")
    page.get_by_label("T2 length").focus()
    page.get_by_label("Cutting length").focus()
    page.wait_for_timeout(600)
    shot(page, "tools")
    length_by_hand(page)
    setter(page)
    at_the_machine(page)
    stage(page, "Proof")
    page.get_by_role("button", name=re.compile("^Run")).last.click()
    page.get_by_role("button", name="Stop", exact=True, disabled=False).wait_for(
        timeout=30_000
    )  # an older one is shown
    page.locator("[data-fault=pocket-empty]").wait_for(timeout=30_000)
    page.get_by_role("button", name="Stop", exact=True, disabled=True).wait_for(timeout=120_000)
    shot(page, "proof")
    page.locator("[data-fault=tool-long]").click()
    shot(page, "proof-fault")
    stage(page, "Changer")
    page.get_by_label("Stored top", exact=True).first.fill("-140")
    page.get_by_label("Stored top", exact=True).first.press("Enter")
    page.wait_for_selector("li[data-check=low-lateral]")
    page.get_by_label("Tool in the spindle").select_option("2")
    page.locator("li[data-check=body-contact]").get_by_role("button", name=re.compile("line")).click()
    shot(page, "changer-finding")
    stage(page, "Proof")
    page.wait_for_selector("[data-saving=saved]")
    page.get_by_role("button", name="Run the proof").click()
    page.locator("button[data-worst=stop]").nth(50).wait_for(timeout=20_000)
    shot(page, "proof-failing")
    other_styles(page, server)


def other_styles(page: Page, server: Server) -> None:
    """A disc that has swung out, and the settling sheet of a stopped exchange on forks."""
    page.goto(f"{server.address}/machines/plover/changer")
    page.wait_for_selector("[data-time]")
    box = page.locator("[data-scrub]").bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + 8 + (box["width"] - 16) * 0.47, box["y"] + 60)
    shot(page, "changer-disc")
    page.goto(f"{server.address}/machines/curlew/changer")
    page.wait_for_selector("[data-time]")
    page.get_by_role("button", name="After a stop").click()
    page.locator("[data-stretch='86'] button").first.click()
    shot(page, "settling")


def setter(page: Page) -> None:
    """The setter's window with a touch under way, and its plane height with five runs."""
    stage(page, "Setter")
    page.get_by_label("Tool to measure").select_option("5")
    page.wait_for_timeout(400)
    page.locator("[data-scrub]").click(position={"x": 410, "y": 60})
    shot(page, "setter")
    page.get_by_role("button", name="Plane height", exact=True).click()
    for plane in ("-124.512", "-124.505", "-124.521", "-124.508", "-124.515"):
        field = page.get_by_label("or type it")
        field.fill(plane)
        field.press("Enter")
        page.get_by_role("button", name="Add it").click()
    page.locator("[data-plane]").wait_for()
    page.get_by_label("the zero was set by").select_option("another tool")
    field = page.get_by_label("the readout shows")
    field.fill("50.3")
    field.press("Enter")
    page.locator("[data-block-error]").wait_for()
    shot(page, "setter-plane")


def at_the_machine(page: Page) -> None:
    """Machine, Signals and the hand panel, with the practice machine running."""
    stage(page, "Machine")
    page.locator("[data-standing=connected]").wait_for()
    page.locator("[data-usable]").wait_for()
    shot(page, "machine")
    page.get_by_role("button", name="Control profile", exact=True).click()
    page.get_by_role("button", name="Copy", exact=True).click()
    page.locator("[data-agrees=true]").wait_for()
    shot(page, "control-profile")
    page.get_by_role("button", name="Remove", exact=True).click()
    stage(page, "Signals")
    page.get_by_role("button", name=re.compile("^setter I5")).click()
    test = page.get_by_role("region", name="Test")
    for step, then in (("idle", "Make setter"), ("made", "Let go of setter"), ("idle again", "")):
        test.get_by_role("button", name=re.compile(f"^It is {step}:")).click()
        if then:
            test.get_by_role("button", name=then).click()
            page.wait_for_timeout(300)
    test.locator("[data-test=reversed]").wait_for()
    shot(page, "signals")
    hand_panel(page)
    pockets(page)


def hand_panel(page: Page) -> None:
    stage(page, "Changer")
    page.get_by_role("button", name="Hand panel").click()
    page.get_by_role("button", name="Practice machine", exact=True).click()
    page.get_by_role("button", name="at once").click()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Home", exact=True).click()
    page.locator("[data-homed=true]").wait_for()
    page.get_by_label("Datum X", exact=True).first.focus()
    page.get_by_role("group", name="Step").get_by_role("button", name="10", exact=True).click()
    for _ in range(12):
        page.get_by_role("button", name="Jog X plus").click()
    for _ in range(5):
        page.get_by_role("button", name="Jog Y minus").click()
    page.get_by_role("button", name="Look at the nose").click()
    page.get_by_role("button", name="Take reading").click()
    page.get_by_role("list", name="Readings").wait_for()
    page.get_by_label("Datum X", exact=True).first.focus()
    page.wait_for_timeout(500)
    shot(page, "hand-panel")
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Hand panel").click()


def pockets(page: Page) -> None:
    page.get_by_role("button", name="Pocket table").click()
    page.get_by_role("button", name="Pick T5").click()
    shot(page, "pocket-table")
    page.get_by_role("button", name="Where the pockets are").click()
    for pocket, x, y in (
        (1, "128.86", "1188.17"),
        (3, "245.62", "1187.82"),
        (6, "420.71", "1187.26"),
        (8, "537.39", "1186.91"),
        (10, "654.12", "1186.54"),
    ):
        page.get_by_label("Pocket to teach").select_option(str(pocket))
        page.get_by_role("button", name=f"Type the place of pocket {pocket} instead").click()
        for axis, value in (("X", x), ("Y", y)):
            field = page.get_by_label(f"Pocket {pocket} taught {axis}", exact=True)
            field.fill(value)
            field.press("Enter")
            page.wait_for_timeout(150)
    page.locator("[data-fit]").wait_for()
    shot(page, "alignment")
    page.get_by_role("button", name="Sheet", exact=True).click()


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        practice = Practice(Path(folder) / "practice")
        server = Server(Path(folder) / "data", fresh=True, practice=practice)
        practice.start()
        server.start()
        try:
            with chromium() as browser:
                take(browser.new_context(viewport={"width": 1280, "height": 800}).new_page(), server)
        finally:
            server.stop()
            practice.stop()


if __name__ == "__main__":
    main()
