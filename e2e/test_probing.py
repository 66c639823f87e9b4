"""Probing at the practice machine: the probe qualified, then a corner, a bore and an angle found on parts that were put down
carelessly; each result is within its stated uncertainty of the hidden truth."""

import json
import math
import re
from collections.abc import Callable

from orthotrope.practising.truth import draw
from orthotrope.proof.routines import routine_case
from orthotrope.setup import read_setup
from playwright.sync_api import Page, expect
from serving import ROOT, Practice, Server
from test_jobs import saved, stage
from test_practice import SEED, at_speed, input_tested, practice

__all__ = ["practice"]  # a fixture

OpenAs = Callable[[str], Page]
ENTERED = "async () => (await (await fetch('/api/machines/curlew')).json()).document"
HELD = "One in twenty may be further off than its half width at 95 %."
HIDDEN = draw(read_setup((ROOT / "demo/setups/curlew.json").read_bytes()), SEED)


def curlew(page: Page, where: str) -> None:
    page.goto(f"{page.url.rstrip('/')}/machines/curlew/{where}")
    expect(page.locator("[data-standing=connected]")).to_be_visible()
    page.get_by_role("button", name="Hand panel").click()


def run(page: Page, put: str, says: str) -> None:
    """Put a part down, or set something up, and run the program that is shown."""
    page.get_by_role("button", name=put).click()
    expect(page.get_by_text(re.compile("(stands|lies) there, and T8 is in the spindle"))).to_be_visible()
    page.get_by_role("button", name="Run it at the practice machine").click()
    expect(page.get_by_text(f"“{says}")).to_be_visible()
    expect(page.locator("[data-standing]")).to_contain_text("ready")


def view(page: Page, name: str) -> None:
    page.get_by_role("button", name=name, exact=True).click()


def qualified(page: Page) -> None:
    """Length, effective diameter, and half a turn."""
    put = "Set it up at the practice machine"
    view(page, "Qualify")
    for count in range(1, 4):
        run(page, put, "length of touch probe is found")
        take = page.get_by_role("button", name="Take the touch from the machine")
        expect(take).to_be_enabled()
        take.click()
        expect(page.get_by_text(f"{count} taken so far")).to_be_visible()
    region = page.get_by_role("region", name="Length", exact=True)
    region.get_by_role("button", name="set it").click()
    expect(region).to_contain_text("Length and repeatability are set.")
    page.get_by_role("button", name="diameter of touch probe", exact=True).click()
    region = page.get_by_role("region", name="Diameter", exact=True)
    run(page, put, "diameter of touch probe is found")
    page.get_by_role("button", name="Take 12 touches from the machine").click()
    expect(page.locator("[data-lobes='12']")).to_be_visible()
    page.get_by_role("button", name="Turn the spindle by half a turn").click()
    turned = page.get_by_role("button", name="Take the touches of the half turn")
    expect(turned).to_be_disabled()  # those of before are not the half turn's
    page.get_by_role("button", name="Run it at the practice machine").click()
    expect(turned).to_be_enabled()
    turned.click()
    expect(page.locator("[data-runout]")).to_be_visible()
    region.get_by_role("button", name="set it").first.click()
    expect(region).to_contain_text("It is set")
    page.locator("[data-runout]").get_by_role("button", name="set it").click()
    expect(region.get_by_text("kept as a reading")).to_be_visible()
    saved(page)


def found(page: Page, routine: str, touches: int) -> dict[str, tuple[float, float, float]]:
    """A routine on a part that was put down carelessly: what was found, its half width, and what is really there."""
    page.get_by_role("list", name="Routines").get_by_role("button", name=re.compile(f"^{routine}")).click()
    view(page, "Touches")
    expect(page.get_by_text(re.compile(f"curlew-{routine.replace(' ', '-')}"))).to_be_visible()
    run(page, "Put a part down at the practice machine", f"{routine} is found")
    view(page, "Result")
    take = page.get_by_role("button", name=f"Take {touches} touches from the machine")
    expect(take).to_be_enabled()
    take.click()
    page.get_by_role("button", name="Show how the part really lies").click()
    expect(page.locator("[data-really]").first).to_be_visible()
    rows = {}
    for row in page.locator("[data-found]").all():
        value, half = float(row.get_attribute("data-value") or "nan"), float(row.get_attribute("data-half") or "nan")
        really = row.locator("[data-really]").get_attribute("data-really")
        rows[row.get_attribute("data-found") or ""] = (value, half, float(really or "nan"))
    return rows


def in_the_air(page: Page) -> None:
    """With no part there, in real time: the tip is touched by hand while it searches, and while it measures."""
    page.get_by_role("list", name="Routines").get_by_role("button", name=re.compile("^frame left edge")).click()
    view(page, "Touches")
    page.get_by_role("button", name="First in the air").click()
    air = page.get_by_role("region", name="In the air")
    for count, step in enumerate(("search the edge", "measure the edge"), 1):
        expect(air).to_contain_text(step, timeout=90_000)
        page.get_by_role("button", name="Touch the tip").click()
        expect(air).to_contain_text(f"{count} of about 2 touches made")
    expect(page.get_by_text("frame left edge is found").first).to_be_visible(timeout=90_000)


def test_a_corner_a_bore_and_an_angle_are_found_within_their_uncertainty(
    open_as: OpenAs, server: Server, practice: Practice
) -> None:
    page = open_as("technician")
    curlew(page, "signals")
    at_speed(page, "at once")
    page.get_by_role("button", name="Home", exact=True).click()
    expect(page.locator("[data-standing]")).to_contain_text("ready")
    input_tested(page, "touch probe")

    stage(page, "Probes")
    qualified(page)
    probe = page.evaluate(ENTERED)["probes"][0]
    assert probe["effective_diameter"] != 5.968 and probe["effective_uncertainty"] > 0 and probe["lobing"] > 0
    assert math.dist((probe["off_x"], probe["off_y"]), (HIDDEN.stylus_dx, HIDDEN.stylus_dy)) < 0.004

    stage(page, "Routines")
    results = [
        found(page, "frame corner", 5),
        found(page, "lamp ring bore", 6),
        found(page, "frame front angle", 3),
    ]
    assert [sorted(rows) for rows in results] == [["turn", "x", "y", "z"], ["diameter", "x", "y"], ["turn", "y"]]
    off = [abs(value - really) / half for rows in results for value, half, really in rows.values()]
    assert sum(part > 1 for part in off) <= 1 and max(off) < 2, (HELD, results)
    expect(page.locator("[data-zero]")).to_contain_text("Zero of work offset 1")
    page.get_by_role("button", name="set it in the Setup").click()
    expect(page.get_by_text("is set, and kept as readings")).to_be_visible()
    saved(page)
    value = results[2]["y"][0]
    assert abs(page.evaluate(ENTERED)["work_offsets"][0]["y"] - value) < 1e-6
    with page.expect_download() as download:
        page.get_by_role("button", name="CSV").click()
    rows = (download.value.path().read_text()).splitlines()
    assert rows[0].startswith("routine,quantity,unit,found") and any(
        row.startswith("frame front angle,turn,°") for row in rows
    )
    page.get_by_role("button", name="Keep this result").click()
    expect(page.get_by_text("This result is kept.")).to_be_visible()
    expect(page.locator("[data-kept]")).to_have_count(1)
    routines = page.get_by_role("list", name="Routines")
    routines.get_by_role(
        "button", name=re.compile("^frame top")
    ).click()  # which has no such result, and says nothing of it
    expect(page.get_by_role("heading", name="Result of frame top")).to_be_visible()
    expect(page).not_to_have_url(re.compile("result="))
    expect(page.get_by_text("was not kept for this routine")).to_have_count(0)
    page.go_back()
    expect(page.locator("[data-kept][aria-current]")).to_have_count(1)
    with page.expect_download() as download:
        page.get_by_role("button", name="PDF").click()
    assert download.value.path().read_bytes().startswith(b"%PDF")
    in_the_air(page)


def test_a_program_of_ones_own_is_reviewed_mended_and_run_again(open_as: OpenAs, server: Server) -> None:
    setup = read_setup(json.loads((ROOT / "demo" / "setups" / "curlew.json").read_text()))
    text, _ = routine_case(setup, setup.profile, "frame left edge")
    own = text.replace("+ 2.984]", "- 2.984]").replace("F60", "F90")
    page = open_as("technician")
    page.goto(f"{page.url.rstrip('/')}/machines/curlew/routines")
    page.get_by_role("list", name="Routines").get_by_role("button", name=re.compile("^frame left edge")).click()
    view(page, "Your program")
    page.get_by_role("button", name="Paste").click()
    page.get_by_label("Text of the program").fill(own)
    page.get_by_role("button", name="Review it").click()
    editor = page.locator("[data-editor]")
    expect(editor.locator("[data-check=value-differs]")).to_be_visible()
    believes = page.get_by_role("table", name="Values that the program uses")
    expect(believes.locator("[data-agrees=false]")).to_contain_text(["measuring feed", "radius of the tip"])
    page.get_by_label("beside it").select_option("written")
    expect(editor.locator(".cm-changedLine").first).to_be_visible()
    page.get_by_label("beside it").select_option("")
    fixes = page.get_by_role("list", name="Suggested fixes")
    for left in (1, 0):  # each is taken alone, and the text is run again
        fixes.get_by_role("button", name=re.compile("^Apply the fix to line")).first.click()
        expect(fixes.get_by_role("listitem")).to_have_count(left)
    expect(page.locator("[data-review='0']")).to_be_visible()

    content = page.get_by_role("textbox", name="Your program")  # fixed in the text, and run again
    content.focus()
    page.keyboard.press("Control+a")
    page.keyboard.insert_text(text.replace("+ 2.984]", "- 2.984]"))
    expect(page.get_by_text("Changed: run it again.")).to_be_visible()
    page.get_by_role("button", name="Run it again").click()
    expect(believes.locator("[data-agrees=false]")).to_have_count(1)
    expect(editor.locator("[data-check=radius-wrong-side]")).to_be_visible()
    content.focus()
    page.keyboard.press("Control+a")
    page.keyboard.insert_text(text)
    page.get_by_role("button", name="Run it again").click()
    expect(page.locator("[data-review='0']")).to_be_visible()
    view(page, "Under faults")
    page.get_by_role("button", name="Run it", exact=True).click()
    expect(page.get_by_text("Nothing is unsafe, and everything is noticed.")).to_be_visible()
    view(page, "Your program")
    page.get_by_role("button", name="Close it").click()
    expect(page.get_by_role("button", name="Open a file")).to_be_visible()
