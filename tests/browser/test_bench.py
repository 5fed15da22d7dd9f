"""The Bench and the route card: keys, dragging, verdicts, printing."""

import re

import pytest
from playwright.sync_api import Page, ViewportSize, expect
from pypdf import PdfReader

from ops.bench import script_weights
from ops.browser import DESK, PHONE
from tests.browser.conftest import axe_faults, still_box


@pytest.fixture
def bench(page_as) -> Page:
    page = page_as("tove", "/engines")
    card = page.get_by_role("row").filter(has_text="Tarnholt P4 fire pump")
    card.get_by_role("link", name="Bench").click()
    page.get_by_role("button", name=re.compile("Stop 1")).wait_for()
    return page


def angle(page: Page) -> float:
    # The ribbon is painted once a frame; two frames later it shows what was pressed.
    page.evaluate("() => new Promise(r => requestAnimationFrame(() => requestAnimationFrame(r)))")
    return float(page.get_by_role("slider").get_attribute("aria-valuenow"))


def may_set(page: Page) -> str:
    return page.get_by_test_id("may-set").inner_text()


def test_turning_by_keys(bench):
    for key, expected in [
        ("ArrowRight", 1),
        ("Shift+ArrowRight", 11),
        ("ArrowLeft", 10),
        ("Shift+ArrowLeft", 0),
        ("ArrowLeft", 719),
        ("Home", 0),
        ("t", 180),
        ("t", 360),
        ("Shift+T", 180),
        ("n", 360),
        ("n", 0),
        ("p", 360),
    ]:
        bench.keyboard.press(key)
        assert angle(bench) == expected, key
    bench.keyboard.press("?")
    expect(bench.get_by_role("dialog", name="Turning by keys")).to_be_visible()


def test_the_verdict_is_the_two_stop_chart(bench):
    # Common practice for 1-3-4-2: at 0 cylinder 1 both, 2 intake, 3 exhaust.
    assert may_set(bench) == "1 2 3 5"
    expect(bench.get_by_label("Verdict")).to_contain_text("cyl. 4 opening, in overlap")
    bench.keyboard.press("n")
    expect(bench.get_by_test_id("may-set")).to_have_text("4 6 7 8")


def test_dragging_the_ribbon(bench):
    ribbon = bench.get_by_role("slider")
    box = still_box(ribbon)
    bench.mouse.move(box["x"] + 5, box["y"] + 60)
    bench.mouse.down()
    bench.mouse.move(box["x"] + box["width"] / 4, box["y"] + 60, steps=8)
    assert angle(bench) == pytest.approx(180, abs=1)
    bench.mouse.move(box["x"] + box["width"] * 2, box["y"] + 60, steps=3)
    bench.mouse.up()
    assert angle(bench) == pytest.approx(719.9, abs=0.2)
    assert "cylinder 1 compression" in ribbon.get_attribute("aria-valuetext")


def test_each_cylinder_and_valve_says_what_it_does(bench):
    bench.keyboard.press("Home")
    names = bench.get_by_label("Cycle ribbon").locator(".row-name").all_inner_texts()
    assert [text.split() for text in names] == [
        ["1", "power"],
        ["3", "compression"],
        ["4", "overlap"],
        ["2", "exhaust"],
    ]
    cells = bench.get_by_label("Valve row").get_by_role("listitem")
    expect(cells).to_have_count(8)
    expect(cells.nth(0)).to_contain_text("may be set")
    expect(cells.nth(0)).to_contain_text("+116°")
    expect(cells.nth(3)).to_contain_text(re.compile(r"open \d\.\d"))


def test_the_own_unit_comes_first(bench):
    bench.get_by_role("button", name="change to thou").click()
    expect(bench.get_by_text("8.7–11 thou")).to_be_visible()
    expect(bench.get_by_label("Valve row")).to_contain_text("lift in thou")
    bench.get_by_role("button", name="change to mm").click()
    expect(bench.get_by_label("Valve row")).to_contain_text("lift in mm")


def test_the_route_card_by_two_methods_and_back_to_the_bench(bench):
    bench.get_by_role("link", name="Route card").click()
    rows = bench.get_by_role("table").get_by_role("row")
    expect(rows).to_have_count(3)
    expect(rows.nth(1)).to_contain_text("crank mark “0” lines up")
    bench.get_by_label("Method of sequence").select_option("opposite-valve")
    expect(rows).to_have_count(9)
    expect(rows.nth(2)).to_contain_text("valve 7 fully open (cylinder 4 intake): 9 − 7 = 2")
    bench.get_by_role("link", name="Open stop 2 on the Bench").click()
    bench.get_by_role("button", name=re.compile("you are here")).wait_for()
    assert angle(bench) == 107


def test_the_route_card_prints_on_one_page(page_as, tmp_path):
    page = page_as("tove", "/engines")
    for card in ("Tarnholt P4 fire pump", "Hollin Pass snow tug"):
        page.goto("/engines")
        link = page.get_by_role("row").filter(has_text=card)
        link.get_by_role("link", name="Route card").click()
        page.get_by_label("Method of sequence").select_option("opposite-valve")
        # The method says "fully open" as well: the card is there when its stops are.
        page.get_by_text("fully open (cylinder").first.wait_for()
        path = tmp_path / "card.pdf"
        page.pdf(path=path, prefer_css_page_size=True)
        assert len(PdfReader(path).pages) == 1


@pytest.mark.parametrize(("wish", "long_mm"), [("", 297), ("&poster=yes", 420)])
def test_a_card_to_write_on_prints_on_one_page_of_its_size(page_as, tmp_path, wish, long_mm):
    page = page_as("tove", f"/route/12?method=maker-chart&reading=yes&adjuster=yes&qr=yes{wish}")
    page.get_by_text("Before turning by hand").wait_for()
    path = tmp_path / "card.pdf"
    page.pdf(path=path, prefer_css_page_size=True)
    (sheet,) = PdfReader(path).pages
    # A PDF point is 1/72 inch; A4 is 297 mm long and A3 420 mm (ISO 216).
    assert float(sheet.mediabox.width) / 72 * 25.4 == pytest.approx(long_mm, abs=1)


def test_an_engine_file_goes_on_the_shelf_or_is_told_why_not(page_as, tmp_path):
    page = page_as("tove", "/engines")
    bad = tmp_path / "bad.json"
    bad.write_text('{"format": "edrix-engine/1", "name": "Half an engine"}')
    chooser = page.get_by_label("Add an engine file")
    chooser.set_input_files(bad)
    expect(page.get_by_role("alert")).to_contain_text("$.cylinders is missing")
    bad.write_text("not json at all")
    chooser.set_input_files(bad)
    expect(page.get_by_role("alert")).to_contain_text("bad.json is not JSON")
    with page.expect_download() as download:
        page.get_by_role("button", name="More for").first.click()
        page.get_by_role("menuitem", name="Engine file").click()
    chooser.set_input_files(download.value.path())
    expect(page.get_by_text("is on the shelf")).to_be_visible()


PLACES = [
    ("tove", "/engines", "Choose one to turn"),
    ("tove", "/bench/1", "you are here"),
    ("tove", "/route/1", "Before turning by hand"),
    ("tove", "/classes", "Pump crew, spring intake"),
    ("tove", "/classes/1/students", "Add students"),
    ("tove", "/classes/1/stands", "Measure again"),
    ("tove", "/classes/1/sheets", "Set a sheet"),
    ("tove", "/board/1", "handed in"),
    ("tove", "/hand-in/1", "of 24"),
    ("leena.varga.moor", "/work", "to do"),
    ("leena.varga.moor", "/sheet/1", "valves complete"),
    ("tove", "/methods/12", "cover every valve"),
    ("tove", "/engines/new", "A new engine"),
    ("tove", "/engines/12/edit", "Nothing wrong"),
    ("tove", "/bench/1?view=overlap", "of overlap: from"),
    ("tove", "/bench/1?view=clearance", "Within the spec"),
    ("tove", "/bench/5?view=section", "gap drawn"),
    ("tove", "/bench/11?stroke=hidden", "On which stroke"),
    ("tove", "/route/12?method=maker-chart&reading=yes&adjuster=yes&qr=yes", "to the Bench"),
    ("tove", "/classes/1/drills", "Drills"),
    ("leena.varga.moor", "/drill/1", "Ten questions for me"),
    ("leena.varga.moor", "/bench/16", "turn 360°"),
    ("tove", "/school", "Rolf Amberg"),
    ("tove", "/me", "A passcode of your own"),
    ("tove", "/classes/1/practice", "Set a practice engine"),
    ("tove", "/study/2", "Analysis of variance"),
    ("tove", "/board/1/rubric", "Weights"),
    ("tove", "/board/1/take-in", "Paper"),
    ("tove", "/progress/1/3", "Skills"),
    ("leena.varga.moor", "/shims/9", "Measured"),
    ("tove", "/lessons", "Hold it"),
    ("tove", "/help/instructors/a-day-with-two-lessons", "The day before"),
    ("leena.varga.moor", "/help/words", "The round back of the cam"),
    ("tove", "/lessons/1", "Take out"),
    ("tove", "/lesson/1?class=1&step=2", "May be set here"),
    ("tove", "/lesson/1/notes?class=1", "Next"),
    ("tove", "/ask/1", "Nothing asked yet"),
    ("tove", "/ask-here/1?at=40", "Back to the Bench"),
    ("tove", "/classes/1/today", "What came in"),
    ("leena.varga.moor", "/today", "Put my hand up"),
]
NARROW: ViewportSize = {"width": 320, "height": 640}
"""What is left of 1280 by 200 per cent of zooming, and more (WCAG 1.4.10: 320 px)."""


@pytest.mark.parametrize(("who", "path", "text"), PLACES, ids=[place[1] for place in PLACES])
def test_every_place_is_accessible_and_fits(look_as, who, path, text):
    page = look_as(who, path)
    page.get_by_text(text).first.wait_for()
    for size in (DESK, PHONE):
        page.set_viewport_size(size)
        assert axe_faults(page) == [], size
        assert fits(page), size
    page.set_viewport_size(NARROW)
    assert fits(page), NARROW


def fits(page: Page) -> bool:
    """Whether nothing but a table in itself is scrolled sideways, once drawings that measure their
    room have done so."""
    root = "document.documentElement"
    for _ in range(20):
        if page.evaluate(f"{root}.scrollWidth <= {root}.clientWidth"):
            return True
        page.wait_for_timeout(150)
    return False


PROJECTED = (
    "/bench/1?room=shop",
    "/bench/1?view=overlap&room=shop",
    "/bench/1?view=clearance&room=shop",
    "/bench/2?room=shop",
    "/route/1?room=shop",
    "/methods/1?room=shop",
    "/shims/9?room=shop",
)
PROJECTORS: tuple[ViewportSize, ...] = (
    {"width": 1024, "height": 768},
    {"width": 1920, "height": 1080},
)


@pytest.mark.parametrize("path", PROJECTED)
def test_what_is_projected_is_dark_legible_and_fits(look_as, path):
    page = look_as("tove", path)
    page.locator("main h1, main h2").first.wait_for()
    for size in PROJECTORS:
        page.set_viewport_size(size)
        assert axe_faults(page) == [], size
        assert fits(page), size
        dark = page.evaluate("getComputedStyle(document.body).backgroundColor")
        assert dark == "rgb(18, 23, 26)"


def test_the_sign_in_page_is_accessible(open_page):
    page = open_page("/")
    page.get_by_label("Passcode").wait_for()
    assert axe_faults(page) == []


TOUCH_PLACES = [
    "/sheet/1",
    "/bench/1",
    "/bench/1?view=overlap",
    "/bench/1?view=clearance",
    "/bench/11?stroke=hidden",
    "/drill/1",
    "/methods/12",
]
# A word within a sentence is as high as its line (WCAG 2.2, 2.5.8, exception "Inline").
SMALL_TARGETS = """() => [...document.querySelectorAll(
    'button:not(.term), .choice label, a.button, select, .rail a, .tick-list label, .as-on-engine')]
  .filter(e => e.checkVisibility())
  .map(e => [e.textContent.trim() || e.ariaLabel, e.getBoundingClientRect()])
  .filter(([, box]) => box.height < 44 || box.width < 44).map(([text]) => text)"""


@pytest.mark.parametrize("path", TOUCH_PLACES)
def test_touch_targets_are_large_enough(look_as, path):
    page = look_as("leena.varga.moor", path, phone=True)
    page.locator("main .button").first.wait_for()
    assert page.evaluate(SMALL_TARGETS) == []


def test_scripts_stay_small(chromium, server):
    """Each place has a limit of its own, gzipped (docs/benchmarks.md)."""
    heavy = [weight for weight in script_weights(chromium, server) if weight.kb > weight.limit_kb]
    assert heavy == []


def test_every_method_is_on_the_route_card(page_as):
    page = page_as("tove", "/route/1")
    chooser = page.get_by_label("Method of sequence")
    expect(chooser.get_by_role("option")).to_have_count(9)
    for method, words in [
        ("companion-overlap", "rocks in overlap: set cylinder 1"),
        ("fewest-stops", "Every valve is set once, 2 stops"),
        ("maker-chart", "The engine file gives no maker's chart."),
    ]:
        chooser.select_option(method)
        expect(page.get_by_text(words).first).to_be_visible()
    # The pump's cam lies in the block: nobody sees a lobe there.
    expect(chooser.get_by_role("option", name="Lobe away")).to_be_disabled()
    page.goto("/route/19")
    chooser.select_option("lobe-away")
    expect(page.get_by_text("the lobe of valve 2 points straight away").first).to_be_visible()


def shown_deg(page):
    """Where the crank stands, as the ribbon tells it."""
    return float(page.get_by_role("slider").get_attribute("aria-valuenow"))


def axis_of(cut):
    """Where the crank's axis, the origin of the drawing, lies on the page."""
    return cut.evaluate(
        "svg => { const m = svg.getScreenCTM(); return [m.e, m.f]; }",
    )


def test_the_section_is_dragged_by_mouse_touch_and_keys(page_as):
    page = page_as("tove", "/bench/5?view=section&at=0")
    cut = page.get_by_role("img", name="The cylinder cut open")
    # The throw stands straight up from the crank's axis.
    x, y = axis_of(cut)
    page.mouse.move(x, y - 60)
    page.mouse.down()
    page.mouse.move(x + 60, y, steps=12)
    page.mouse.up()
    expect(page.get_by_text(re.compile(r"Cylinder 1: .* past firing TDC, power"))).to_be_visible()
    turned = shown_deg(page)
    assert 80 < turned < 100
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("slider")).not_to_have_attribute("aria-valuenow", str(turned))
    # Everything else followed: the cam of the other cylinder, the verdict, the wheel.
    page.get_by_role("region", name="Section").get_by_text("2", exact=True).click()
    expect(page.get_by_role("heading", name="Section, cylinder 2")).to_be_visible()
    page.reload()
    expect(page.get_by_role("heading", name="Section, cylinder 2")).to_be_visible()
    phone = page_as("leena.varga.moor", "/bench/5?view=section&at=0", phone=True)
    cut = phone.get_by_role("img", name="The cylinder cut open")
    cut.scroll_into_view_if_needed()
    x, y = axis_of(cut)
    finger = phone.context.new_cdp_session(phone)
    for kind, at in (
        ("touchStart", (x, y - 50)),
        ("touchMove", (x + 35, y - 35)),
        ("touchMove", (x + 50, y)),
    ):
        points = [{"x": at[0], "y": at[1]}]
        finger.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})
    finger.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})
    expect(phone.get_by_text(re.compile(r"past firing TDC, power"))).to_be_visible()
    assert shown_deg(phone) > 30
    assert axe_faults(phone) == []
    assert fits(phone)
