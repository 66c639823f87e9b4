"""The five hours of docs/tour.md, step by step, literally: each step is named with the words that it has there, and none is left out."""

import re
from collections.abc import Callable
from functools import partial
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from serving import ROOT, Practice, Server
from test_jobs import enter, saved, stage
from test_measuring import in_the_spindle, on_the_block, run, view
from test_practice import SETUP, at_speed, creep_to_the_end, figure, input_tested, practice, take
from test_probing import in_the_air, qualified
from test_probing import run as run_routine

OpenAs = Callable[[str], Page]


__all__ = ["practice"]  # a fixture

HIDDEN_SHORT = 5.7387
"""mm that the practice machine's X is shorter than its data sheet, with the seed of these tests"""


class Hour:
    """The steps of an hour of the tour; each is walked once, in order."""

    def __init__(self, number: int) -> None:
        text = (ROOT / "docs" / "tour.md").read_text(encoding="utf-8").split("\n## ")[number]
        self.left = [re.sub(r"\s+", " ", step) for step in re.split(r"\n\d+\. ", text)[1:]]

    def step(self, *words: str) -> None:
        text = self.left.pop(0)
        for each in words:
            assert each in text, (each, text)


def shop(page: Page, name: str) -> None:
    page.get_by_title("To the shop").click()
    page.get_by_role("link", name=re.compile(name)).first.click()


def panel(page: Page) -> None:
    expect(page.locator("[data-standing=connected]")).to_be_visible()
    page.get_by_role("button", name="Hand panel").click()


def until(page: Page, holds: Callable[[], bool]) -> None:
    """Wait for what no locator can be asked for; the page's own policy lets no text be evaluated in it."""
    for _ in range(400):
        if holds():
            return
        page.wait_for_timeout(50)
    raise AssertionError("it has not come")


def moved(page: Page, axis: str, was: float) -> bool:
    return abs(figure(page, f"[data-axis={axis}]") - was) > 0.005


def at_the_machine(open_as: OpenAs, name: str) -> Page:
    """A machine on its stage Signals, with the hand panel open and a practice machine that loses no time."""
    page = open_as("technician")
    page.get_by_role("link", name=re.compile(name)).first.click()
    stage(page, "Signals")
    panel(page)
    at_speed(page, "at once")
    return page


def test_the_first_hour(open_as: OpenAs) -> None:
    hour = Hour(1)
    hour.step("Sign in as *technician* (one click in the demo) and open **Heron**")
    page = open_as("technician")
    page.get_by_role("link", name=re.compile("Heron")).first.click()

    hour.step(
        "On **Changer** click a number on the drawing, say the pitch",
        "`58.6` or `2.307 in` or `58.5 + 0.1`",
        "Click *Carry*",
    )
    stage(page, "Changer")
    pitch, before = page.get_by_label("Pitch", exact=True).first, "58.500"
    for typed, becomes in (("58.6", "58.600"), ("2.307 in", "58.5978"), ("58.5 + 0.1", "58.600")):
        page.get_by_role("button", name=f"Pitch, {before}, edit").click()
        page.keyboard.type(typed)
        page.keyboard.press("Enter")
        expect(pitch).to_have_value(becomes)
        before = becomes
    saved(page)
    page.get_by_role("button", name="Carry", exact=True).click()
    expect(page.locator(".working")).to_contain_text("stored top + longest tool + margin")
    page.keyboard.press("Control+z")
    expect(pitch).to_have_value("58.5978")

    hour.step(
        "two clicks on pockets of the plan, or the two lists", "Press space to play it, the arrows", "drag in the score"
    )
    page.get_by_role("button", name="Pocket 2, T2").click()
    page.get_by_role("button", name="Pocket 9, T9").click()
    expect(page.get_by_label("Requested tool")).to_have_value("9")
    page.get_by_label("Tool in the spindle").first.select_option("1")
    time, block = page.locator("[data-time]").first, page.locator("[data-program] .cm-now")
    for _ in range(2):  # space works right after a choice, and after that
        stood = time.text_content() or ""
        page.keyboard.press("Space")
        expect(time).not_to_have_text(stood)
        page.keyboard.press("Space")
    page.keyboard.press("Home")
    expect(time).to_have_text("0.00 s")
    line = block.text_content() or ""
    for _ in range(12):
        page.keyboard.press("ArrowRight")
    expect(block).not_to_have_text(line)
    chart = page.get_by_role("group", name="Time chart of the exchange").bounding_box()
    assert chart
    page.mouse.move(chart["x"] + chart["width"] * 0.3, chart["y"] + 30)
    page.mouse.down()
    blocks = set()
    for part in (0.4, 0.6, 0.8):
        stood = time.text_content() or ""
        page.mouse.move(chart["x"] + chart["width"] * part, chart["y"] + 30)
        expect(time).not_to_have_text(stood)
        blocks.add(block.text_content())
    assert len(blocks) > 1
    page.mouse.up()

    hour.step(
        "Type −140 as the stored top. Choose T2 to T9",
        "goes sideways too low",
        "Click a finding's line",
        "Click its fix",
    )
    page.get_by_label("Tool in the spindle").first.select_option("2")
    enter(page, "Stored top", "−140")
    expect(page.locator("li[data-severity=stop]").filter(has_text="It goes sideways over the changer")).to_be_visible()
    finding = page.locator("li[data-check=body-contact]")
    expect(finding).to_contain_text("The spindle nose meets the setter")
    finding.get_by_role("button", name=re.compile("line")).click()
    expect(block).to_contain_text("(over the pocket)")
    finding.get_by_role("button", name=re.compile("^Set the stored top to")).click()
    expect(page.locator("li[data-severity=stop]")).to_have_count(0)
    saved(page)

    hour.step(
        "Take that back (Ctrl Z), and on **Proof** run every pair", "Change a number: the proof is stale and says why"
    )
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Stored top", exact=True).first).to_have_value("−140.000")
    saved(page)
    stage(page, "Proof")
    page.get_by_role("button", name="Run the proof").click()
    page.get_by_role("button", name=re.compile("^T2 to T9, stop")).click(timeout=60_000)
    expect(page.get_by_label("Requested tool")).to_have_value("9")
    expect(page.locator("[data-now]")).to_contain_text("Z −58.4")
    enter(page, "Margin", "9")
    saved(page)
    stage(page, "Proof")
    expect(page.get_by_text(re.compile("Margin")).first).to_be_visible()

    hour.step(
        "*History* (H)", "looked at on every stage, laid beside another, and restored", "U lists what you can undo"
    )
    page.keyboard.press("h")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Pitch: 58.500 mm → 58.5978 mm")
    dialog.get_by_role("button", name="compare").last.click()
    expect(dialog.get_by_label("beside revision")).to_be_visible()
    dialog.get_by_role("button", name="look").last.click()
    expect(page.get_by_text("Revision 1 as")).to_be_visible()
    for name in ("Setter", "Changer"):
        stage(page, name)
        expect(page.get_by_text("Revision 1 as")).to_be_visible()
    expect(pitch).to_have_value("58.500")
    page.get_by_role("button", name="Restore it").click()
    expect(page.get_by_text("Revision 1 as")).to_have_count(0)
    expect(pitch).to_have_value("58.500")
    page.keyboard.press("u")
    expect(page.get_by_role("list", name="Edits").get_by_role("listitem")).not_to_have_count(0)
    page.keyboard.press("Escape")

    hour.step("Download the program text, in plain words or parametric, and the Setup file (menu at the top right)")
    for words in ("Plain words", "Parametric"):
        page.get_by_role("button", name=words).click()
        expect(page.get_by_role("button", name=words)).to_have_attribute("aria-pressed", "true")
        with page.expect_download() as download:
            page.get_by_role("button", name="Download the text").click()
        assert "\nG21 " in Path(download.value.path()).read_text()
    with page.expect_download() as download:
        page.get_by_role("button", name="technician").click()
        page.get_by_role("menuitem", name="Download the Setup file").click()
    assert '"pitch": 58.5' in Path(download.value.path()).read_text()
    assert not hour.left


def test_the_second_hour_at_the_practice_machine(open_as: OpenAs, server: Server, practice: Practice) -> None:
    hour = Hour(2)
    hour.step(
        "Open the *hand panel* (P) on any stage",
        "connected and not homed",
        "as fast as you like (*Practice machine*)",
        "Press *Home*",
    )
    page = open_as("technician")
    page.get_by_role("link", name=re.compile("Heron")).first.click()
    expect(page.locator("[data-standing=connected]")).to_be_visible()
    page.keyboard.press("p")
    expect(page.locator("[data-homed=false]")).to_be_visible()
    at_speed(page, "at once")
    page.get_by_role("button", name="Home", exact=True).click()
    expect(page.locator("[data-homed=true]")).to_be_visible()

    hour.step(
        "On **Signals** choose the setter",
        "It shows as reversed, with the bounce of its contact",
        "Then test the touch plate",
    )
    stage(page, "Signals")
    input_tested(page, "setter")
    input_tested(page, "touch plate")

    hour.step(
        "On **Machine** click *measured to* of X",
        "*hold* and *creep*, hold X +",
        "*Take reading*",
        "Jog away from the stop",
    )
    stage(page, "Machine")
    at_speed(page, "ten times")
    page.get_by_role("button", name="X measured to, not measured").click()
    creep_to_the_end(page, "X", "plus")
    expect(page.locator("[data-offer]")).to_contain_text("machine X")
    take(page)
    soft = figure(page, "[data-derived=X_soft_greatest]")
    assert soft == pytest.approx(figure(page, "[data-axis=X]") - 1, abs=0.006)
    measured = page.evaluate(SETUP)["machine"]["axes"]["X"]["measured"]["greatest"]
    assert measured == pytest.approx(820 - HIDDEN_SHORT, abs=0.2)
    assert measured / 0.005 == pytest.approx(round(measured / 0.005))  # rounded to the resolution
    at_speed(page, "at once")
    page.get_by_role("group", name="Step").get_by_role("button", name="10", exact=True).click()
    stood = figure(page, "[data-axis=X]")
    page.get_by_role("button", name="Jog X minus").click()
    expect(page.locator("[data-standing]")).to_contain_text("ready")
    until(page, lambda: figure(page, "[data-axis=X]") < stood - 9)

    hour.step(
        "On **Changer** click Datum X",
        "*Go there, step by step*, *look at the nose*, jog until the pocket's axis is under it",
    )
    stage(page, "Changer")
    page.get_by_label("Datum X", exact=True).first.focus()
    page.get_by_role("button", name="Go there, step by step").click()
    until(page, lambda: abs(figure(page, "[data-to-go=X]")) < 0.02)
    page.get_by_role("button", name="Look at the nose").click()
    seen = re.findall(r"([XY]) ([+−]?[\d.]+)", page.locator("[data-sight]").text_content() or "")
    for axis, text in seen:
        rest = round(float(text.replace("−", "-")) * 100)
        for step, count in (("0.1", abs(rest) // 10), ("0.01", abs(rest) % 10)):
            page.get_by_role("group", name="Step").get_by_role("button", name=step, exact=True).click()
            for _ in range(count):
                was = figure(page, f"[data-axis={axis}]")
                page.get_by_role("button", name=f"Jog {axis} {'plus' if rest > 0 else 'minus'}").click()
                until(page, partial(moved, page, axis, was))
    page.get_by_label("Datum X", exact=True).first.focus()
    take(page)
    expect(page.get_by_role("list", name="Readings")).to_contain_text("technician")
    assert page.evaluate(SETUP)["changer"]["rack"]["datum"]["x"] == pytest.approx(128.4 + 0.4807, abs=0.15)
    kept = page.evaluate("fetch('/api/machines/heron/readings').then(answer => answer.json())")
    assert [(reading["author"], reading["work_offset"], len(reading["position"])) for reading in kept] == [
        ("technician", 1, 3)
    ] * 2

    hour.step("Run an exchange at the practice machine", "With the nominal numbers it meets a nut")
    page.get_by_label("Tool in the spindle").first.select_option("0")
    page.get_by_label("Requested tool").select_option("2")
    page.get_by_role("button", name="Run it at the practice machine").click()
    expect(page.locator("[data-standing]")).to_contain_text("has met the nut")

    hour.step("*Practice machine* shows, when asked, the truth")
    page.get_by_role("button", name="Practice machine", exact=True).click()
    page.get_by_role("button", name=re.compile("^Show the truth it hides")).click()
    expect(page.get_by_role("dialog")).to_contain_text("Wired the other way round: setter.")
    assert not hour.left


def test_the_third_hour_with_other_changers(open_as: OpenAs, server: Server, practice: Practice) -> None:
    hour = Hour(3)
    hour.step("Open **Plover**", "Play an exchange", "each device and each input has its lane")
    page = open_as("technician")
    page.get_by_role("link", name=re.compile("Plover")).first.click()
    time = page.locator("[data-time]").first
    expect(time).to_have_text("0.00 s")
    page.keyboard.press("Space")
    expect(time).not_to_have_text("0.00 s")
    page.keyboard.press("Space")
    assert page.locator("[data-lane]").count() >= 8
    with page.expect_download() as download:
        page.get_by_role("button", name="Download the text").click()
    own = Path(download.value.path())

    hour.step(
        "600 pairs under every fault",
        "No sensor detects *another tool than the record says*",
        "A cell under a fault",
        "*Try changes*",
    )
    stage(page, "Proof")
    page.get_by_role("button", name="Run the proof").click()
    expect(page.get_by_role("link", name=re.compile("^Proof.*, proven$"))).to_be_visible(timeout=180_000)
    page.get_by_role("button", name="Try changes").click()
    expect(page.get_by_role("region", name="What would save most").get_by_role("listitem").first).to_be_visible()
    page.get_by_role("button", name=re.compile("^another tool than the record says")).click()
    expect(page.get_by_role("region", name="Results")).to_contain_text(
        "Measuring the tool after each pick-up would detect it"
    )
    page.get_by_role("button", name=re.compile("^T1 to T2, no sensor detects it")).click()
    expect(page.locator("[data-under]")).to_contain_text("another tool")

    hour.step("**Sanderling** has faults left in", "group by group, one cause to fix", "under *the grip stays shut*")
    shop(page, "Sanderling")
    stage(page, "Proof")
    page.get_by_role("button", name="Run the proof").click()
    expect(page.get_by_role("list", name="Faults")).to_be_visible(timeout=120_000)
    expect(page.locator("li[data-severity=stop]").first).to_be_visible()
    page.get_by_role("button", name=re.compile("^the grip stays shut")).click()
    expect(page.get_by_text(re.compile("grip", re.I)).first).to_be_visible()

    hour.step("Bring a program of your own (*A program of yours*)", "a cell plays it")
    shop(page, "Plover")
    stage(page, "Proof")
    page.get_by_role("button", name=re.compile("^A program of yours")).click()
    page.locator("input[type=file]").first.set_input_files(own)
    page.get_by_role("button", name="Run the proof").click()
    expect(page.get_by_role("button", name=re.compile("^T2 to T1, ")).first).to_be_visible(timeout=180_000)
    page.get_by_role("button", name=re.compile("^T2 to T1, ")).first.click()
    expect(page.get_by_label("Requested tool")).to_have_value("1")
    expect(page.get_by_text(own.name).first).to_be_visible()

    hour.step(
        "On **Dunlin** choose an exchange from *empty*",
        "take the power away in the middle",
        "*After a stop*",
        "sets the record",
    )
    shop(page, "Dunlin")
    panel(page)
    at_speed(page, "at once")
    page.get_by_role("button", name="Home", exact=True).click()
    expect(page.locator("[data-homed=true]")).to_be_visible()
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
    page.get_by_role("button", name=re.compile("^The machine's block is line")).click()
    sheet = page.get_by_role("region", name="Correct the record")
    expect(sheet).to_contain_text("the spindle is empty", ignore_case=True)
    expect(page.locator("[data-keyed]")).to_contain_text("#160 = 0")
    sheet.get_by_role("button", name="Set it at the machine").click()
    expect(sheet.get_by_role("status")).to_contain_text("Set: in the spindle is no tool")

    hour.step("**Knot** has no changer: its text asks for each tool by number and name")
    shop(page, "Knot")
    stage(page, "Changer")
    expect(page.locator("[data-program]")).to_contain_text("Put in T1, flat end mill 10")
    assert not hour.left


def test_the_fourth_hour_measuring(open_as: OpenAs, server: Server, practice: Practice) -> None:
    hour = Hour(4)
    hour.step("On **Signals** test both inputs that touches make")
    page = at_the_machine(open_as, "Heron")
    for name in ("setter", "touch plate"):
        input_tested(page, name)

    hour.step(
        "On **Setter** look at the window",
        "*Calibrate the plane*",
        "home and run it again",
        "*Plane height* takes what each run gives",
        "Use it",
    )
    stage(page, "Setter")
    in_the_spindle(page, 1)
    for count in (1, 2):
        page.get_by_role("button", name="Home", exact=True).click()
        expect(page.locator("[data-standing]")).to_contain_text("ready")
        run(page, "calibrate", 1)
        page.get_by_role("button", name="Go on").click()
        view(page, "Plane height")
        page.get_by_role("button", name=re.compile("from the control")).click()
        expect(page.locator("[data-run]")).to_have_count(count)
    expect(page.locator("[data-plane]")).to_contain_text("±")
    page.get_by_role("button", name="Use it as the plane height").click()
    saved(page)

    hour.step("*Measure* a tool", "*Lengths* takes it over as a reading with its ±")
    in_the_spindle(page, 2)
    run(page, "measure", 2)
    expect(page.get_by_text("“T2 is measured")).to_be_visible()
    view(page, "Lengths")
    page.get_by_role("button", name=re.compile("^Use (all|the length of T2)")).click()
    saved(page)

    hour.step("Check it on a block: rest a tool on it and enter the readout", "what was measured with it is named")
    view(page, "Plane height")
    on_the_block(page, 2, 50.3)
    expect(page.locator("[data-affected]")).to_contain_text("T2")

    hour.step(
        "On **Tools** choose T2",
        "what a stop collar would",
        "it is marked until the control uses it",
        "*A length by hand*",
    )
    stage(page, "Tools")
    page.get_by_label("T2 name").click()
    expect(page.get_by_text("with a stop collar it would be")).to_be_visible()
    enter(page, "T2 length", "70.5")
    saved(page)
    expect(page.get_by_text(re.compile("not in use|control uses|still uses|not active", re.I)).first).to_be_visible()
    page.get_by_role("button", name="A length by hand").click()
    enter(page, "the readout shows", "10.85")
    expect(page.get_by_text("length of T1").first).to_be_visible()
    view(page, "Tools")

    hour.step(
        "Paste a table from a spreadsheet", "every row that is wrong is reported and stays in the box", "*Tool sheet*"
    )
    page.get_by_role("button", name=re.compile("Import")).first.click()
    page.get_by_label("Rows of the table").fill("T\tName\tLength\n2\tlong mill\t71\n3\tdrill\tmany\n")
    page.get_by_role("button", name="Show the changes").click()
    expect(page.locator("[data-found]")).to_contain_text("1 is wrong")
    expect(page.get_by_label("Column Length")).to_have_value("length")
    page.get_by_role("button", name="Import the 1 good rows").click()
    expect(page.get_by_label("Rows of the table")).to_have_value(re.compile("drill\tmany"))
    page.keyboard.press("Escape")
    saved(page)
    expect(page.get_by_label("T2 name")).to_have_value("long mill")
    with page.expect_download() as download:
        page.get_by_role("link", name="Tool sheet").or_(page.get_by_role("button", name="Tool sheet")).click()
    assert Path(download.value.path()).read_bytes().startswith(b"%PDF")
    assert not hour.left


def test_the_fifth_hour_probing(open_as: OpenAs, server: Server, practice: Practice) -> None:
    hour = Hour(5)
    hour.step("Open **Curlew** and on **Signals** test the touch probe's input")
    page = at_the_machine(open_as, "Curlew")
    page.get_by_role("button", name="Home", exact=True).click()
    expect(page.locator("[data-standing]")).to_contain_text("ready")
    input_tested(page, "touch probe")

    hour.step(
        "On **Probes** choose *Qualify*. *Set it up at the practice machine*",
        "Turn the spindle by half a turn",
        "*Feed and error*",
    )
    stage(page, "Probes")
    qualified(page)
    view(page, "Feed and error")
    expect(page.get_by_role("table", name="Feed and error").get_by_role("row").nth(1)).to_be_visible()

    hour.step(
        "On **Routines** choose *frame corner*",
        "click *8.000* to begin the search elsewhere",
        "Play it. *Under faults*",
    )
    stage(page, "Routines")
    routines = page.get_by_role("list", name="Routines")
    routines.get_by_role("button", name=re.compile("^frame corner")).click()
    page.keyboard.press("p")
    page.get_by_role("button", name=re.compile("8.000, edit$")).first.click()
    page.keyboard.type("9")
    page.keyboard.press("Enter")
    saved(page)
    time = page.locator("[data-time]").first
    page.get_by_role("button", name="Play", exact=True).click()
    expect(time).not_to_have_text("0.00 s")
    page.get_by_role("button", name="Pause", exact=True).click()
    view(page, "Under faults")
    page.get_by_role("button", name=re.compile("^Run ")).first.click()
    expect(page.get_by_text("Nothing is unsafe").first).to_be_visible(timeout=120_000)

    hour.step(
        "*First in the air, touches by hand*",
        "*Put a part down at the practice machine*",
        "*Result* takes the touches",
        "*Show how the part really lies*",
    )
    page.keyboard.press("p")
    at_speed(page, "real time")
    in_the_air(page)
    at_speed(page, "at once")
    routines.get_by_role("button", name=re.compile("^frame corner")).click()
    view(page, "Touches")
    run_routine(page, "Put a part down at the practice machine", "frame corner is found")
    view(page, "Result")
    page.get_by_role("button", name="Take 5 touches from the machine").click()
    expect(page.locator("[data-zero]")).to_contain_text("Zero of work offset")
    page.get_by_role("button", name="Keep this result").click()
    expect(page.get_by_text("This result is kept.")).to_be_visible()
    page.get_by_role("button", name="Show how the part really lies").click()
    expect(page.locator("[data-really]").first).to_be_visible()

    hour.step(
        "Switch to *Plain words*", "each touch is a text of its own; enter what you noted, and the line is worked out"
    )
    view(page, "Touches")
    page.get_by_role("button", name="Plain words").click()
    expect(page.get_by_role("button", name="Plain words")).to_have_attribute("aria-pressed", "true")

    hour.step(
        "Open a macro of your own (*Your program*)",
        "the fixed lines that are offered",
        "a parameter or an input can be set by hand",
    )
    with page.expect_download() as download:
        page.get_by_role("button", name="Parametric").click()
        page.get_by_role("button", name="Download the text").click()
    text = Path(download.value.path()).read_text()
    view(page, "Your program")
    page.get_by_role("button", name="Paste").click()
    page.get_by_label("Text of the program").fill(text.replace("F60", "F90", 1))
    page.get_by_role("button", name="Review it").click()
    expect(page.locator("[data-editor] [data-check=value-differs]").first).to_be_visible()
    fixes = page.get_by_role("list", name="Suggested fixes")
    expect(fixes.get_by_role("listitem").first).to_be_visible()
    while fixes.get_by_role("listitem").count():
        left = fixes.get_by_role("listitem").count()
        fixes.get_by_role("button", name=re.compile("^Apply the fix to line")).first.click()
        expect(fixes.get_by_role("listitem")).to_have_count(left - 1)
    expect(page.locator("[data-review='0']")).to_be_visible()
    page.get_by_label("Number of the parameter").fill("139")
    page.get_by_label("Value of the parameter").fill("1")
    page.get_by_role("button", name="Set", exact=True).click()
    expect(page.get_by_role("list", name="Set by hand")).to_contain_text("#139")

    hour.step("On **Proof** run everything")
    stage(page, "Proof")
    page.get_by_role("button", name="Run the proof").click()
    expect(page.get_by_role("link", name=re.compile("^Proof.*, proven$"))).to_be_visible(timeout=180_000)
    assert not hour.left
