"""The address holds where one is: reload, back, forward and a link lead there, and what is gone is reported."""

import re
from collections.abc import Callable

from playwright.sync_api import Locator, Page, expect

OpenAs = Callable[[str], Page]


def at(page: Page, where: str) -> None:
    expect(page).to_have_url(re.compile(re.escape(where) + r"(&|$)"))


def go(page: Page, where: str) -> None:
    page.goto(re.sub(r"(//[^/]*).*", r"\1", page.url) + where)


def pair(page: Page) -> tuple[Locator, Locator]:
    return page.get_by_label("Tool in the spindle"), page.get_by_label("Requested tool")


def test_an_exchange_and_its_moment_survive_a_reload_and_the_way_back(open_as: OpenAs) -> None:
    page = open_as("viewer")
    go(page, "/machines/heron/changer")
    spindle, requested = pair(page)
    expect(spindle).to_be_visible()
    at(page, "from=1")  # the usual one stands there by itself
    requested.select_option("5")
    at(page, "to=5")
    page.evaluate("document.activeElement.blur()")
    for _ in range(60):
        page.keyboard.press("ArrowRight")
    expect(page).to_have_url(re.compile("at="))
    moment = re.search(r"at=([\d.]+)", page.url)
    assert moment
    page.reload()
    expect(requested).to_have_value("5")
    expect(page).to_have_url(re.compile(re.escape(moment[0])))
    expect(page).to_have_title(re.compile(r"^T1 → T5 · Changer · Heron"))
    requested.select_option("3")
    at(page, "to=3")
    page.get_by_role("button", name="Pocket table").click()
    at(page, "view=table")
    page.get_by_role("link", name=re.compile("^Setter")).click()
    expect(page).to_have_title(re.compile("Setter · Heron"))
    page.go_back()
    expect(page.get_by_role("button", name="Pocket table")).to_have_attribute("aria-pressed", "true")
    page.go_back()
    expect(requested).to_have_value("3")
    page.go_back()
    expect(requested).to_have_value("5")
    page.go_forward()
    expect(requested).to_have_value("3")
    expect(page.get_by_role("status").filter(has_text="any more")).to_have_count(0)


def test_a_link_to_a_finding_opens_it_for_another_person(open_as: OpenAs) -> None:
    page = open_as("technician")
    go(page, "/machines/heron/changer?from=2&to=5&fault=pocket-full")
    finding = page.locator(
        "[data-check=pocket-occupied]"
    ).first  # under the fault: the exchange without it has findings too
    finding.get_by_role("button", name="copy link").click()
    expect(finding.get_by_text("copied")).to_be_visible()
    link = page.evaluate("navigator.clipboard.readText()")
    other = open_as("viewer")
    other.goto(link)
    expect(other.locator("[data-check=pocket-occupied]").first).to_have_class(re.compile("bg-now-wash"))
    expect(pair(other)[1]).to_have_value("5")
    assert "fault=pocket-full" in link and "finding=" in link


def test_every_stage_opens_at_what_the_address_names(open_as: OpenAs) -> None:
    page = open_as("viewer")
    go(page, "/machines/heron/setter?sequence=calibrate&view=times")
    expect(page.get_by_role("button", name="Feeds and times")).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_label("Measuring sequence")).to_have_value("calibrate")
    go(page, "/machines/heron/tools?tool=5")
    expect(page.get_by_role("region", name="Page of T5")).to_be_visible()
    go(page, "/machines/heron/signals?input=3")
    expect(page.get_by_role("button", pressed=True).first).to_be_visible()
    at(page, "input=3")
    go(page, "/machines/curlew/routines?routine=burner+boss")
    expect(page).to_have_title(re.compile("^burner boss · Routines · Curlew"))
    go(page, "/machines/curlew/proof?list=room")
    expect(page.get_by_role("button", name=re.compile("^Room"))).to_have_attribute("aria-pressed", "true")


def test_a_link_to_what_is_gone_says_so(open_as: OpenAs, console: list[str]) -> None:
    console.append("404")
    page = open_as("viewer")
    for where, says in (
        ("/machines/heron/changer?from=77&to=2", "T77 is not in the Setup any more."),
        ("/machines/heron/changer?fault=worn-out", "There is no fault “worn-out”."),
        ("/machines/heron/changer?finding=body-contact@3", "The finding of this link is not there any more."),
        ("/machines/heron/changer?view=loft", "There is no view “loft” here."),
        ("/machines/heron/cellar", "There is no stage “cellar”"),
        ("/machines/heron/tools?tool=99", "T99 is not in the Setup any more."),
        ("/machines/curlew/routines?routine=keyhole", "The routine “keyhole” is not in the Setup any more."),
        ("/machines/ghost/changer", "There is no such machine in this shop."),
    ):
        go(page, where)
        expect(page.get_by_text(says)).to_be_visible()
