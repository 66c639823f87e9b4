"""Measuring at the practice machine: the plane calibrated, five tools measured, the block, an error found and corrected."""

import json
import re
from collections.abc import Callable
from pathlib import Path

import pytest
from orthotrope.practising.truth import draw, true_setup
from orthotrope.setup import read_setup
from playwright.sync_api import Page, expect
from serving import ROOT, Practice, Server
from test_jobs import saved, stage
from test_practice import SEED, at_speed, heron, inputs_tested, practice

__all__ = ["practice"]  # a fixture

OpenAs = Callable[[str], Page]
SETUP = read_setup(json.loads(Path(ROOT / "demo" / "setups" / "heron.json").read_text()))
TRUTH = draw(SETUP, SEED)
TOOLS = (1, 2, 3, 4, 5)
ENTERED = "async () => (await (await fetch('/api/machines/heron')).json()).document"


def in_the_spindle(page: Page, tool: int) -> None:
    page.get_by_role("button", name="Practice machine", exact=True).click()
    page.get_by_label("Tool in the spindle").select_option(str(tool))
    expect(page.locator("[data-record]")).to_have_text(f"T{tool}")
    page.keyboard.press("Escape")


def run(page: Page, sequence: str, tool: int) -> None:
    """Write a sequence, and run it at the machine with its tool in the spindle."""
    page.get_by_role("button", name="Window", exact=True).click()
    page.get_by_label("Measuring sequence").select_option(sequence)
    page.get_by_label("Tool to measure").select_option(str(tool))
    expect(page.get_by_text(re.compile(f"heron-{sequence}-{tool}"))).to_be_visible()
    page.get_by_role("button", name="Run it at the practice machine").click()


def view(page: Page, name: str) -> None:
    page.get_by_role("button", name=name, exact=True).click()


def on_the_block(page: Page, tool: int, readout: float) -> None:
    view(page, "Plane height")
    page.get_by_label("Tool on the block").select_option(str(tool))
    page.get_by_label("the zero was set by").select_option("another tool")
    field = page.get_by_label("the readout shows")
    field.fill(f"{readout:.4f}")
    field.press("Enter")


def test_the_plane_is_calibrated_tools_are_measured_and_a_wrong_plane_is_found_on_a_block(
    open_as: OpenAs, server: Server, practice: Practice
) -> None:
    page = open_as("technician")
    heron(page, "signals")
    at_speed(page, "at once")
    inputs_tested(page)

    stage(page, "Setter")  # the plane height, four times with homing in between
    in_the_spindle(page, 1)
    for count in range(1, 5):
        page.get_by_role("button", name="Home", exact=True).click()
        expect(page.locator("[data-standing]")).to_contain_text("ready")
        run(page, "calibrate", 1)
        page.get_by_role("button", name="Go on").click()
        view(page, "Plane height")
        taken = page.get_by_role("button", name=re.compile("from the control"))
        expect(taken).to_be_enabled()
        taken.click()
        expect(page.locator("[data-run]")).to_have_count(count)
    plane = float(page.locator("[data-plane]").get_attribute("data-plane") or "nan")
    half = float((page.locator("[data-plane] p").first.text_content() or "").split("±")[1].split()[0])
    page.get_by_role("button", name="Use it as the plane height").click()
    expect(page.get_by_role("img", name="1 readings of the plane height")).to_be_visible()
    expect(page.get_by_label("Plane height", exact=True).first).to_have_value(re.compile(f"^−{str(abs(plane))[:6]}"))
    saved(page)
    counted = true_setup(SETUP, TRUTH).setters[0].plane_z - TRUTH.backlash["Z"]  # as it counts when it comes down
    of_reference = TRUTH.tool_errors[1]
    assert plane == pytest.approx(counted + of_reference, abs=max(half, 0.02))
    assert page.evaluate(ENTERED)["setters"][0]["plane_z"] == pytest.approx(plane)

    for tool in TOOLS:
        in_the_spindle(page, tool)
        run(page, "measure", tool)
        expect(page.get_by_text(f"“T{tool} is measured")).to_be_visible()
    view(page, "Lengths")
    page.get_by_role("button", name=re.compile("^Use all")).click()
    expect(page.get_by_role("button", name=re.compile("^Use the length of"))).to_have_count(0)
    saved(page)
    found = {tool["number"]: tool["length"] for tool in page.evaluate(ENTERED)["tools"]}
    for tool in TOOLS:
        true = SETUP.tool(tool).whole_length + TRUTH.tool_errors[tool] - of_reference
        assert found[tool] == pytest.approx(true, abs=0.05), tool

    right = SETUP.tool(2).whole_length + TRUTH.tool_errors[2] - of_reference
    on_the_block(page, 2, 50 + right - found[2])
    view(page, "Plane height")
    on_the_block(page, 2, 50.3)  # as if the plane were 0.3 mm off: reported, and fixed by one action
    error = page.locator("[data-block-error]")
    expect(error).to_contain_text("every length that was measured with it")
    expect(page.locator("[data-affected]")).to_contain_text("T1, T2, T3, T4, T5")
    page.get_by_role("button", name="Correct the plane height").click()
    expect(page.get_by_label("Plane height", exact=True).first).to_have_value(
        re.compile(f"^−{str(abs(plane - 0.3))[:6]}")
    )
    saved(page)
    assert page.evaluate(ENTERED)["setters"][0]["plane_z"] == pytest.approx(plane - 0.3)
    expect(page.get_by_role("img", name="2 readings of the plane height")).to_be_visible()
