"""Practice runs as students do them: a whole one by keys, one by touch, and the debrief."""

import re

from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import axe_faults, still_box


def begin(page: Page, title: str) -> None:
    row = page.locator(".work-row", has_text=title)
    row.get_by_role("button").click()
    expect(page.get_by_role("heading", name="Notepad")).to_be_visible()
    # A part that still loads hides the page for a moment, and keys with it.
    page.wait_for_load_state("networkidle")


def said(page: Page) -> Locator:
    """What was noticed last."""
    return page.get_by_label("What happened").get_by_role("listitem").first


def keys(page: Page, pressed: str, says: str) -> None:
    page.keyboard.press(pressed)
    expect(said(page)).to_contain_text(re.compile(says))


def close_up(page: Page, turning_off: str = "Turning tool off the crank nut") -> None:
    for name in ("Count leaves and tools", turning_off, "Cover on"):
        page.get_by_role("button", name=name).press("Enter")
    expect(said(page)).to_contain_text("The cover is on")
    page.get_by_role("button", name="First start").press("Enter")
    page.get_by_role("button", name="Start it").press("Enter")
    page.get_by_role("link", name="See what happened").press("Enter")


def test_a_whole_run_by_keys(page_as):
    page = page_as("marit.oskarsen", "/work")
    begin(page, "The pump, on your own")
    keys(page, "m", "mark . is at the pointer")
    keys(page, "o", "Rocked on")
    keys(page, "v", "Rocked on")
    expect(page.get_by_role("button", name=re.compile("^valve 2,"), pressed=True)).to_be_visible()
    keys(page, "w", "Rocker 2")
    keys(page, "f", "valve 2: 0.25 mm")
    expect(page.get_by_test_id("feel")).to_contain_text(re.compile("it is in|it stays out"))
    keys(page, "]", "0.25 mm")
    keys(page, "f", "0.26 mm")
    keys(page, "l", "lock nut of valve 2 is loose")
    keys(page, "s", "until the 0.26 mm drags")
    keys(page, "Shift+L", "tight, by hand")
    keys(page, "d", "marked as done")
    page.get_by_label("After reading of valve 2").fill("0,26")
    page.keyboard.press("Enter")
    expect(said(page)).to_contain_text("Written down")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog").get_by_text("push the leaf in")).to_be_visible()
    page.keyboard.press("Escape")
    assert axe_faults(page) == []
    page.get_by_role("radio", name="Close up").focus()
    page.keyboard.press("Space")
    close_up(page)
    expect(page.get_by_role("heading", name="First start")).to_be_visible()
    expect(page.get_by_text("Planted:")).to_be_visible()
    expect(page.get_by_text("valve receding into its seat (valve 5)")).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("^2 .*0,26"))).to_be_visible()
    assert axe_faults(page) == []


def test_a_run_by_touch_goes_on_after_the_browser_was_closed(page_as):
    page = page_as("pim.ostrander", "/work", phone=True)
    begin(page, "The pump, shown")
    step = page.get_by_role("region", name="Next step")
    # The first step is to look at the pads; the next one is about a valve.
    step.get_by_role("button", name="Show me").tap()
    expect(said(page)).to_contain_text("pad")
    step.get_by_role("button", name="valve").first.tap()
    meaning = page.get_by_role("dialog", name="valve")
    expect(meaning).to_contain_text("Lets air into the cylinder")
    meaning.get_by_role("button", name="Back").tap()
    page.get_by_role("button", name=re.compile("^valve 4,")).tap()
    pad = page.get_by_role("img", name="Gap of valve 4")
    box = still_box(pad)
    # A finger that pushes the leaf in; Chromium makes touch of it where the page has touch.
    page.mouse.move(box["x"] + 20, box["y"] + 60)
    page.mouse.down()
    page.mouse.move(box["x"] + 150, box["y"] + 62, steps=8)
    page.mouse.up()
    question = page.get_by_role("button", name="Do it all the same")
    felt = page.get_by_test_id("feel")
    expect(
        question.or_(felt.filter(has_text=re.compile("free|drag|tight|does not")))
    ).to_be_visible()
    if question.is_visible():
        question.tap()
    expect(said(page)).to_contain_text("valve 4")
    page.get_by_text("Turn", exact=True).tap()
    page.get_by_role("button", name="+10°").tap()
    expect(said(page)).to_contain_text("Turned 10° on")
    width = page.evaluate("document.documentElement.clientWidth")
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    small = page.evaluate(
        """() => [...document.querySelectorAll('.practice button:not(.term)')]
          .filter((b) => b.offsetParent && b.getBoundingClientRect().height < 43.5)
          .map((b) => b.textContent)"""
    )
    assert small == []
    page.goto("/work")
    page.locator(".work-row", has_text="The pump, shown").get_by_role("button", name="Go on").tap()
    expect(said(page)).to_contain_text("Turned 10° on")


def test_a_shim_changed_and_the_worn_stamp_found_out(page_as):
    page = page_as("ravi.tannock", "/work")
    begin(page, "Shims of the cable winch")
    page.get_by_role("button", name=re.compile("^valve 4,")).click()
    page.get_by_text("Turn", exact=True).click()
    page.get_by_label("Degrees to turn").fill("144")
    page.get_by_text("Adjust", exact=True).click()
    take = page.get_by_role("button", name="Take the shim out")
    for _ in range(5):
        take.click()
        question = page.get_by_role("button", name="Do it all the same")
        expect(question).to_be_visible()
        question.click()
        expect(question).to_be_hidden()
        out = said(page).get_by_text("is out and lies")
        pressed = page.get_by_text("The lobe presses on valve 4")
        expect(out.or_(pressed)).to_be_visible()
        if out.is_visible():
            break
        page.get_by_text("Turn", exact=True).click()
        page.get_by_role("button", name="Turn so far").click()
        expect(said(page)).to_contain_text("Turned")
        page.get_by_text("Adjust", exact=True).click()
    page.get_by_role("button", name="Read the stamp").click()
    expect(said(page)).to_contain_text("worn off")
    page.get_by_role("button", name="Micrometer", exact=True).click()
    expect(said(page)).to_contain_text("micrometer shows")
    page.get_by_label("Shim to fit, in mm").fill("9,99")
    page.get_by_role("button", name="Fit this shim").click()
    expect(page.get_by_role("alert")).to_contain_text("No shim of 9.99 mm")
    page.get_by_label("Shim to fit, in mm").fill("3,65")
    page.get_by_role("button", name="Fit this shim").click()
    expect(said(page)).to_contain_text("A shim of 3.65 mm is in at valve 4")


def pick(page: Page, field: Locator, typed: str, offered: str) -> None:
    """From a list that is searched, once it is there."""
    field.fill(typed)
    expect(page.get_by_title(offered, exact=True).first).to_be_visible()
    field.press("Enter")


def test_the_instructor_sets_an_engine_and_reads_a_debrief(page_as):
    page = page_as("tove", "/classes/1/practice")
    page.get_by_role("button", name="Set a practice engine").click()
    page.get_by_label("Title").fill("Two faults to find")
    pick(page, page.get_by_role("combobox", name="Engine"), "Tarnholt", "Tarnholt P4 fire pump")
    pick(page, page.get_by_label("On valve"), "3, intake", "3, intake, cylinder 2")
    expect(page.get_by_role("button", name="Take out wrongly set")).to_be_visible()
    page.get_by_role("button", name="Set this practice engine").click()
    row = page.get_by_role("row", name=re.compile("Two faults to find"))
    expect(row).to_contain_text("Prompted")
    student = page_as("dilys.wren", "/work")
    begin(student, "Two faults to find")
    student.keyboard.press("o")
    expect(said(student)).to_contain_text("Rocked on")
    row.get_by_role("button", name="runs").click()
    page.get_by_role("row", name=re.compile("Dilys Wren")).get_by_role("link").click()
    expect(page.get_by_text("If it were started now")).to_be_visible()
    expect(page.get_by_text("Planted: wrongly set (valve 3).")).to_be_visible()


def test_a_dead_network_loses_nothing(page_as):
    page = page_as("tadeo.quill", "/work")
    begin(page, "The pump, on your own")
    page.route("**/actions", lambda route: route.abort())
    page.keyboard.press("o")
    expect(page.get_by_text("cannot be reached")).to_be_visible()
    page.unroute("**/actions")
    page.get_by_role("button", name="Send it again").click()
    expect(said(page)).to_contain_text("Rocked on")


def test_shims_worked_out_moved_and_ordered(page_as):
    page = page_as("ines.falkner", "/engines")
    # Another test may have put a copy of it on the shelf.
    page.locator("a[href='/shims/9']").click()
    for valve, fitted, measured in ((1, "3,60", "0,18"), (2, "3,50", "0,28"), (3, "3,40", "0,85")):
        page.get_by_label(f"fitted at valve {valve}", exact=True).fill(fitted)
        page.get_by_label(f"measured at valve {valve}", exact=True).fill(measured)
    page.get_by_role("button", name="Work it out").press("Enter")
    expect(page.get_by_text("3.600 fitted + 0.180 measured")).to_be_visible()
    expect(page.get_by_role("heading", name=re.compile("to buy"))).to_be_visible()
    expect(page.get_by_role("table").first).to_contain_text("gap")
    assert axe_faults(page) == []
    page.get_by_label("measured at valve 1", exact=True).fill("soft")
    page.get_by_role("button", name="Work it out").click()
    expect(page.get_by_role("alert")).to_contain_text("“soft” is not a number")
    pages = page.pdf(landscape=True, prefer_css_page_size=True).count(b"/Type /Page\n")
    assert 1 <= pages <= 6
