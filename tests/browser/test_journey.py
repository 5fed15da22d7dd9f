"""The whole journey: an instructor prepares, a student measures, both see marks."""

import csv
import io

from playwright.sync_api import Page, expect

from ops.browser import sign_in
from tests.browser.conftest import tick_all

KEY_MM = {1: "0.34", 2: "0.25", 3: "0.18", 4: "0.36", 5: "0.41", 6: "0.26", 7: "0.25", 8: "0.35"}
STOP = dict.fromkeys((1, 2, 3, 5), "Stop 1 0°") | dict.fromkeys((4, 6, 7, 8), "Stop 2 360°")
VERDICT = dict.fromkeys((1, 2, 4, 6, 7, 8), "Within") | {3: "Tight", 5: "Loose"}


def prepare_class(page: Page) -> dict[str, str]:
    """Makes a class with two pasted students, a stand with its key, and a sheet."""
    page.get_by_role("link", name="Classes").click()
    page.get_by_role("button", name="New class").click()
    page.get_by_label("Name", exact=True).fill("Night shift, autumn")
    page.get_by_role("button", name="Make class").click()
    page.get_by_role("button", name="Add students").click()
    page.get_by_label("Names").fill("Nørby, Astrid\nOle Vik\tole.vik")
    expect(page.get_by_role("table", name="How the list is read")).to_contain_text("astrid.norby")
    page.get_by_role("button", name="Add 2 students").click()
    table = page.get_by_role("region", name="Passcodes").get_by_role("row")
    expect(table).to_have_count(2)
    passcodes = {}
    for row in table.all():
        name, passcode = row.get_by_role("cell").all_inner_texts()
        passcodes[name] = passcode
    # Another tab, and back: nothing is lost, and it is a list to print.
    page.get_by_role("tab", name="Stands and keys").click()
    page.get_by_role("tab", name="Students").click()
    expect(table).to_have_count(2)
    with page.expect_download() as slips:
        page.get_by_role("button", name="Slips to cut").click()
    assert slips.value.suggested_filename == "passcodes.pdf"
    page.get_by_role("button", name="I have them").click()
    page.get_by_role("button", name="Take them off the page").click()

    page.get_by_role("tab", name="Stands and keys").click()
    page.get_by_role("button", name="New stand").click()
    page.get_by_label("Name", exact=True).fill("Stand 7")
    page.get_by_role("combobox", name="Engine").fill("fire pump")
    page.get_by_title("Tarnholt P4 fire pump").click()
    page.get_by_role("button", name="Add stand").click()
    page.get_by_role("button", name="Enter the key").click()
    for valve, gap in KEY_MM.items():
        page.get_by_label(f"Gap of valve {valve}").fill(gap if valve != 3 else "")
    page.get_by_role("button", name="Save key").click()
    expect(page.get_by_role("alert")).to_contain_text("valve 3 has no gap")
    page.get_by_label("Gap of valve 3").fill(KEY_MM[3])
    page.get_by_role("button", name="Save key").click()
    expect(page.get_by_text("Key 1,")).to_be_visible()

    page.get_by_role("tab", name="Reading sheets").click()
    page.get_by_role("button", name="Set a sheet").click()
    page.get_by_label("Title").fill("Stand 7, first pass")
    page.get_by_role("combobox", name="Stand").click()
    page.get_by_title("Stand 7, Tarnholt P4 fire pump").click()
    page.get_by_role("button", name="Set this sheet").click()
    expect(page.get_by_role("link", name="Stand 7, first pass")).to_be_visible()
    return passcodes


def fill_sheet(page: Page) -> None:
    for valve, gap in KEY_MM.items():
        line = page.get_by_role("group", name=f"Valve {valve}", exact=True)
        line.get_by_label(f"Reading of valve {valve}").fill(gap)
        line.get_by_text(STOP[valve]).click()
        line.get_by_text(VERDICT[valve], exact=True).click()


def test_the_journey(page_as, open_page):
    tove = page_as("tove")
    passcodes = prepare_class(tove)

    phone = open_page("/", phone=True)
    sign_in(phone, "astrid.norby", passcodes["astrid.norby"])
    phone.get_by_role("link", name="Stand 7, first pass").click()
    tick_all(phone, "Before turning by hand")
    fill_sheet(phone)
    # A figure in thou, a decimal slip, and a valve read at the wrong stop.
    phone.get_by_label("Reading of valve 2").fill("10 thou")
    phone.get_by_label("Reading of valve 6").fill("2.6")
    phone.get_by_role("group", name="Valve 7", exact=True).get_by_text("Stop 1 0°").click()
    expect(phone.get_by_text("Saved", exact=True)).to_be_visible()
    phone.reload()
    expect(phone.get_by_label("Reading of valve 6")).to_have_value("2.6")

    tick_all(phone, "When you are done")
    phone.get_by_role("button", name="Hand in").click()
    dialog = phone.get_by_role("dialog", name="Once more before you hand in")
    expect(dialog).to_contain_text("10 times too large")
    dialog.get_by_role("button", name="Go back and look").click()
    expect(phone.get_by_label("Reading of valve 6")).to_be_focused()
    phone.get_by_label("Reading of valve 6").fill("0.26")
    # Two quick clicks make one hand-in.
    phone.get_by_role("button", name="Hand in").dblclick()
    expect(phone.get_by_text("23 of 24")).to_be_visible()
    expect(phone.get_by_text("held open by its lobe, where there is no gap")).to_be_visible()
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390

    tove.get_by_role("link", name="Stand 7, first pass").click()
    expect(tove.get_by_text("1 of 2 handed in")).to_be_visible()
    with tove.expect_download() as download:
        tove.get_by_role("link", name="Marks with reasons, CSV").click()
    text = download.value.path().read_text(encoding="utf-8-sig")
    rows = list(csv.DictReader(io.StringIO(text)))
    assert len(rows) == 8
    assert {row["student"] for row in rows} == {"Astrid Nørby"}
    assert [row["position_right"] for row in rows] == list("11111101")
    tove.get_by_role("link", name="Open sheet of Astrid Nørby").click()
    expect(tove.get_by_text("Isolation list ticked")).to_contain_text("closing list")
    expect(tove.get_by_text("Read 0.254 mm, key 0.25 mm: off by +0.004 mm")).to_be_visible()


def test_a_sheet_by_keyboard_alone(page_as):
    page = page_as("bo.hallgrim", "/work")
    page.get_by_role("link", name="First measuring, stand 3").focus()
    page.keyboard.press("Enter")
    page.get_by_label("Reading of valve 1").focus()
    for valve in range(1, 9):
        expect(page.get_by_label(f"Reading of valve {valve}")).to_be_focused()
        page.keyboard.type("0.33" if valve in (1, 4, 5, 8) else "0.25")
        for key in ("Tab", "Tab", "Space", "Tab", "Space", "ArrowRight", "Tab"):
            page.keyboard.press(key)
    expect(page.get_by_text("8 of 8")).to_be_visible()
    expect(page.get_by_role("button", name="Hand in")).to_be_focused()
    page.keyboard.press("Enter")
    # The lists were left unticked: asked about once, and no reason to refuse the figures.
    dialog = page.get_by_role("dialog", name="Once more before you hand in")
    expect(dialog).to_contain_text("Safety: the isolation list of this stand is not ticked")
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(page.get_by_text("of 24")).to_be_visible()


def test_bad_lines_are_marked_where_they_stand(page_as):
    page = page_as("ravi.tannock", "/work")
    page.get_by_role("link", name="First measuring, stand 3").click()
    page.get_by_label("Reading of valve 2").fill("a quarter")
    page.get_by_role("button", name="Hand in").click()
    field = page.get_by_label("Reading of valve 2")
    expect(field).to_have_attribute("aria-invalid", "true")
    expect(field).to_be_focused()
    expect(page.get_by_text("“a quarter” is not a length; give a number").first).to_be_visible()
    expect(field).to_have_value("a quarter")


def test_what_is_typed_survives_a_network_that_is_down(page_as):
    page = page_as("dilys.wren", "/work", phone=True)
    page.get_by_role("link", name="First measuring, stand 3").click()
    page.get_by_label("Reading of valve 4").wait_for()
    page.context.set_offline(True)
    page.get_by_label("Reading of valve 4").fill("0.37")
    expect(page.get_by_text("Waiting for the network; kept on this device")).to_be_visible()
    page.context.set_offline(False)
    page.reload()
    expect(page.get_by_label("Reading of valve 4")).to_have_value("0.37")


def test_a_wrong_passcode_is_told(open_page):
    page = open_page("/")
    page.get_by_label("Sign-in name").fill("tove")
    page.get_by_label("Passcode").fill("wrong")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Sign-in name or passcode is wrong")


def test_a_student_is_told_when_an_address_is_not_theirs(page_as):
    page = page_as("pim.ostrander", "/board/1")
    expect(page.get_by_role("alert")).to_contain_text("Only instructors of")
    page.goto("/sheet/999")
    expect(page.get_by_role("alert")).to_contain_text("There is no sheet 999 for you")
