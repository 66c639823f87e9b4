"""The sheet in the browser: brought nearer at the pointer, fitted, filled by a view, measured; the score shows all its lanes."""

import itertools
import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Locator, Page, expect

OpenAs = Callable[[str], Page]


def middle(place: Locator) -> tuple[float, float]:
    box = place.bounding_box()
    assert box
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def hole(page: Page, number: int) -> Locator:
    return page.get_by_role("button", name=re.compile(f"^Pocket {number}\\b")).locator("circle").first


def opened(open_as: OpenAs, where: str) -> Page:
    page = open_as("viewer")
    page.goto(f"{page.url.rstrip('/')}/machines/{where}")
    expect(page.locator("[data-scale]")).to_be_visible()
    if "changer" in where:  # the foot has the height of its lanes only when the sequence is there
        page.wait_for_selector("[data-time]")
        page.wait_for_timeout(200)
    return page


def test_the_sheet_is_brought_nearer_at_the_pointer_and_fits_again(open_as: OpenAs) -> None:
    page = opened(open_as, "heron/changer")
    scale, pocket = page.locator("[data-scale]"), hole(page, 4)
    whole, (x, y) = scale.inner_text(), middle(pocket)
    page.mouse.move(x, y)
    for _ in range(3):
        page.mouse.wheel(0, -200)
    expect(scale).not_to_have_text(whole)
    assert middle(pocket) == pytest.approx((x, y), abs=2)
    wide = pocket.bounding_box()
    assert wide and wide["width"] > 40
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 60, y + 30, steps=4)
    page.mouse.up()
    assert middle(pocket) == pytest.approx((x + 60, y + 30), abs=3)
    page.keyboard.press("0")
    expect(scale).to_have_text(whole)
    assert middle(pocket) == pytest.approx((x, y), abs=0.5)
    page.keyboard.press("+")
    page.get_by_role("button", name="Front", exact=True).click()
    expect(scale).not_to_have_text(whole)
    page.get_by_role("button", name="Fit", exact=True).click()
    expect(scale).to_have_text(whole)


def test_a_distance_is_measured_between_two_edges_and_stays_while_it_is_played(open_as: OpenAs) -> None:
    page = opened(open_as, "heron/changer")
    page.keyboard.press("m")
    for number in (2, 5):
        x, y = middle(hole(page, number))
        page.mouse.click(x + 2, y + 1)
    distance = page.locator("[data-distance]")
    expect(distance).to_contain_text("X 175.500 · Y 0.000 · 175.500 mm")
    page.keyboard.press("ArrowRight")
    expect(distance).to_contain_text("175.500")
    page.keyboard.press("Escape")
    expect(distance).to_have_count(0)


@pytest.mark.parametrize("where", ["godwit/changer", "plover/changer", "heron/setter", "curlew/routines"])
def test_the_score_shows_all_its_lanes_without_scrolling(open_as: OpenAs, where: str) -> None:
    page = opened(open_as, where)
    score = page.locator("[data-score]")
    expect(score.locator("[data-lane]").first).to_be_visible()
    page.wait_for_timeout(300)
    frame = score.bounding_box()
    lanes = [lane.bounding_box() for lane in score.locator("[data-lane]").all()]
    assert frame and lanes
    assert all(lane and lane["y"] + lane["height"] <= frame["y"] + frame["height"] for lane in lanes)
    names = sorted(text["y"] for lane in score.locator("[data-lane] > text").all() if (text := lane.bounding_box()))
    assert all(low + 8 < high for low, high in itertools.pairwise(names))


def test_remarks_of_a_text_are_read_whole(open_as: OpenAs) -> None:
    page = opened(open_as, "heron/changer")
    program = page.locator("[data-program]")
    expect(program.locator(".cm-remark").first).to_be_visible()
    frame = program.bounding_box()
    assert frame
    seen = 0
    for _ in range(12):
        boxes = [box for one in program.locator(".cm-remark").all() if (box := one.bounding_box())]
        assert all(box["x"] + box["width"] <= frame["x"] + frame["width"] for box in boxes)
        seen += len(boxes)
        program.locator(".cm-scroller").evaluate("(box) => box.scrollBy(0, box.clientHeight)")
        page.wait_for_timeout(60)
    assert seen > 40


MACHINES = ("heron", "plover", "curlew", "dunlin", "godwit", "knot", "sanderling")

TEXTS = """() => {
  const sheet = document.querySelector('.sheet').getBoundingClientRect();
  const texts = [...document.querySelectorAll('.sheet text')].filter((text) => text.textContent.trim())
    .map((text) => ({ says: text.textContent, box: text.getBoundingClientRect(), text }))
    .filter(({ box, text }) => box.width > 0);
  const cut = texts.filter(({ box }) => box.left < sheet.left - 1 || box.right > sheet.right + 1 || box.top < sheet.top - 1
    || box.bottom > sheet.bottom + 1).map(({ says }) => says);
  const over = texts.flatMap((one, index) => texts.slice(index + 1).filter((other) =>
    Math.min(one.box.right, other.box.right) - Math.max(one.box.left, other.box.left) > 1.5
    && Math.min(one.box.bottom, other.box.bottom) - Math.max(one.box.top, other.box.top) > 4)
    .map((other) => `${one.says} / ${other.says}`));
  return { count: texts.length, cut, over };
}"""


@pytest.mark.parametrize(
    "width", [1024, 1280, *(pytest.param(wide, marks=pytest.mark.thorough) for wide in (1440, 1920))]
)
def test_no_text_of_a_sheet_stands_on_another_or_is_cut(open_as: OpenAs, width: int) -> None:
    page = open_as("viewer")
    shop = page.url.rstrip("/")
    page.set_viewport_size({"width": width, "height": 800})
    found = {}
    for name in MACHINES:
        for stage in ("machine", "changer"):
            page.goto(f"{shop}/machines/{name}/{stage}")
            expect(page.locator(".sheet text").first).to_be_visible()
            page.wait_for_timeout(250)
            texts = page.evaluate(TEXTS)
            assert texts["count"] > 8
            if texts["cut"] or texts["over"]:
                found[name, stage] = texts
    assert not found


@pytest.mark.parametrize("width", [1024, 1280])
def test_with_the_hand_panel_open_one_view_is_shown_with_its_texts_whole(open_as: OpenAs, width: int) -> None:
    page = open_as("viewer")
    shop = page.url.rstrip("/")
    page.set_viewport_size({"width": width, "height": 800})
    page.goto(f"{shop}/machines/heron/changer")
    page.wait_for_selector("[data-time]")
    page.get_by_role("button", name="Hand panel").click()
    found = {}
    routines = [f"{name}/routines" for name in ("heron", "plover", "curlew")]
    for place in (*(f"{name}/changer" for name in MACHINES), *routines, "heron/machine"):
        page.goto(f"{shop}/machines/{place}")
        expect(page.locator(".sheet text").first).to_be_attached()
        page.wait_for_timeout(400)
        assert page.locator(".sheet.zoomed").count() or place.endswith("machine"), place  # that sheet is high enough
        texts = page.evaluate(TEXTS.replace("box.width > 0)", "box.width > 0 && !text.hasAttribute('data-cut'))"))
        assert texts["count"] > 0, place
        if texts["cut"] or texts["over"]:
            found[place] = texts
    assert not found


def test_at_two_hundred_percent_the_page_scrolls_and_nothing_is_pressed_together(open_as: OpenAs) -> None:
    page = opened(open_as, "heron/changer")
    page.set_viewport_size({"width": 640, "height": 400})  # 1280 by 800 at 200 %
    page.wait_for_timeout(300)
    names = [link.bounding_box() for link in page.get_by_role("navigation", name="Stages").get_by_role("link").all()]
    for one, other in itertools.pairwise(names):
        assert one and other and one["x"] + one["width"] <= other["x"] + 1
    page.keyboard.press("Tab")
    skip = page.get_by_role("link", name="Skip to the stage")
    expect(skip).to_be_focused()
    skip.press("Enter")
    expect(page.locator("main")).to_be_focused()
    page.evaluate("window.scrollTo(2000, 2000)")
    expect(page.get_by_role("button", name="Hand panel")).to_be_in_viewport()


def test_loops_and_branches_fold_in_the_text_by_button_and_by_line(open_as: OpenAs) -> None:
    page = opened(open_as, "curlew/changer")
    text = page.locator("[data-program]")
    expect(text.locator(".cm-line").first).to_be_visible()
    whole = text.locator(".cm-scroller").evaluate("(box) => box.scrollHeight")
    page.keyboard.press("End")  # in the last branch
    last = text.locator(".cm-now").inner_text()
    page.get_by_role("button", name="Fold loops and branches").click()
    expect(text.get_by_role("button", name=re.compile("^Unfold [0-9]+ lines$")).first).to_be_visible()
    assert text.locator(".cm-scroller").evaluate("(box) => box.scrollHeight") < whole * 0.75
    head = text.locator(".cm-now")
    head.get_by_role("button", name=re.compile("^Unfold")).click()
    expect(text.locator(".cm-now")).to_have_text(last)
    page.get_by_role("button", name="Unfold all").click()
    expect(text.locator(".cm-folded")).to_have_count(0)
