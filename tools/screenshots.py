"""Takes the pictures in docs/screenshots from the demo data (make screenshots)."""

import re
import tempfile
from pathlib import Path

from orthotrope.proof.routines import routine_case
from orthotrope.setup import read_setup
from playwright.sync_api import Page
from serving import ROOT, Practice, Server, chromium

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
    page.locator("[data-scrub]").click(position={"x": 330, "y": 100})
    stage(page, "Tools")
    page.get_by_label("T2 length").focus()
    page.get_by_label("Cutting length").focus()
    page.wait_for_timeout(600)
    shot(page, "tools")
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
    page.get_by_role("button", name=re.compile("^Room")).click()
    page.get_by_role("button", name="Find the room").click()
    page.get_by_role("button", name="Find it again", disabled=False).wait_for(timeout=200_000)
    shot(page, "room")
    stage(page, "Changer")
    page.get_by_label("Stored top", exact=True).first.fill("-140")
    page.get_by_label("Stored top", exact=True).first.press("Enter")
    page.wait_for_selector("li[data-check=low-lateral]")
    page.get_by_label("Tool in the spindle").select_option("2")
    page.locator("li[data-check=body-contact]").get_by_role("button", name=re.compile("line")).click()
    shot(page, "changer-finding")
    other_styles(page, server)
    probing(page, server)


def other_styles(page: Page, server: Server) -> None:
    """A disc that has swung out, where the spindle passes closest."""
    page.goto(f"{server.address}/machines/plover/changer")
    page.wait_for_selector("[data-time]")
    page.get_by_role("region", name="Clearance").get_by_role("button").first.click()
    shot(page, "changer-disc")


def run_at_the_machine(page: Page, put: str, says: str) -> None:
    page.get_by_role("button", name=put).click()
    page.get_by_text(re.compile("(stands|lies) there, and T8")).wait_for()
    page.get_by_role("button", name="Run it at the practice machine").click()
    page.get_by_text(f"“{says} is found").wait_for()


def probing(page: Page, server: Server) -> None:
    """A probe qualified with its form round the clock, three routines, and what one has found on a part put down carelessly."""
    page.goto(f"{server.address}/machines/curlew/signals")
    page.locator("[data-standing=connected]").wait_for()
    page.get_by_role("button", name="Hand panel").click()
    page.get_by_role("button", name="Practice machine", exact=True).click()
    page.get_by_role("button", name="at once").click()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Home", exact=True).click()
    page.locator("[data-homed=true]").wait_for()
    page.get_by_role("button", name=re.compile("^touch probe ")).click()
    test = page.get_by_role("region", name="Test")
    for outcome in ("reversed", "passed"):
        for step, then in (("idle", "Actuate touch probe"), ("made", "Release touch probe"), ("idle again", "")):
            test.get_by_role("button", name=re.compile(f"^It is {step}:")).click()
            if then:
                test.get_by_role("button", name=then).click()
                page.wait_for_timeout(300)
        test.locator(f"[data-test={outcome}]").wait_for()
        if outcome == "reversed":
            test.get_by_role("button", name=re.compile("Invert its level")).click()
            page.wait_for_selector("[data-saving=saved]")
    stage(page, "Probes")
    page.get_by_role("button", name="Qualify", exact=True).click()
    for _ in range(4):
        run_at_the_machine(page, "Set it up at the practice machine", "length of touch probe")
        page.get_by_role("button", name="Take the touch from the machine", disabled=False).click()
    page.get_by_role("region", name="Length", exact=True).get_by_role("button", name="set it").click()
    page.get_by_role("button", name="diameter of touch probe", exact=True).click()
    run_at_the_machine(page, "Set it up at the practice machine", "diameter of touch probe")
    page.get_by_role("button", name="Take 12 touches from the machine").click()
    page.locator("[data-lobes]").wait_for()
    page.get_by_role("button", name="Turn the spindle by half a turn").click()
    page.get_by_role("button", name="Run it at the practice machine").click()
    page.wait_for_timeout(2500)
    page.get_by_role("button", name="Take the touches of the half turn").click()
    page.locator("[data-runout]").wait_for()
    page.get_by_role("button", name="Hand panel").click()
    page.locator("[data-runout]").scroll_into_view_if_needed()
    shot(page, "probe-qualify")
    region = page.get_by_role("region", name="Diameter", exact=True)
    region.get_by_role("button", name="set it").first.click()
    page.get_by_text("It is set, and kept").wait_for()
    region.get_by_role("button", name="set it").last.click()
    page.wait_for_timeout(600)
    page.wait_for_selector("[data-saving=saved]")
    stage(page, "Routines")
    routines = page.get_by_role("list", name="Routines")
    for name, at, picture in (
        ("frame corner", 300, "routine-corner"),
        ("lamp ring bore", 420, "routine-bore"),
    ):
        routines.get_by_role("button", name=re.compile(f"^{name}")).click()
        page.get_by_text(re.compile(f"curlew-{name[:8].replace(' ', '-')}")).wait_for()
        page.wait_for_timeout(400)
        page.locator("[data-scrub]").click(position={"x": at, "y": 60})
        shot(page, picture)
    routines.get_by_role("button", name=re.compile("^frame corner")).click()
    page.get_by_role("button", name="Hand panel").click()
    run_at_the_machine(page, "Put a part down at the practice machine", "frame corner")
    page.get_by_role("button", name="Hand panel").click()
    page.get_by_role("button", name="Result", exact=True).click()
    page.get_by_role("button", name="Take 5 touches from the machine").click()
    page.get_by_role("button", name="Keep this result").click()
    page.get_by_text("This result is kept.").wait_for()
    page.get_by_role("button", name="Show how the part really lies").click()
    page.locator("[data-really]").first.wait_for()
    page.get_by_label("Deviations of the touches, magnified").scroll_into_view_if_needed()
    shot(page, "routine-result")
    reviewed(page)


def reviewed(page: Page) -> None:
    """A macro of one's own with three slips in it, beside the one that would be written."""
    setup = read_setup((ROOT / "demo" / "setups" / "curlew.json").read_bytes())
    text, _ = routine_case(setup, setup.profile, "frame left edge")
    own = text.replace("+ 2.984]", "- 2.5]").replace("F60", "F90").replace("IF [#170 NE 1] GOTO 2005\n#", "#")
    page.get_by_role("list", name="Routines").get_by_role("button", name=re.compile("^frame left edge")).click()
    page.get_by_role("button", name="Your program", exact=True).click()
    page.get_by_role("button", name="Paste").click()
    page.get_by_label("Text of the program").fill(own)
    page.get_by_role("button", name="Review it").click()
    page.locator("[data-editor] [data-check=value-differs]").wait_for()
    page.get_by_role("list", name="Suggested fixes").wait_for()
    page.get_by_label("beside it").select_option("written")
    page.wait_for_timeout(600)
    shot(page, "routine-review")


def setter(page: Page) -> None:
    """The setter's window with a touch under way, and its plane height with five runs."""
    stage(page, "Setter")
    page.get_by_label("Tool to measure").select_option("5")
    page.wait_for_timeout(400)
    page.locator("[data-scrub]").click(position={"x": 410, "y": 60})
    shot(page, "setter")
    page.get_by_role("button", name="Plane height", exact=True).click()
    for plane in ("-124.512", "-124.505", "-124.521", "-124.508", "-124.515"):
        for label in ("or type it", "again, as you read it"):
            field = page.get_by_label(label)
            field.fill(plane)
            field.press("Enter")
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
    stage(page, "Signals")
    page.get_by_role("button", name=re.compile("^setter I5")).click()
    test = page.get_by_role("region", name="Test")
    for step, then in (("idle", "Actuate setter"), ("made", "Release setter"), ("idle again", "")):
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
