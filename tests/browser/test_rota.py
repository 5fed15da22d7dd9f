"""A week of the workshop: planned, planned anew on Monday, and on Friday what to open and order."""

import re
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from playwright.sync_api import expect
from tzlocal import get_localzone_name

from tests.browser.conftest import axe_faults

pytestmark = pytest.mark.usefixtures("worker")

PATIENCE_MS = 90_000
"""A plan takes some seconds, and a busy machine several times as long."""


def monday(weeks=2):
    today = datetime.now(ZoneInfo(get_localzone_name())).date()
    return today + timedelta(days=7 * weeks - today.weekday())


def choose(page, label, option):
    page.get_by_role("combobox", name=label).click()
    page.get_by_title(option, exact=True).last.click()


def open_tab(page, name):
    page.get_by_role("tab", name=name).click()


def saved(page):
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("button", name="Save", exact=True)).to_have_count(0)


@pytest.fixture
def week(page_as):
    """A rota of the week after next, with three tasks, saved but not planned."""
    page = page_as("tove", "/classes/1/rotas")
    page.get_by_role("button", name="New rota").click()
    page.get_by_role("textbox", name="Name").fill("Stands and sheets")
    page.get_by_role("button", name="Make it").click()
    page.get_by_label("First day").fill(f"{monday():%Y-%m-%d}")
    page.get_by_label("Last day").fill(f"{monday() + timedelta(days=2):%Y-%m-%d}")
    page.get_by_label("Slots of a day").fill("08:00-09:45, 10:00-11:45, 13:00-14:45")
    page.get_by_role("button", name="Add 9 slots").click()
    for stand in ("Stand 1", "Stand 2", "Stand 3"):
        page.get_by_role("checkbox", name=re.compile(f"^{stand} ")).check()
    page.get_by_label("Tables, for work without a stand").fill("2")
    page.get_by_label("Tables, for work without a stand").press("Tab")
    for number, (title, places) in enumerate(
        {
            "Cold clearances": ("Stand 1", "Stand 2"),
            "Set and check": ("Stand 2", "Stand 3"),
            "Firing orders": ("Table 1", "Table 2"),
        }.items(),
        start=1,
    ):
        page.get_by_role("button", name="Add a task").click()
        task = page.get_by_role("group", name=f"Task {number}")
        for place in places:
            task.get_by_role("checkbox", name=place).check()
        task.get_by_label(f"Title of Task {number}").fill(title)
    saved(page)
    open_tab(page, "The week")
    return page


def test_a_week_is_planned_planned_anew_and_told(week, page_as):
    week.get_by_role("button", name="Plan it").click()
    expect(week.get_by_text("everybody has a place")).to_be_visible(timeout=PATIENCE_MS)
    assert axe_faults(week) == []
    week.get_by_role("button", name="Post it to the class").click()
    expect(week.get_by_role("button", name="Take it down")).to_be_visible()

    # Monday: an engine is out of order, and somebody is ill.
    hall = page_as("tove", "/stands")
    hall.get_by_role("link", name="Stand 2", exact=True).click()
    hall.get_by_role("button", name="Change what is said of it").click()
    hall.get_by_label("Out of order, and why").fill("cracked rocker")
    hall.get_by_role("button", name="Keep it").click()
    expect(hall.get_by_text("cracked rocker").first).to_be_visible()
    open_tab(week, "Who is away")
    for clock in ("08:00", "10:00", "13:00"):
        day = f"{monday():%A} {monday().day} {monday():%B}"
        week.get_by_role("button", name=f"Bo Hallgrim away {day} {clock}").click()
    assert axe_faults(week) == []
    saved(week)
    open_tab(week, "The week")
    expect(week.get_by_text("broken by the bookings as they stand")).to_be_visible()
    expect(week.get_by_text("out of order: cracked rocker").first).to_be_visible()
    week.get_by_role("button", name="Plan anew with few changes").click()
    keep = week.get_by_role("button", name="Keep this plan")
    expect(keep).to_be_visible(timeout=PATIENCE_MS)
    changes = week.locator("table.changes tbody tr")
    expect(changes.first).to_contain_text("Stand")
    expect(week.get_by_text(re.compile(r"\d+ places? would change"))).to_be_visible()
    assert axe_faults(week) == []
    keep.click()
    expect(week.get_by_text("broken by the bookings as they stand")).to_have_count(0)
    expect(week.get_by_role("button", name="Back to the plan before")).to_be_visible()

    # Friday: which engine next, and what to order.
    hall.goto("/stands")
    hall.get_by_role("link", name="Stand 2", exact=True).click()
    expect(hall.get_by_text(re.compile(r"Next look: .*exhaust 8 first"))).to_be_visible()
    hall.goto("/store")
    expect(hall.get_by_role("region", name="Short")).to_contain_text("of 3.25 mm")

    # A student finds it on the phone, and takes it along.
    phone = page_as("marit.oskarsen", "/work", phone=True)
    expect(phone.get_by_role("heading", name="My rota")).to_be_visible()
    assert axe_faults(phone) == []
    phone.get_by_role("link", name="Put it into your own calendar").click()
    phone.get_by_role("button", name="Make an address").click()
    expect(phone.get_by_text(re.compile(r"/api/calendar/[\w-]{30,}\.ics"))).to_be_visible()


def test_a_booking_is_moved_by_hand(page_as):
    page = page_as("tove", "/rota/1/week")
    page.get_by_role("button", name=re.compile("^Table 1, .*Firing orders")).first.click()
    form = page.get_by_role("dialog")
    choose(page, "Place", "Stand 1")
    expect(form.get_by_text("Stand 1 is no stand for Firing orders")).to_be_visible()
    assert axe_faults(page) == []
    form.get_by_role("button", name="Book it all the same").click()
    expect(page.get_by_text("Stand 1 is no stand for Firing orders")).to_be_visible()
    # By keys: the cell is a button, and Escape leaves the form as it was.
    cell = page.get_by_role("button", name=re.compile("^Stand 1, .*Firing orders"))
    cell.focus()
    cell.press("Enter")
    expect(form.get_by_label("Slot")).to_be_visible()
    page.keyboard.press("Escape")
    expect(form).to_have_count(0)


def test_what_is_not_saved_is_kept_and_a_plan_waits_for_it(page_as):
    page = page_as("tove", "/rota/1/away")
    page.get_by_role("button", name=re.compile("Pim Ostrander away .* 08:00")).first.click()
    page.reload()
    expect(page.get_by_text("is kept on this device")).to_be_visible()
    open_tab(page, "The week")
    expect(page.get_by_role("button", name="Plan all of it anew")).to_be_disabled()
    page.get_by_role("button", name="Discard").click()
    expect(page.get_by_role("button", name="Plan all of it anew")).to_be_enabled()
