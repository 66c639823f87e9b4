"""Takes the pictures in docs/screenshots from the demo data (make screenshots)."""

import re
import tempfile
from pathlib import Path

from playwright.sync_api import Page
from serving import ROOT, Server, chromium

FOLDER = ROOT / "docs" / "screenshots"


def shot(page: Page, name: str) -> None:
    page.wait_for_timeout(400)
    page.screenshot(path=FOLDER / f"{name}.png")


def stage(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Stages").get_by_role("link", name=re.compile(f"^{name}")).click()


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
    lane = page.locator("[data-scrub]")
    lane.click(position={"x": 330, "y": 100})
    shot(page, "changer-playing")
    page.keyboard.press("d")
    shot(page, "changer-dark")
    page.keyboard.press("d")
    for name in ("Machine", "Tools"):
        stage(page, name)
        shot(page, name.lower())
    stage(page, "Proof")
    shot(page, "proof")
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


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder) / "data", fresh=True)
        server.start()
        try:
            with chromium() as browser:
                take(browser.new_context(viewport={"width": 1280, "height": 800}).new_page(), server)
        finally:
            server.stop()


if __name__ == "__main__":
    main()
