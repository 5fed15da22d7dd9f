"""One student, two devices, a network that comes and goes: nothing that was written is lost."""

import re

import pytest
from playwright.sync_api import Page, expect

SHEET = "Set it right, stand 3"


def open_sheet(page: Page) -> Page:
    page.get_by_role("link", name=re.compile(SHEET)).click()
    expect(page.get_by_label("Reading of valve 1", exact=True)).to_be_visible()
    return page


def reading(page: Page, valve: int):
    return page.get_by_label(f"Reading of valve {valve}", exact=True)


def saved(page: Page) -> None:
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()


@pytest.fixture
def devices(page_as):
    """A phone and a tablet, both with the sheet open."""
    return [
        open_sheet(page_as("leena.varga.moor", "/work", phone=phone)) for phone in (True, False)
    ]


def test_two_devices_on_one_sheet(devices):
    phone, tablet = devices
    reading(phone, 1).fill("0.31")
    saved(phone)
    reading(tablet, 2).fill("0,26")
    saved(tablet)
    # The tablet's save brought what the phone wrote.
    expect(reading(tablet, 1)).to_have_value("0.31")
    # The phone does not know of the tablet's valve 2 yet, and writes another figure there.
    reading(phone, 2).fill("0.29")
    clash = phone.get_by_text(re.compile("Another device wrote 0,26 mm as the gap"))
    expect(clash).to_be_visible()
    expect(reading(phone, 2)).to_have_value("0,26")
    phone.get_by_role("button", name="Write 0.29 mm").tap()
    expect(reading(phone, 2)).to_have_value("0.29")
    saved(phone)
    tablet.reload()
    expect(reading(tablet, 1)).to_have_value("0.31")
    expect(reading(tablet, 2)).to_have_value("0.29")


def test_what_waits_goes_by_itself_when_the_network_is_back(devices):
    phone, tablet = devices
    phone.context.set_offline(True)
    reading(phone, 3).fill("0.19")
    expect(phone.get_by_text("Waiting for the network; kept on this device")).to_be_visible()
    expect(phone.get_by_text("Saved", exact=True)).to_be_hidden()
    phone.context.set_offline(False)
    saved(phone)
    tablet.reload()
    expect(reading(tablet, 3)).to_have_value("0.19")


def test_a_session_that_ended_while_typing(server, devices):
    phone, tablet = devices
    phone.context.clear_cookies(name="sessionid")
    reading(phone, 5).fill("0.42")
    again = phone.get_by_role("dialog", name="Sign in again")
    expect(again).to_be_visible()
    again.get_by_label("Passcode").fill(server.passcodes["leena.varga.moor"])
    again.get_by_role("button", name="Sign in").tap()
    expect(again).to_be_hidden()
    saved(phone)
    expect(reading(phone, 5)).to_have_value("0.42")
    tablet.reload()
    expect(reading(tablet, 5)).to_have_value("0.42")


def test_what_could_not_be_sent_is_there_when_the_page_comes_back(devices):
    phone, _ = devices
    phone.route("**/draft", lambda route: route.abort())
    reading(phone, 4).fill("0.36")
    expect(phone.get_by_text("Waiting for the network; kept on this device")).to_be_visible()
    phone.unroute("**/draft")
    phone.reload()
    expect(reading(phone, 4)).to_have_value("0.36")
    saved(phone)


def test_a_long_form_goes_on_at_another_desk(page_as):
    hall, office = (page_as("tove", "/board/1/rubric") for _ in range(2))
    with hall.expect_response("**/api/long-forms/rubric-*") as sent:
        hall.get_by_label("Weight of Reading").fill("7,5")
    assert sent.value.ok
    office.reload()
    expect(office.get_by_label("Weight of Reading")).to_have_value("7,5")
    # Both go on before either has heard of the other.
    with office.expect_response(lambda r: r.request.method == "PUT" and r.ok):
        office.get_by_label("Weight of Verdict").fill("2")
    hall.get_by_label("Weight of Verdict").fill("3")
    clash = hall.get_by_text("Weight of verdict: another device has 2; here it is 3.")
    expect(clash).to_be_visible()
    hall.get_by_role("button", name="Take the other").click()
    expect(hall.get_by_label("Weight of Verdict")).to_have_value("2")
    expect(hall.get_by_label("Weight of Reading")).to_have_value("7,5")
    # Given up in one place, it is gone in the other.
    hall.get_by_role("button", name="As it is saved").click()
    expect(hall.get_by_label("Weight of Reading")).not_to_have_value("7,5")
    office.reload()
    expect(office.get_by_label("Weight of Reading")).not_to_have_value("7,5")
