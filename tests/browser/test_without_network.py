"""A student's own pages without a network: they open from the device, what is handed in waits and
is applied once, and nothing private stays behind."""

import re

import pytest
from playwright.sync_api import Page, expect

NAME = "leena.varga.moor"
SHEET = "Set it right, stand 3"
TRIED_MS = 6000
"""Longer than a page asks again by itself (web/src/api/again.ts), and what it knows is written."""


@pytest.fixture
def phone(page_as) -> Page:
    """A phone that has been to Today, its sheets and one sheet, and keeps the application."""
    page = page_as(NAME, "/today", phone=True, keeps=True)
    expect(page.get_by_role("heading", name="Today")).to_be_visible()
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.wait_for_function("() => navigator.serviceWorker.controller !== null")
    page.goto("/work")
    expect(page.get_by_role("heading", name="Practice runs")).to_be_visible()
    page.get_by_role("link", name=re.compile(SHEET)).click()
    expect(reading(page, 1)).to_be_visible()
    kept(page, "The pump, on your own")
    # This very sheet: neither its line in a list, nor another that is kept ahead.
    sheet_id = page.url.rpartition("/")[2]
    kept(page, f'"queryKey":["sheets",{sheet_id}]')
    return page


def reading(page: Page, valve: int):
    return page.get_by_label(f"Reading of valve {valve}", exact=True)


def kept(page: Page, text: str) -> None:
    """What was shown is on the device a moment later."""
    page.wait_for_function(
        "text => (localStorage.getItem('edrix-own') ?? '').includes(text)", arg=text
    )


def fill(page: Page) -> None:
    for valve in range(1, 9):
        reading(page, valve).fill("0.30")
        line = page.get_by_role("group", name=re.compile(rf"Valve {valve}\b"))
        line.get_by_role("combobox").first.select_option(index=1)
        line.get_by_text("Within", exact=True).tap()


def hand_in(page: Page) -> None:
    page.get_by_role("button", name="Hand in").tap()
    sure = page.get_by_role("button", name="It is right, hand in")
    marks = page.get_by_text("Waits to be handed in")
    expect(sure.or_(marks).first).to_be_visible()
    if sure.is_visible():
        sure.tap()


def test_own_pages_open_from_the_device(phone):
    phone.context.set_offline(True)
    for place, heading in (("/today", "Today"), ("/work", "My sheets")):
        phone.goto(place)
        expect(phone.get_by_role("heading", name=heading, exact=True)).to_be_visible()
    expect(phone.get_by_text("The pump, on your own").first).to_be_visible()
    phone.get_by_role("link", name=re.compile(SHEET)).click()
    phone.reload()
    expect(reading(phone, 1)).to_be_visible()
    # Nor is it gone once the page has tried in vain.
    phone.wait_for_timeout(TRIED_MS)
    phone.reload()
    expect(reading(phone, 1)).to_be_visible()
    phone.goto("/today")
    expect(phone.get_by_role("heading", name="Today")).to_be_visible()
    # Its own type, not a stand-in's.
    assert phone.evaluate("document.fonts.ready.then(() => document.fonts.check('16px Barlow'))")


def test_the_guide_opens_without_a_network(phone):
    phone.goto("/help/students/a-reading-sheet")
    expect(phone.get_by_role("heading", name="A reading sheet")).to_be_visible()
    phone.context.set_offline(True)
    phone.goto("/help/students/today")
    picture = phone.get_by_role("img", name="Today on a student's page")
    expect(picture).to_be_visible()
    assert picture.evaluate("async img => { await img.decode(); return img.naturalWidth; }") > 0
    phone.goto("/help/words")
    expect(phone.get_by_text("The round back of the cam").first).to_be_visible()


def test_what_comes_next_is_kept_before_it_is_opened(page_as):
    """Today alone was looked at; then the network went."""
    page = page_as("suvi.arnholt", "/today", phone=True, keeps=True)
    expect(page.get_by_role("heading", name="Today")).to_be_visible()
    page.wait_for_function("() => navigator.serviceWorker.controller !== null")
    kept(page, '"practice"]')
    sheet = page.locator("a.work-row[href^='/sheet/']").first
    sheet_id = (sheet.get_attribute("href") or "").rpartition("/")[2]
    kept(page, f'"queryKey":["sheets",{sheet_id}]')
    page.context.set_offline(True)
    sheet.click()
    expect(reading(page, 1)).to_be_visible()
    page.get_by_role("link", name="My sheets").click()
    expect(page.get_by_role("heading", name="Practice runs")).to_be_visible()


def test_nothing_private_stays_after_signing_out(phone):
    phone.get_by_role("button", name="Sign out").tap()
    expect(phone.get_by_role("button", name="Sign in")).to_be_visible()
    phone.wait_for_timeout(1500)
    left = phone.evaluate("JSON.stringify(localStorage)")
    assert SHEET not in left
    assert "Leena" not in left
    caches = phone.evaluate(
        """async () => {
          const found = [];
          for (const name of await caches.keys())
            for (const request of await (await caches.open(name)).keys())
              found.push(new URL(request.url).pathname);
          return found;
        }"""
    )
    assert caches
    assert all(path in ("/", "/favicon.svg") or path.startswith("/assets/") for path in caches)
    phone.context.set_offline(True)
    phone.goto("/work")
    expect(phone.get_by_text("The server cannot be reached")).to_be_visible()


def test_what_is_handed_in_without_a_network_waits_and_is_applied_once(phone, page_as):
    tablet = page_as(NAME, "/work", keeps=True)
    tablet.get_by_role("link", name=re.compile(SHEET)).click()
    expect(reading(tablet, 1)).to_be_visible()
    phone.context.set_offline(True)
    fill(phone)
    hand_in(phone)
    expect(phone.get_by_text("Waits to be handed in")).to_be_visible()
    # Closed and opened again, still without a network: it waits on.
    phone.reload()
    expect(phone.get_by_text("Waits to be handed in")).to_be_visible()
    expect(reading(phone, 8)).to_have_value("0.30")
    for place in ("My sheets", "Today"):
        phone.get_by_role("link", name=place, exact=True).click()
        expect(phone.get_by_role("link", name=re.compile(SHEET))).to_contain_text("waits")
        expect(
            phone.get_by_text("The network is away. This is what was last known.")
        ).to_be_visible()
    phone.context.set_offline(False)
    later = phone.get_by_role("status").filter(has_text=SHEET)
    expect(later).to_contain_text("not handed in yet: something is asked first")
    later.get_by_role("link", name="To the sheet").click()
    # Pressed with the network, asked and answered where it is gone again.
    phone.get_by_role("button", name="Hand in").tap()
    sure = phone.get_by_role("button", name="It is right, hand in")
    expect(sure).to_be_visible()
    phone.context.set_offline(True)
    sure.tap()
    expect(phone.get_by_text("Waits to be handed in")).to_be_visible()
    phone.get_by_role("link", name="Today").click()
    phone.context.set_offline(False)
    expect(later).to_contain_text("handed in now")
    later.get_by_role("link", name="See your marks").click()
    expect(phone.get_by_text("of 32")).to_be_visible()
    # The other device had it open and comes later: the same marks, and no second sheet.
    tablet.reload()
    expect(tablet.get_by_text("of 32")).to_be_visible()
