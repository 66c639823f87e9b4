"""A program of the technician's own, of any kind: reviewed on the Proof stage, fixed, run again, found again, cancelled."""

import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect

OpenAs = Callable[[str], Page]

JOB = "G90 G17 G94\n(the hood's rim)\nG0 Z10 X0 Y0\nG1 X300 F1500\nG1 X{far}\nM30\n"


def test_a_job_is_reviewed_mended_and_found_again(open_as: OpenAs, tmp_path: Path) -> None:
    page = open_as("technician")
    page.goto(f"{page.url.rstrip('/')}/machines/heron/proof")
    page.get_by_role("button", name="Review a program").click()
    page.get_by_role("button", name="Paste").click()
    page.get_by_label("Text of the program").fill(JOB.format(far=9000))
    page.get_by_role("button", name="Review it").click()
    editor = page.locator("[data-editor]")
    expect(editor.locator("[data-check=beyond-travel]")).to_contain_text("9262.35")
    expect(editor.get_by_text("the hood's rim")).to_be_visible()
    page.get_by_role("textbox", name="Your program").focus()
    page.keyboard.press("Control+a")
    page.keyboard.insert_text(JOB.format(far=310))
    page.get_by_role("button", name="Run it again").click()
    findings = page.get_by_role("region", name="Findings")
    expect(findings.locator("[data-check=unit-unstated]")).to_be_visible()
    expect(findings.locator("[data-check=beyond-travel]")).to_have_count(0)
    page.get_by_label("beside it").select_option("imported")
    expect(editor.locator(".cm-changedLine").first).to_be_visible()
    page.get_by_role("button", name=re.compile("^Apply the fix to line")).click()
    expect(page.locator("[data-review='0']")).to_be_visible()
    page.get_by_role("button", name="Close it").click()
    listed = page.get_by_role("table", name="Reviewed programs").get_by_role("row")
    expect(listed).to_have_count(4)
    expect(listed.nth(1)).to_contain_text("no findings")

    page.reload()  # a text that is not in this window is fetched
    page.get_by_role("button", name="Review a program").click()
    listed.nth(3).get_by_role("button").click()
    expect(editor.locator("[data-check=beyond-travel]")).to_be_visible()
    page.get_by_role("button", name="Play it on the drawing").click()
    page.locator("li[data-check=beyond-travel]").get_by_role("button", name=re.compile("line")).click()
    expect(page.get_by_text("14.2 s").first).to_be_visible()  # the moment, in the score
    expect(page.locator("li[data-check=not-returned]")).to_have_count(0)  # it is no exchange
    page.goto(page.url.replace("changer", "proof"))
    page.get_by_role("button", name="Review a program").click()

    long = tmp_path / "long.nc"
    long.write_text("G21 G90 G17 G94\nG0 Z10 X0 Y0\nG1 F900\n" + "X9.125\nX3.5\n" * 150_000 + "M30\n")
    page.get_by_label("Program to be proven").set_input_files(str(long))
    expect(page.get_by_role("progressbar", name="Progress of the review")).to_be_visible()
    page.get_by_role("button", name="Cancel").click()
    expect(page.get_by_text("long.nc: cancelled.")).to_be_visible()
